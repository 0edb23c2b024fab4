import { distort, hasLens, type Lens } from "../../../core/geometry/lens";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { pixelOf, type Camera } from "../../../core/panorama/camera";
import { viewMap, type PanoramaView } from "../../../core/panorama/layout";
import type { Kernels, Scope } from "../../../kernels/Kernels";
import { type RasterFile, type RasterSpec, type Samples } from "../../tiles/RasterStore";
import { levelCount } from "../frames/levels";

/** Samples between the nodes at which a projection is computed; as in the kernel. */
export const GRID_STEP = 8;

/** A rectangle made larger to the left and upwards, so that its nodes are those of the whole picture: what is read of a frame is the same then, whatever is read. */
export function onGrid({ x, y, width, height }: Rectangle): Rectangle {
  const [left, top] = [x % GRID_STEP, y % GRID_STEP];
  return { x: x - left, y: y - top, width: width + left, height: height + top };
}

/** A frame as it appears in the picture of a panorama. */
export interface Projected {
  view: PanoramaView;
  camera: Camera;
  /** distortion undone by the frame's development before its direction was found */
  lens: Lens | null;
}

/** Where the nodes of a grid over a rectangle lie in a frame: x, y one after the other, NaN where it cannot be seen. */
export interface NodeGrid {
  rect: Rectangle;
  /** display level of the frame that the nodes lie in */
  sourceLevel: number;
  columns: number;
  nodes: Float32Array;
}

/** @param level display level of the picture that the rectangle is in @param sourceLevel of the frame that nodes are wanted in */
export function gridOf({ view, camera, lens }: Projected, level: number, rect: Rectangle, sourceLevel: number): NodeGrid {
  const columns = Math.ceil(rect.width / GRID_STEP) + 1;
  const rows = Math.ceil(rect.height / GRID_STEP) + 1;
  const nodes = new Float32Array(columns * rows * 2);
  const { toRay } = viewMap(view);
  const [up, down] = [2 ** level, 2 ** -sourceLevel];
  for (let j = 0, p = 0; j < rows; j++) {
    const y = (rect.y + j * GRID_STEP + 0.5) * up - 0.5;
    for (let i = 0; i < columns; i++, p += 2) {
      const ray = toRay((rect.x + i * GRID_STEP + 0.5) * up - 0.5, y);
      const seen = ray && pixelOf(camera, ray);
      if (!seen) {
        nodes[p] = nodes[p + 1] = NaN;
        continue;
      }
      const [u, v] = hasLens(lens) ? distort(lens, camera, seen[0], seen[1]) : seen;
      nodes[p] = (u + 0.5) * down - 0.5;
      nodes[p + 1] = (v + 0.5) * down - 0.5;
    }
  }
  return { rect, sourceLevel, columns, nodes };
}

/** 1 where a px lies on the frame, which has a size at the grid's source level; rows of the grid's rectangle. @param margin px inside its border */
export function coverageOfGrid({ rect, columns, nodes }: NodeGrid, size: { width: number; height: number }, out: Uint8Array, margin = 0): void {
  const [left, top, right, bottom] = [margin, margin, size.width - 1 - margin, size.height - 1 - margin];
  const on = (u: number, v: number) => u >= left && v >= top && u <= right && v <= bottom;
  const seen = new Uint8Array(nodes.length / 2);
  for (let k = 0; k < seen.length; k++) if (on(nodes[2 * k], nodes[2 * k + 1])) seen[k] = 1;
  const across = Math.ceil(rect.width / GRID_STEP);
  for (let j = 0; j * GRID_STEP < rect.height; j++) {
    const y0 = j * GRID_STEP;
    const y1 = Math.min(rect.height, y0 + GRID_STEP);
    const count = (i: number) => seen[j * columns + i] + seen[j * columns + i + 1] + seen[(j + 1) * columns + i] + seen[(j + 1) * columns + i + 1];
    for (let i = 0; i < across;) {
      const corners = count(i);
      // a cell is small beside a frame: where no corner is on it, no more than a tip is
      if (corners > 0 && corners < 4) {
        coverCell(i, y0, y1);
        i++;
        continue;
      }
      let end = i + 1;
      while (end < across && count(end) === corners) end++;
      const [from, to] = [i * GRID_STEP, Math.min(rect.width, end * GRID_STEP)];
      for (let y = y0; y < y1; y++) out.fill(corners ? 1 : 0, y * rect.width + from, y * rect.width + to);
      i = end;
    }
  }

  function coverCell(i: number, y0: number, y1: number): void {
    const a = ((y0 / GRID_STEP) * columns + i) * 2;
    const c = a + columns * 2;
    const x0 = i * GRID_STEP;
    const width = Math.min(GRID_STEP, rect.width - x0);
    for (let y = y0; y < y1; y++) {
      const b = (y - y0) / GRID_STEP;
      for (let x = 0; x < width; x++) {
        const t = x / GRID_STEP;
        const u = (nodes[a] * (1 - t) + nodes[a + 2] * t) * (1 - b) + (nodes[c] * (1 - t) + nodes[c + 2] * t) * b;
        const v = (nodes[a + 1] * (1 - t) + nodes[a + 3] * t) * (1 - b) + (nodes[c + 1] * (1 - t) + nodes[c + 3] * t) * b;
        out[y * rect.width + x0 + x] = on(u, v) ? 1 : 0;
      }
    }
  }
}

/** Beyond its border a frame goes on with the last px; what cannot be seen at all is far beyond it. */
const FAR = -1e5;

