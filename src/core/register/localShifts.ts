import { distort, undistort, type Lens } from "../geometry/lens";
import { project, type Matrix3 } from "../geometry/matrix3";
import { solveSymmetric } from "../numeric/linearSystem";
import { lookUp, slopeAt, USABLE_HIGH, USABLE_LOW, type Photometry } from "./photometry";
import type { GreyLevel, Selection } from "./refine";

/** What is left to align at one place of the fixed frame. */
export interface LocalShift {
  x: number;
  y: number;
  dx: number;
  dy: number;
  /** zero-mean normalised correlation of the patch after the shift, −1..1 */
  correlation: number;
}

/** Half of a patch's side without its centre, px. */
export const HALF = 16;

/** How a place of the fixed frame is found in the moving one, and which places are looked at. */
export interface ShiftOptions {
  /** lens of the moving and of the fixed frame */
  lens?: Lens | null;
  fixedLens?: Lens | null;
  columns?: number;
  selection?: Selection;
}

/** A map from one level to another picture's px. */
export type Finder = (x: number, y: number) => [number, number];

/**
 * Measures the shift that remains after a registration, patch by patch (33×33 px), where the fixed frame has structure
 * in two directions. @param matrix fixed → undistorted moving @param places where to look, if that is known already
 */
export function measureLocalShifts(
  fixed: GreyLevel,
  moving: GreyLevel,
  photometry: Photometry,
  matrix: Matrix3,
  options: ShiftOptions = {},
  places = structuredPlaces(fixed, photometry, options),
): LocalShift[] {
  const { lens, fixedLens } = options;
  const find: Finder = (x, y) => distort(lens, moving, ...project(matrix, ...undistort(fixedLens, fixed, x, y)));
  return places.flatMap(([x, y]) => {
    const map = mapAbout(find, x, y);
    const shift = map && measurePatch(fixed, moving, photometry, map);
    return shift ? [shift] : [];
  });
}

/** Places of the fixed frame with structure in two directions, at most one for each cell. */
export function structuredPlaces(fixed: GreyLevel, photometry: Photometry, options: ShiftOptions): [number, number][] {
  const area = options.selection?.bounds ?? { x: 0, y: 0, width: fixed.width, height: fixed.height };
  // cells at least as large as half a patch, so that neighbours measure different things
  const columns = Math.max(2, Math.min(options.columns ?? 24, Math.floor(area.width / HALF)));
  const rows = Math.max(2, Math.min(Math.round((columns * area.height) / area.width), Math.max(2, Math.floor(area.height / HALF))));
  const places: [number, number][] = [];
  for (let ty = 0; ty < rows; ty++) {
    for (let tx = 0; tx < columns; tx++) {
      const cell = {
        x0: area.x + Math.floor((tx * area.width) / columns),
        x1: area.x + Math.floor(((tx + 1) * area.width) / columns),
        y0: area.y + Math.floor((ty * area.height) / rows),
        y1: area.y + Math.floor(((ty + 1) * area.height) / rows),
      };
      const place = strongestCorner(fixed, photometry.fixed, cell, options.selection);
      if (place) places.push(place);
    }
  }
  return places;
}

/** The best sub-pixel match of one place; null where nothing can be measured there. */
export function measureShiftAt(
  fixed: GreyLevel,
  moving: GreyLevel,
  photometry: Photometry,
  matrix: Matrix3,
  x: number,
  y: number,
  options: Pick<ShiftOptions, "lens" | "fixedLens"> = {},
): LocalShift | null {
  const cx = Math.max(HALF + 2, Math.min(fixed.width - HALF - 3, Math.round(x)));
  const cy = Math.max(HALF + 2, Math.min(fixed.height - HALF - 3, Math.round(y)));
  const find: Finder = (px, py) => distort(options.lens, moving, ...project(matrix, ...undistort(options.fixedLens, fixed, px, py)));
  const map = mapAbout(find, cx, cy);
  return map && measurePatch(fixed, moving, photometry, map);
}

