import { toFrame, type Lens } from "../../../core/geometry/lens";
import { atLevel, invert, type Matrix3 } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { Scope } from "../../../kernels/Kernels";
import type { RasterFile } from "../../tiles/RasterStore";
import { allocatePlanes, each, readWorking, type Planes } from "../frames/frameSamples";
import { warpParameters } from "../frames/placeFrame";
import { mapFloats } from "../../../core/numeric/mapFloats";

/** How two frames are laid over each other: the frame alone, what differs, their outlines, squares in turn. */
export type CompareMode = "frame" | "difference" | "edges" | "checker";

export interface Source {
  file: RasterFile;
  color: InputColor;
}

/** A source placed by a map that is not kept, for work by hand: resampled from the display level itself. Outside it is black. */
export function warpedPlanes(scope: Scope, source: Source, matrix: Matrix3, lens: Lens | null, level: number, rect: Rectangle): Planes {
  const { kernels } = scope;
  const { spec } = source.file;
  const at = Math.min(level, spec.levels - 1);
  const bounds = sizeAtLevel(spec.width, spec.height, at);
  const inverse = atLevel(invert(matrix), level);
  const out = allocatePlanes(scope, rect.width * rect.height);
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let j = 0; j <= 8; j++) {
    for (let i = 0; i <= 8; i++) {
      const [u, v] = toFrame(inverse, lens, bounds, rect.x + ((rect.width - 1) * i) / 8, rect.y + ((rect.height - 1) * j) / 8);
      x0 = Math.min(x0, u);
      x1 = Math.max(x1, u);
      y0 = Math.min(y0, v);
      y1 = Math.max(y1, v);
    }
  }
  const left = Math.max(0, Math.floor(x0) - 4);
  const top = Math.max(0, Math.floor(y0) - 4);
  const window = { x: left, y: top, width: Math.min(bounds.width, Math.ceil(x1) + 6) - left, height: Math.min(bounds.height, Math.ceil(y1) + 6) - top };
  for (const plane of each(out)) kernels.f32(plane, out.length).fill(0);
  if (!(window.width >= 4 && window.height >= 4)) return out;
  const read = allocatePlanes(scope, window.width * window.height);
  readWorking(scope, source.file, source.color, at, window, read);
  const parameters = scope.doubles(warpParameters(inverse, lens, bounds));
  each(out).forEach((plane, c) => {
    const from = each(read)[c];
    kernels.run(
      "warpFloatRows",
      [from, window.width, window.height, window.x, window.y, parameters, plane, rect.x, rect.width, rect.y],
      rect.y,
      rect.y + rect.height,
      32,
    );
  });
  const planes = each(out).map((plane) => kernels.f32(plane, out.length));
  for (let y = 0; y < rect.height; y++) {
    for (let x = 0; x < rect.width; x++) {
      const [u, v] = toFrame(inverse, lens, bounds, rect.x + x, rect.y + y);
      if (u >= -0.5 && v >= -0.5 && u <= bounds.width - 0.5 && v <= bounds.height - 0.5) continue;
      for (const plane of planes) plane[y * rect.width + x] = 0;
    }
  }
  return out;
}

/** Side of a checker's square, px of the level shown. */
const SQUARE = 56;

/**
 * Lays the frame over the reference, in place of the frame's planes, after equal exposure.
 * @param relativeEv exposure of the frame against the reference
 */
export function compare(scope: Scope, mode: CompareMode, frame: Planes, reference: Planes, relativeEv: number, rect: Rectangle): void {
  if (mode === "frame") return;
  const { kernels } = scope;
  const n = frame.length;
  const f = each(frame).map((p) => kernels.f32(p, n));
  const r = each(reference).map((p) => kernels.f32(p, n));
  const gain = 2 ** -relativeEv;
  if (mode === "difference") showDifference(f, r, gain);
  else if (mode === "checker") showChecker(f, r, gain, rect);
  else showEdges(f, r, gain, rect);
}

/** Black where equal or where either is clipped or dark, white at 1 EV. */
function showDifference(f: Float32Array[], r: Float32Array[], gain: number): void {
  for (let i = 0; i < f[1].length; i++) {
    const [a, b] = [f[1][i], r[1][i]];
    const usable = a > 0.004 && b > 0.004 && a < 0.9 && b < 0.9;
    const ev = usable ? Math.min(1, Math.abs(Math.log2((a * gain) / b))) : 0;
    // linear light of an encoded grey, so that the scale looks even
    f[0][i] = f[1][i] = f[2][i] = ev ** 2.2;
  }
}

function showChecker(f: Float32Array[], r: Float32Array[], gain: number, rect: Rectangle): void {
  for (let i = 0; i < rect.width * rect.height; i++) {
    const x = Math.floor((rect.x + (i % rect.width)) / SQUARE);
    const y = Math.floor((rect.y + Math.floor(i / rect.width)) / SQUARE);
    for (let c = 0; c < 3; c++) f[c][i] = (x + y) % 2 ? r[c][i] : f[c][i] * gain;
  }
}

/** Outlines of the reference dark, of the frame light, on mid grey; where they meet they cancel. */
function showEdges(f: Float32Array[], r: Float32Array[], gain: number, { width: w, height: h }: Rectangle): void {
  const encoded = (plane: Float32Array, scale: number) => mapFloats(plane, (v) => encodeSrgb(Math.min(1, Math.max(0, v * scale))));
  const [a, b] = [encoded(f[1], gain), encoded(r[1], 1)];
  for (let y = 0; y < h; y++) {
    const [up, down] = [Math.max(0, y - 1), Math.min(h - 1, y + 1)];
    for (let x = 0; x < w; x++) {
      const [left, right] = [Math.max(0, x - 1), Math.min(w - 1, x + 1)];
      // at the rectangle's own border only one side is known; the slope is the same
      const across = 2 / Math.max(1, right - left);
      const along = 2 / Math.max(1, down - up);
      const slope = (p: Float32Array) => Math.abs(p[y * w + right] - p[y * w + left]) * across + Math.abs(p[down * w + x] - p[up * w + x]) * along;
      const v = Math.min(1, Math.max(0, 0.48 + 1.6 * (slope(a) - slope(b))));
      f[0][y * w + x] = f[1][y * w + x] = f[2][y * w + x] = v ** 2.2;
    }
  }
}
