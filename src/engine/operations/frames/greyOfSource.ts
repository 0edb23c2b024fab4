import type { GreyPyramid } from "../../../core/register/greyPyramid";
import { greyOf, pyramidFromBase } from "../../../core/register/greyPyramid";
import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { sharedU16 } from "../../../core/raster/sharedArrays";
import { IDENTITY } from "../../../core/geometry/matrix3";
import type { FrameRecord } from "../../../document/records/types";
import { pictureIdOf } from "../../../document/sourceIds";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { EngineContext } from "../../EngineContext";
import { SILENT } from "../../task";
import { openPlaced } from "./placeFrame";
import { allocateSamples, type RasterFile } from "../../tiles/RasterStore";
import { encoderOf } from "./encoder";
import { colorOf, openFrame, openSource } from "./sources";

/** The grey pyramid of a frame as shot. @param level from which it begins */
export async function greyOfSource(ctx: EngineContext, frame: Pick<FrameRecord, "sourceId" | "quarterTurns">, level = 0): Promise<GreyPyramid> {
  return greyOfFile(await openSource(ctx, pictureIdOf(frame)), await colorOf(ctx, frame.sourceId), level);
}

/** The grey pyramid of a frame with its lens undone, where its development knows it: what registration works on. @param level from which it begins */
export async function greyOfFrame(
  ctx: EngineContext,
  frame: Pick<FrameRecord, "sourceId" | "quarterTurns" | "width" | "height" | "development">,
  level = 0,
): Promise<GreyPyramid> {
  const { width, height, development } = frame;
  await openFrame(ctx, frame);
  const file = await openPlaced(ctx, { pictureId: pictureIdOf(frame), matrix: IDENTITY, lens: development.lens, width, height }, SILENT);
  return greyOfFile(file, await colorOf(ctx, frame.sourceId), level);
}

/** Read in strips. */
function greyOfFile(file: RasterFile, color: InputColor, level = 0): GreyPyramid {
  const { type } = file.spec;
  const { width, height } = sizeAtLevel(file.spec.width, file.spec.height, level);
  const base = sharedU16(width * height);
  const encode = encoderOf(color, type);
  const top = encode ? 1 : type === "u8" ? 255 : 65535;
  const rowsAtOnce = 256;
  const planes = [0, 1, 2].map(() => allocateSamples(type, width * rowsAtOnce));
  for (let y = 0; y < height; y += rowsAtOnce) {
    const n = width * Math.min(rowsAtOnce, height - y);
    planes.forEach((plane, c) => file.read(level, c, 0, y, width, n / width, plane));
    const [r, g, b] = planes;
    if (encode) for (let i = 0, p = y * width; i < n; i++, p++) base[p] = greyOf(encode(r[i]), encode(g[i]), encode(b[i]), top);
    else for (let i = 0, p = y * width; i < n; i++, p++) base[p] = greyOf(r[i], g[i], b[i], top);
  }
  return pyramidFromBase(width, height, base);
}
