import { workingToLab, differenceCiede2000 } from "../../../core/color/colorDifference";
import { transform } from "../../../core/geometry/matrix3";
import { EDGE_RATIO, EVEN_RATIO, FEWEST_EVEN, findFringe, FRINGE_REACH, type FringeSample, type FringeStrip } from "../../../core/merge/findFringe";
import type { FringeFacts } from "../../../kinds/merges/fields";
import type { Scope } from "../../../kernels/Kernels";
import type { RasterFile } from "../../tiles/RasterStore";
import { each, type Planes } from "../frames/frameSamples";
import { SHARE_CELL } from "./shares";

/** How ΔE and px are kept in the raster of coloured lines. */
const DELTA_STEP = 1 / 4;
const WIDTH_STEP = 1 / 8;
const WORST = 6;
/** Worst places are at least this many cells apart. */
const APART = 24;

/** Sorts the samples of a strip in kernel memory and finds its coloured lines. */
export function fringeOf(
  scope: Scope,
  planes: Planes,
  luminance: readonly number[],
  strip: Pick<FringeStrip, "width" | "rows" | "from" | "to">,
): FringeSample[] {
  const { kernels } = scope;
  const { width, rows } = strip;
  const n = width * rows;
  const light = scope.floats(planes.length + 16);
  const [plain, kinds] = [scope.bytes(n + 16), scope.bytes(n + 16)];
  kernels.run("luminanceSamples", [...each(planes), scope.matrix(luminance), light], 0, Math.ceil(n / 4) * 4, 65536);
  kernels.run("edgeRows", [light, width, rows, EDGE_RATIO, EVEN_RATIO, plain], 0, rows);
  kernels.run("supportedEdgeRows", [plain, width, rows, FRINGE_REACH, FEWEST_EVEN, kinds], 0, rows);
  const [r, g, b] = each(planes).map((plane) => kernels.f32(plane, n));
  return findFringe({ ...strip, planes: [r, g, b], light: kernels.f32(light, n), kinds: kernels.u8(kinds, n) }, luminance);
}

/**
 * Notes coloured lines in cells: ΔE2000 from what the samples should be, at the light of a middle tone, and width.
 * @param from, to rows of the strip that are noted @param y0 the first of them in the picture @param raster two channels, u8, a sample a cell
 */
export function noteFringe(
  found: FringeSample[],
  { width, rows, from, to }: Pick<FringeStrip, "width" | "rows" | "from" | "to">,
  toWorking: readonly number[],
  y0: number,
  raster: RasterFile,
): void {
  const { width: columns } = raster.spec;
  const lines = Math.ceil((to - from) / SHARE_CELL);
  const [delta, wide] = [new Uint8Array(columns * lines), new Uint8Array(columns * lines)];
  const changed = new Uint8Array(found.length > 0 ? width * rows : 0);
  for (const { index } of found) changed[index] = 1;
  for (const { index, before, after } of found) {
    const x = index % width;
    const y = (index - x) / width - from;
    const cell = Math.floor(y / SHARE_CELL) * columns + Math.floor(x / SHARE_CELL);
    const scale = 0.3 / Math.max(1e-6, Math.max(...before));
    const [p, q] = [before, after].map((rgb) =>
      workingToLab(
        transform(
          toWorking,
          rgb.map((v) => v * scale),
        ) as [number, number, number],
      ),
    );
    delta[cell] = Math.max(delta[cell], Math.min(255, Math.round(differenceCiede2000(p, q) / DELTA_STEP)));
    wide[cell] = Math.max(wide[cell], Math.min(255, Math.round(thickness(changed, index, width) / WIDTH_STEP)));
  }
  raster.write(0, 0, y0 / SHARE_CELL, delta);
  raster.write(0, 1, y0 / SHARE_CELL, wide);
}

/** The shorter of the runs along the row and along the column through a sample, px. */
function thickness(on: Uint8Array, index: number, width: number): number {
  const run = (step: number) => {
    let count = 1;
    for (let i = index - step; i >= 0 && on[i]; i -= step) count++;
    for (let i = index + step; i < on.length && on[i]; i += step) count++;
    return count;
  };
  return Math.min(run(1), run(width));
}

/** What the raster of coloured lines says in figures. */
export function fringeFacts(raster: RasterFile): Omit<FringeFacts, "lateral"> {
  const { width, height } = raster.spec;
  const [delta, wide] = [0, 1].map((channel) => {
    const plane = new Uint8Array(width * height);
    raster.read(0, channel, 0, 0, width, height, plane);
    return plane;
  });
  const cells = [...delta.keys()].filter((i) => delta[i] > 0);
  const mean = (plane: Uint8Array, step: number) => (cells.length ? (cells.reduce((sum, i) => sum + plane[i], 0) / cells.length) * step : 0);
  const worst: FringeFacts["worst"] = [];
  for (const i of cells.sort((p, q) => delta[q] - delta[p])) {
    if (worst.length === WORST) break;
    const place = { x: ((i % width) + 0.5) * SHARE_CELL, y: (Math.floor(i / width) + 0.5) * SHARE_CELL, deltaE: delta[i] * DELTA_STEP };
    if (worst.every((w) => Math.max(Math.abs(w.x - place.x), Math.abs(w.y - place.y)) > APART * SHARE_CELL)) worst.push(place);
  }
  return { share: cells.length / (width * height), widthPx: mean(wide, WIDTH_STEP), deltaE: mean(delta, DELTA_STEP), worst };
}