/**
 * Three planes of a frame in a rectangle of the picture, encoded as the source is: u16 codes, or f32 light of a float source.
 * @returns addresses of the planes
 */
export function warpThrough(scope: Scope, source: RasterFile, grid: NodeGrid): [number, number, number] {
  const { kernels } = scope;
  const { rect, sourceLevel, columns, nodes } = grid;
  const size = sizeAtLevel(source.spec.width, source.spec.height, sourceLevel);
  const window = windowOf(nodes, size);
  const at = scope.floats(nodes.length);
  const given = kernels.f32(at, nodes.length);
  for (let i = 0; i < nodes.length; i++) given[i] = Number.isNaN(nodes[i]) ? FAR : nodes[i];

  const n = rect.width * rect.height;
  const [sw, sh] = [window.width, window.height];
  if (source.spec.type === "f32") {
    const src = scope.floats(sw * sh + 16);
    return [0, 1, 2].map((c) => {
      const out = scope.floats(n + 16);
      source.read(sourceLevel, c, window.x, window.y, sw, sh, kernels.f32(src, sw * sh));
      kernels.run("warpFloatGridRows", [src, sw, sh, window.x, window.y, at, columns, out, rect.width, 0], 0, rect.height, 16);
      return out;
    }) as [number, number, number];
  }
  const src = scope.bytes(sw * sh * 8 + 256);
  fillRgbx(scope, source, sourceLevel, window, src);
  const out = scope.bytes(n * 6 + 64);
  kernels.run("warpGridRows", [src, sw, sh, window.x, window.y, at, columns, out, n, rect.width, 0], 0, rect.height, 16);
  return [out, out + n * 2, out + n * 4];
}

/** The part of a source that the nodes lie in, with what interpolation reaches. */
function windowOf(nodes: Float32Array, { width, height }: { width: number; height: number }): Rectangle {
  let [x0, y0, x1, y1] = [width, height, -1, -1];
  for (let p = 0; p < nodes.length; p += 2) {
    const [u, v] = [nodes[p], nodes[p + 1]];
    if (Number.isNaN(u)) continue;
    if (u < x0) x0 = u;
    if (u > x1) x1 = u;
    if (v < y0) y0 = v;
    if (v > y1) y1 = v;
  }
  const clamp = (v: number, top: number) => Math.min(top, Math.max(0, v));
  const [left, upper] = [clamp(Math.floor(x0) - 3, Math.max(0, width - 8)), clamp(Math.floor(y0) - 3, Math.max(0, height - 8))];
  const [right, lower] = [clamp(Math.ceil(x1) + 4, width), clamp(Math.ceil(y1) + 4, height)];
  return { x: left, y: upper, width: Math.max(Math.min(8, width - left), right - left), height: Math.max(Math.min(8, height - upper), lower - upper) };
}

/** Px of a window beside each other as the warp reads them. */
function fillRgbx(scope: Scope, source: RasterFile, level: number, { x, y, width, height }: Rectangle, at: number): void {
  const { kernels } = scope;
  const n = width * height;
  const bytes = source.spec.type === "u8";
  const whole = Math.ceil(n / 16) * 16;
  kernels.withScope((inner) => {
    const planes = [0, 1, 2].map((c) => {
      const plane = inner.bytes(whole * 2);
      source.read(level, c, x, y, width, height, bytes ? kernels.u8(plane, n) : kernels.u16(plane, n));
      return plane;
    });
    kernels.run(bytes ? "interleaveBytes" : "interleaveSamples", [...planes, at], 0, whole, 65536);
  });
}

/** The display level of a source that has about as many px as a level of the picture. */
export function sourceLevelFor({ view, camera }: Projected, source: RasterSpec, level: number): number {
  const coarser = Math.round(Math.log2(camera.focalPx / view.scalePx));
  return Math.max(0, Math.min(source.levels - 1, level + coarser));
}

const readOnly = () => {
  throw new TypeError("A projected frame is computed where it is looked at; it cannot be written.");
};

/** A frame of a panorama as a raster of the whole picture, computed where it is read; its levels come from the frame's own. */
export class ProjectedRaster implements RasterFile {
  readonly spec: RasterSpec;
  private last: { key: string; planes: Samples[] } | null = null;

  constructor(
    private readonly kernels: Kernels,
    private readonly source: RasterFile,
    private readonly projected: Projected,
  ) {
    const { width, height } = projected.view;
    this.spec = { width, height, channels: 3, type: source.spec.type === "f32" ? "f32" : "u16", levels: levelCount(width, height) };
  }

  read(level: number, channel: number, x: number, y: number, width: number, height: number, out: Samples): void {
    const key = [level, x, y, width, height].join();
    if (this.last?.key !== key) this.last = { key, planes: this.compute(level, { x, y, width, height }) };
    out.set(this.last.planes[channel]);
  }

  private compute(level: number, rect: Rectangle): Samples[] {
    const sourceLevel = sourceLevelFor(this.projected, this.source.spec, level);
    const grid = gridOf(this.projected, level, rect, sourceLevel);
    const n = rect.width * rect.height;
    const covered = new Uint8Array(n);
    coverageOfGrid(grid, sizeAtLevel(this.source.spec.width, this.source.spec.height, sourceLevel), covered);
    return this.kernels.withScope((scope) =>
      warpThrough(scope, this.source, grid).map((at) => {
        const plane = this.spec.type === "f32" ? this.kernels.f32(at, n).slice() : this.kernels.u16(at, n).slice();
        for (let i = 0; i < n; i++) if (!covered[i]) plane[i] = 0;
        return plane;
      }),
    );
  }

  write = readOnly;
  commit = readOnly;
}
