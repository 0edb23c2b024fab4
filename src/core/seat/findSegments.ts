/** A straight piece of an edge, px; from its one end to the other with the brighter side on the right. */
export interface Segment {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  /** standard deviation of its direction, radians */
  sigma: number;
}

export interface GreyPlane {
  width: number;
  height: number;
  data: ArrayLike<number>;
}

/** How far the direction of an edge may lie from its neighbours', radians. */
const TOLERANCE = Math.PI / 8;
/** Least share of a rectangle that belongs to its edge. */
const DENSITY = 0.7;
const BINS = 1024;
/** How exactly an end of a segment is placed across it, px: what is left where lines are known. Measured on rendered plates. */
const PLACED_PX = 0.35;
/** What lenses and worn edges add to any direction, radians. */
const NEVER_BETTER = (0.12 * Math.PI) / 180;

/**
 * Straight edges: regions whose gradients point alike, kept where noise would hardly show as many in a picture of that size.
 * @param plane grey in steps of 1/255 of the range (other scales by `step`)
 * @param step what one of 255 levels is in the plane's values
 * @param shortest px
 * @see Grompone von Gioi, Jakubowicz, Morel and Randall 2010, "LSD: a fast line segment detector with a false detection control"
 */
export function findSegments({ width, height, data }: GreyPlane, step = 1, shortest = 12): Segment[] {
  const { angle, magnitude, order } = gradients(data, width, height, (2 * step) / Math.sin(TOLERANCE), step);
  const used = new Uint8Array(width * height);
  const logTests = 2.5 * (Math.log10(width) + Math.log10(height)) + 1;
  const segments: Segment[] = [];
  const stack = new Int32Array(width * height);
  for (const seed of order) {
    if (used[seed]) continue;
    let count = grow(seed, TOLERANCE);
    if (count < 8) continue;
    let box = boxOf(count);
    if (box.density < DENSITY) {
      // a bend grown into one: once more, with what points like its seed
      for (let i = 0; i < count; i++) used[stack[i]] = 0;
      count = grow(seed, TOLERANCE / 2.5);
      if (count < 8) continue;
      box = boxOf(count);
      for (let radius = reach(count, seed) * 0.75; box.density < DENSITY && count >= 8; radius *= 0.75) {
        count = keepNear(count, seed, radius);
        if (count >= 8) box = boxOf(count);
      }
      if (count < 8) continue;
    }
    if (box.length < shortest) continue;
    const area = Math.max(count, Math.round(box.length * box.width));
    if (logTests + logTail(area, count, TOLERANCE / Math.PI) > 0) continue;
    segments.push(box.segment);
  }
  return segments;

  function grow(seed: number, tolerance: number): number {
    let count = 1;
    stack[0] = seed;
    used[seed] = 1;
    let [c, s] = [Math.cos(angle[seed]), Math.sin(angle[seed])];
    let mean = angle[seed];
    for (let i = 0; i < count; i++) {
      const p = stack[i];
      const x = p % width;
      for (let dy = -1; dy <= 1; dy++) {
        for (let dx = -1; dx <= 1; dx++) {
          const q = p + dy * width + dx;
          if (x + dx < 0 || x + dx >= width || q < 0 || q >= angle.length || used[q] || magnitude[q] === 0) continue;
          if (Math.abs(turnBetween(angle[q], mean)) > tolerance) continue;
          used[q] = 1;
          stack[count++] = q;
          c += Math.cos(angle[q]);
          s += Math.sin(angle[q]);
          mean = Math.atan2(s, c);
        }
      }
    }
    return count;
  }

  /** How far a region goes from its seed, px. */
  function reach(count: number, seed: number): number {
    let most = 0;
    for (let i = 0; i < count; i++) most = Math.max(most, distance(stack[i], seed));
    return most;
  }

  /** Leaves of a region what is near its seed, and frees the rest. @returns how many stay */
  function keepNear(count: number, seed: number, radius: number): number {
    let kept = 0;
    for (let i = 0; i < count; i++) {
      const p = stack[i];
      if (distance(p, seed) <= radius) stack[kept++] = p;
      else used[p] = 0;
    }
    return kept;
  }

  function distance(p: number, q: number): number {
    return Math.hypot((p % width) - (q % width), Math.floor(p / width) - Math.floor(q / width));
  }

  function boxOf(count: number): { segment: Segment; length: number; width: number; density: number } {
    let [sum, sx, sy] = [0, 0, 0];
    for (let i = 0; i < count; i++) {
      const p = stack[i];
      const m = magnitude[p];
      sum += m;
      sx += m * (p % width);
      sy += m * Math.floor(p / width);
    }
    const [cx, cy] = [sx / sum, sy / sum];
    let [xx, xy, yy] = [0, 0, 0];
    let [c, s] = [0, 0];
    for (let i = 0; i < count; i++) {
      const p = stack[i];
      const m = magnitude[p];
      const [dx, dy] = [(p % width) - cx, Math.floor(p / width) - cy];
      xx += m * dx * dx;
      xy += m * dx * dy;
      yy += m * dy * dy;
      c += Math.cos(angle[p]);
      s += Math.sin(angle[p]);
    }
    let along = 0.5 * Math.atan2(2 * xy, xx - yy);
    if (Math.abs(turnBetween(along, Math.atan2(s, c))) > Math.PI / 2) along += Math.PI;
    const [ux, uy] = [Math.cos(along), Math.sin(along)];
    let [l0, l1, w0, w1] = [0, 0, 0, 0];
    for (let i = 0; i < count; i++) {
      const p = stack[i];
      const [dx, dy] = [(p % width) - cx, Math.floor(p / width) - cy];
      const l = dx * ux + dy * uy;
      const w = dy * ux - dx * uy;
      l0 = Math.min(l0, l);
      l1 = Math.max(l1, l);
      w0 = Math.min(w0, w);
      w1 = Math.max(w1, w);
    }
    const length = l1 - l0;
    // gradients lie between four px
    const [ox, oy] = [cx + 0.5, cy + 0.5];
    const sigma = Math.hypot(NEVER_BETTER, (PLACED_PX * Math.SQRT2) / Math.max(1, length));
    const segment = { x0: ox + l0 * ux, y0: oy + l0 * uy, x1: ox + l1 * ux, y1: oy + l1 * uy, sigma };
    const wide = Math.max(1, w1 - w0);
    return { segment, length, width: wide, density: count / (length * wide) };
  }
}