/** The place in a cell whose patch has the largest smaller eigenvalue of the structure tensor, on a sparse grid. */
export function strongestCorner(
  fixed: GreyLevel,
  table: Float32Array,
  cell: { x0: number; x1: number; y0: number; y1: number },
  selection?: Selection,
): [number, number] | null {
  const { width: w, height: h, data } = fixed;
  const x0 = Math.max(HALF + 2, cell.x0);
  const x1 = Math.min(w - HALF - 3, cell.x1);
  const y0 = Math.max(HALF + 2, cell.y0);
  const y1 = Math.min(h - HALF - 3, cell.y1);
  let best = 0.02;
  let place: [number, number] | null = null;
  const stepX = Math.max(8, (x1 - x0) / 4);
  const stepY = Math.max(8, (y1 - y0) / 4);
  for (let fy = y0 + stepY / 2; fy < y1; fy += stepY) {
    for (let fx = x0 + stepX / 2; fx < x1; fx += stepX) {
      const cx = Math.round(fx);
      const cy = Math.round(fy);
      if (selection && !selection.counts(cx, cy)) continue;
      let xx = 0;
      let yy = 0;
      let xy = 0;
      let bad = 0;
      for (let v = -HALF; v <= HALF; v += 2) {
        for (let u = -HALF; u <= HALF; u += 2) {
          const i = (cy + v) * w + cx + u;
          if (data[i] < USABLE_LOW || data[i] > USABLE_HIGH) bad++;
          // the slope of the table here, instead of its values on all four sides
          const slope = slopeAt(table, data[i]);
          const gx = slope * (data[i + 1] - data[i - 1]);
          const gy = slope * (data[i + w] - data[i - w]);
          xx += gx * gx;
          yy += gy * gy;
          xy += gx * gy;
        }
      }
      if (bad > 60) continue;
      const smaller = (xx + yy - Math.sqrt((xx - yy) ** 2 + 4 * xy * xy)) / 2;
      if (smaller > best) {
        best = smaller;
        place = [cx, cy];
      }
    }
  }
  return place;
}

/** A map about a place as polynomials of second degree: exact to hundredths of a px over a patch, and cheap. */
export interface PatchMap {
  x0: number;
  y0: number;
  /** 1, x, y, x², xy, y² of each coordinate, in steps from the place */
  p: number[];
  q: number[];
}

const STEP = 16;

/** @returns null where the map leads nowhere somewhere about the place */
export function mapAbout(find: Finder, x0: number, y0: number): PatchMap | null {
  const at = (i: number, j: number) => find(x0 + i * STEP, y0 + j * STEP);
  const [c, e, w, n, s, ne, sw] = [at(0, 0), at(1, 0), at(-1, 0), at(0, -1), at(0, 1), at(1, 1), at(-1, -1)];
  if ([c, e, w, n, s, ne, sw].some((p) => Number.isNaN(p[0]))) return null;
  const [p, q] = [0, 1].map((i) => {
    const [x, xx] = [(e[i] - w[i]) / 2, (e[i] + w[i]) / 2 - c[i]];
    const [y, yy] = [(s[i] - n[i]) / 2, (s[i] + n[i]) / 2 - c[i]];
    return [c[i], x, y, xx, (ne[i] + sw[i]) / 2 - c[i] - xx - yy, yy];
  });
  return { x0, y0, p, q };
}

/** Where the map leads. */
export function mapped({ x0, y0, p, q }: PatchMap, px: number, py: number): [number, number] {
  const [x, y] = [(px - x0) / STEP, (py - y0) / STEP];
  return [p[0] + x * (p[1] + p[3] * x + p[4] * y) + y * (p[2] + p[5] * y), q[0] + x * (q[1] + q[3] * x + q[4] * y) + y * (q[2] + q[5] * y)];
}

const SIDE = 2 * HALF + 1;

/** The fixed frame in a patch: encoded values (NaN where unusable) and their slopes. */
function templateOf({ width: w, data }: GreyLevel, table: Float32Array, cx: number, cy: number) {
  // with a sample more on each side, for the slopes
  const around = new Float64Array((SIDE + 2) * (SIDE + 2));
  for (let v = 0, k = 0; v < SIDE + 2; v++) {
    const row = (cy + v - HALF - 1) * w + cx - HALF - 1;
    for (let u = 0; u < SIDE + 2; u++, k++) around[k] = lookUp(table, data[row + u]);
  }
  const [value, slopeX, slopeY] = [new Float64Array(SIDE * SIDE), new Float64Array(SIDE * SIDE), new Float64Array(SIDE * SIDE)];
  for (let v = 0, k = 0; v < SIDE; v++) {
    const row = (cy + v - HALF) * w + cx - HALF;
    for (let u = 0; u < SIDE; u++, k++) {
      const i = (v + 1) * (SIDE + 2) + u + 1;
      const grey = data[row + u];
      value[k] = grey < USABLE_LOW || grey > USABLE_HIGH ? NaN : around[i];
      slopeX[k] = (around[i + 1] - around[i - 1]) / 2;
      slopeY[k] = (around[i + SIDE + 2] - around[i - SIDE - 2]) / 2;
    }
  }
  return { value, slopeX, slopeY };
}

