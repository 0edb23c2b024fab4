import type { GreyPyramid } from "../../core/register/greyPyramid";
import { pyramidFromBase } from "../../core/register/greyPyramid";
import type { EngineContext } from "../EngineContext";
import { allocateSamples } from "../tiles/RasterStore";
import { openSource } from "./sources";

/** The grey pyramid of a stored source, read in strips. */
export async function greyOfSource(ctx: EngineContext, sourceId: string): Promise<GreyPyramid> {
  const file = await openSource(ctx, sourceId);
  const { width, height, type } = file.spec;
  const base = new Uint16Array(width * height);
  const scale = type === "u8" ? 257 / 4 : 1 / 4;
  const rowsAtOnce = 256;
  const planes = [0, 1, 2].map(() => allocateSamples(type, width * rowsAtOnce));
  for (let y = 0; y < height; y += rowsAtOnce) {
    const n = width * Math.min(rowsAtOnce, height - y);
    planes.forEach((plane, c) => file.read(0, c, 0, y, width, n / width, plane));
    const [r, g, b] = planes;
    for (let i = 0, p = y * width; i < n; i++, p++) base[p] = (r[i] + 2 * g[i] + b[i]) * scale + 0.5;
  }
  return pyramidFromBase(width, height, base);
}
