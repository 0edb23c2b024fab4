import type { GreyPyramid } from "../../core/register/greyPyramid";
import { greyOf, pyramidFromBase } from "../../core/register/greyPyramid";
import type { EngineContext } from "../EngineContext";
import { allocateSamples } from "../tiles/RasterStore";
import { openSource } from "./sources";

/** The grey pyramid of a stored source, read in strips. */
export async function greyOfSource(ctx: EngineContext, sourceId: string): Promise<GreyPyramid> {
  const file = await openSource(ctx, sourceId);
  const { width, height, type } = file.spec;
  const base = new Uint16Array(width * height);
  const top = type === "u8" ? 255 : 65535;
  const rowsAtOnce = 256;
  const planes = [0, 1, 2].map(() => allocateSamples(type, width * rowsAtOnce));
  for (let y = 0; y < height; y += rowsAtOnce) {
    const n = width * Math.min(rowsAtOnce, height - y);
    planes.forEach((plane, c) => file.read(0, c, 0, y, width, n / width, plane));
    const [r, g, b] = planes;
    for (let i = 0, p = y * width; i < n; i++, p++) base[p] = greyOf(r[i], g[i], b[i], top);
  }
  return pyramidFromBase(width, height, base);
}