/** The best sub-pixel match of the patch about the place of a map, from where the map says that it is; null where too little can be seen. */
export function measurePatch(fixed: GreyLevel, moving: GreyLevel, photometry: Photometry, map: PatchMap): LocalShift | null {
  const { x0: cx, y0: cy } = map;
  const [p0, px, py, pxx, pxy, pyy] = map.p;
  const [q0, qx, qy, qxx, qxy, qyy] = map.q;
  const { value, slopeX, slopeY } = templateOf(fixed, photometry.fixed, cx, cy);
  const { width, height, data } = moving;
  const [mostX, mostY, table] = [width - 1, height - 1, photometry.moving];
  let dx = 0;
  let dy = 0;
  let correlation = 0;
  for (let pass = 0; pass < 5; pass++) {
    // normal equations of slope x, slope y, value and 1 against the difference; what the correlation needs beside them
    const normal = new Float64Array(16);
    const right = new Float64Array(4);
    let sm = 0;
    let smm = 0;
    let stm = 0;
    for (let v = -HALF, k = 0; v <= HALF; v++) {
      const y = (v + dy) / STEP;
      const [pRow, qRow, pSlope, qSlope] = [p0 + y * (py + pyy * y), q0 + y * (qy + qyy * y), px + pxy * y, qx + qxy * y];
      for (let u = -HALF; u <= HALF; u++, k++) {
        const t = value[k];
        if (Number.isNaN(t)) continue;
        const x = (u + dx) / STEP;
        const p = pRow + x * (pSlope + pxx * x);
        const q = qRow + x * (qSlope + qxx * x);
        if (!(p >= 0 && q >= 0 && p < mostX && q < mostY)) continue;
        const pi = p | 0;
        const qi = q | 0;
        const a = p - pi;
        const b = q - qi;
        const i = qi * width + pi;
        const raw = (data[i] * (1 - a) + data[i + 1] * a) * (1 - b) + (data[i + width] * (1 - a) + data[i + width + 1] * a) * b;
        if (raw < USABLE_LOW || raw > USABLE_HIGH) continue;
        const m = lookUp(table, raw);
        const gx = slopeX[k];
        const gy = slopeY[k];
        const off = m - t;
        sm += m;
        smm += m * m;
        stm += t * m;
        normal[0] += gx * gx;
        normal[1] += gx * gy;
        normal[2] += gx * t;
        normal[3] += gx;
        normal[5] += gy * gy;
        normal[6] += gy * t;
        normal[7] += gy;
        normal[10] += t * t;
        normal[11] += t;
        normal[15]++;
        right[0] += gx * off;
        right[1] += gy * off;
        right[2] += t * off;
        right[3] += off;
      }
    }
    const [stt, st, n] = [normal[10], normal[11], normal[15]];
    if (n < 400) return null;
    const variance = (stt / n - (st / n) ** 2) * (smm / n - (sm / n) ** 2);
    correlation = variance > 0 ? (stm / n - (st / n) * (sm / n)) / Math.sqrt(variance) : 0;
    if (pass === 4) break;
    for (let r = 1; r < 4; r++) for (let c = 0; c < r; c++) normal[r * 4 + c] = normal[c * 4 + r];
    const step = solveSymmetric(normal, right);
    if (!step) return null;
    dx -= step[0];
    dy -= step[1];
    if (Math.hypot(dx, dy) > 12) return { x: cx, y: cy, dx, dy, correlation: -1 };
    if (Math.hypot(step[0], step[1]) < 0.003 && pass > 0) break;
  }
  return { x: cx, y: cy, dx, dy, correlation };
}

/** Where a patch was found in whole px, how alike both are there, and how alike they are where they lie. */
export interface FoundPatch {
  dx: number;
  dy: number;
  correlation: number;
  unmoved: number;
}

/** Looks for the patch about a place in another picture, within a reach, by normalised correlation. */
export function searchPatch(fixed: GreyLevel, moving: GreyLevel, cx: number, cy: number, reach: number): FoundPatch {
  const unmoved = correlationAt(fixed, moving, cx, cy, 0, 0);
  let best: FoundPatch = { dx: 0, dy: 0, correlation: unmoved, unmoved };
  for (let dy = -reach; dy <= reach; dy++) {
    for (let dx = -reach; dx <= reach; dx++) {
      const correlation = correlationAt(fixed, moving, cx, cy, dx, dy);
      if (correlation > best.correlation) best = { dx, dy, correlation, unmoved };
    }
  }
  return best;
}

function correlationAt(fixed: GreyLevel, moving: GreyLevel, cx: number, cy: number, dx: number, dy: number): number {
  let [n, st, sm, stt, smm, stm] = [0, 0, 0, 0, 0, 0];
  const [own, other] = [fixed.data, moving.data];
  // only what lies in both
  const [fromV, toV] = [Math.max(-HALF, -cy, -cy - dy), Math.min(HALF, fixed.height - 1 - cy, moving.height - 1 - cy - dy)];
  const [fromU, toU] = [Math.max(-HALF, -cx, -cx - dx), Math.min(HALF, fixed.width - 1 - cx, moving.width - 1 - cx - dx)];
  for (let v = fromV; v <= toV; v++) {
    const p = (cy + v) * fixed.width + cx;
    const q = (cy + v + dy) * moving.width + cx + dx;
    for (let u = fromU; u <= toU; u++) {
      const t = own[p + u];
      const m = other[q + u];
      n++;
      st += t;
      sm += m;
      stt += t * t;
      smm += m * m;
      stm += t * m;
    }
  }
  const spread = Math.sqrt(Math.max(0, stt - (st * st) / n) * Math.max(0, smm - (sm * sm) / n));
  return n && spread > 0 ? (stm - (st * sm) / n) / spread : -1;
}