/** Directions of level lines, and the places of those that are clear enough, the strongest first. */
function gradients(data: ArrayLike<number>, width: number, height: number, least: number, step: number) {
  const angle = new Float32Array(width * height);
  const magnitude = new Float32Array(width * height);
  let most = 0;
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      const [a, b, c, d] = [data[i], data[i + 1], data[i + width], data[i + width + 1]];
      const gx = (b + d - a - c) / 2;
      const gy = (c + d - a - b) / 2;
      const m = Math.sqrt(gx * gx + gy * gy);
      if (m <= least) continue;
      magnitude[i] = m;
      angle[i] = Math.atan2(gx, -gy);
      if (m > most) most = m;
    }
  }
  const starts = new Int32Array(BINS + 1);
  const binOf = (m: number) => BINS - 1 - Math.min(BINS - 1, Math.floor((m / (most + step)) * BINS));
  for (const m of magnitude) if (m > 0) starts[binOf(m) + 1]++;
  for (let b = 0; b < BINS; b++) starts[b + 1] += starts[b];
  const order = new Int32Array(starts[BINS]);
  for (let i = 0; i < magnitude.length; i++) if (magnitude[i] > 0) order[starts[binOf(magnitude[i])]++] = i;
  return { angle, magnitude, order };
}

/** The smaller turn from one direction to another, radians. */
function turnBetween(a: number, b: number): number {
  let d = a - b;
  while (d > Math.PI) d -= 2 * Math.PI;
  while (d < -Math.PI) d += 2 * Math.PI;
  return d;
}

/** An upper bound for log10 of the chance that of n directions at least k lie within a share p of the circle. @see Hoeffding 1963 */
function logTail(n: number, k: number, p: number): number {
  const q = k / n;
  if (q <= p) return 0;
  return (-n * (q * Math.log(q / p) + (q < 1 ? (1 - q) * Math.log((1 - q) / (1 - p)) : 0))) / Math.LN10;
}
