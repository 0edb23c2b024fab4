/** A scene in small pieces that grow together step by step: what lies next to each other and is most alike goes first. */
export interface Pieces {
  width: number;
  height: number;
  /** piece of each sample */
  label: Int32Array;
  count: number;
  /** pairs of pieces or unions (numbered on from `count`) in the order in which they grow together */
  unions: [number, number][];
}

/** Pieces to begin with. Common practice, no source. */
const PIECES = 420;
/** How much nearness counts against likeness within a piece. */
const COMPACT = 0.12;
const ROUNDS = 6;
/** A border as strong as this doubles the cost of growing together. */
const BORDER = 0.06;

/**
 * Parts a picture into pieces by likeness and nearness, and finds the order in which they grow together.
 * @param features planes of width × height; a step of 1 is the distance of black and white @param together samples that belong together whatever
 * they look like: their pieces grow together first
 * @see Achanta et al. 2012, "SLIC superpixels compared to state-of-the-art superpixel methods"; Ward 1963 for the order
 */
export function findPieces(features: Float32Array[], width: number, height: number, together: Uint8Array | null = null): Pieces {
  const parted = clusters(features, width, height);
  // no piece lies across the border of what belongs together
  const label = joinScraps(together ? parted.map((v, i) => 2 * v + together[i]) : parted, width, height);
  const count = label.reduce((top, v) => Math.max(top, v), -1) + 1;
  return { width, height, label, count, unions: grow(features, label, count, width, height, membersOf(label, count, together)) };
}

/** The pieces grown together until as many are left: a number 0..regions − 1 for each sample, largest first. */
export function regionsOf({ label, count, unions }: Pieces, regions: number): Uint8Array {
  const owner = Int32Array.from({ length: count + unions.length }, (_, i) => i);
  unions.slice(0, Math.max(0, count - regions)).forEach(([a, b], k) => {
    owner[a] = owner[b] = count + k;
  });
  const rootOf = (v: number): number => (owner[v] === v ? v : (owner[v] = rootOf(owner[v])));
  const sizes = new Map<number, number>();
  const roots = label.map(rootOf);
  for (const r of roots) sizes.set(r, (sizes.get(r) ?? 0) + 1);
  const order = [...sizes.entries()].sort((a, b) => b[1] - a[1] || a[0] - b[0]).map(([r]) => r);
  const index = new Map(order.map((r, i) => [r, Math.min(254, i)]));
  return Uint8Array.from(roots, (r) => index.get(r)!);
}

/**
 * Parts one region in two: along the last of the unions that made it.
 * @param inside 1 in the region @returns 1 in the first of the two halves, or null where it is a single piece
 */
export function splitRegion(pieces: Pieces, inside: Uint8Array): Uint8Array | null {
  const { label, count, unions } = pieces;
  const held = new Set<number>();
  inside.forEach((on, i) => on && held.add(label[i]));
  if (held.size < 2) return null;
  const members = new Map<number, number[]>();
  for (let p = 0; p < count; p++) members.set(p, held.has(p) ? [p] : []);
  let halves: [number[], number[]] = [[], []];
  unions.forEach(([a, b], k) => {
    const [p, q] = [members.get(a)!, members.get(b)!];
    if (p.length && q.length) halves = [p, q];
    members.set(count + k, [...p, ...q]);
  });
  const first = new Set(halves[0]);
  return Uint8Array.from(inside, (on, i) => (on && first.has(label[i]) ? 1 : 0));
}

/** Pieces most of which belong together. */
function membersOf(label: Int32Array, count: number, together: Uint8Array | null): Uint8Array {
  const [inside, all] = [new Float64Array(count), new Float64Array(count)];
  if (together)
    label.forEach((p, i) => {
      all[p]++;
      inside[p] += together[i];
    });
  return Uint8Array.from(inside, (v, p) => (v > 0.5 * all[p] ? 1 : 0));
}

/** Pieces about seeds on a grid, by a few rounds of k-means within a window. */
function clusters(features: Float32Array[], width: number, height: number): Int32Array {
  const n = width * height;
  const d = features.length;
  const step = Math.max(3, Math.sqrt(n / PIECES));
  const [columns, rows] = [Math.max(1, Math.round(width / step)), Math.max(1, Math.round(height / step))];
  const k = columns * rows;
  const centres = Array.from({ length: k }, (_, c) => {
    const x = Math.min(width - 1, Math.floor((((c % columns) + 0.5) * width) / columns));
    const y = Math.min(height - 1, Math.floor(((Math.floor(c / columns) + 0.5) * height) / rows));
    return Float64Array.from([...features.map((f) => f[y * width + x]), x, y]);
  });
  const label = new Int32Array(n);
  const nearest = new Float64Array(n);
  const weight = (COMPACT / step) ** 2;
  for (let round = 0; round < ROUNDS; round++) {
    nearest.fill(Infinity);
    centres.forEach((centre, c) => {
      const [cx, cy] = [centre[d], centre[d + 1]];
      for (let y = Math.max(0, Math.ceil(cy - 2 * step)); y <= Math.min(height - 1, cy + 2 * step); y++) {
        for (let x = Math.max(0, Math.ceil(cx - 2 * step)); x <= Math.min(width - 1, cx + 2 * step); x++) {
          const i = y * width + x;
          let far = weight * ((x - cx) ** 2 + (y - cy) ** 2);
          for (let f = 0; f < d && far < nearest[i]; f++) far += (features[f][i] - centre[f]) ** 2;
          if (far < nearest[i]) {
            nearest[i] = far;
            label[i] = c;
          }
        }
      }
    });
    const sums = centres.map(() => new Float64Array(d + 3));
    for (let i = 0; i < n; i++) {
      const sum = sums[label[i]];
      for (let f = 0; f < d; f++) sum[f] += features[f][i];
      sum[d] += i % width;
      sum[d + 1] += Math.floor(i / width);
      sum[d + 2]++;
    }
    sums.forEach((sum, c) => sum[d + 2] && centres[c].forEach((_, f) => (centres[c][f] = sum[f] / sum[d + 2])));
  }
  return label;
}

/** Connected pieces numbered anew; scraps smaller than a sixth of the mean go to the neighbour met first. */
function joinScraps(label: Int32Array, width: number, height: number): Int32Array {
  const n = width * height;
  const least = n / PIECES / 6;
  const out = new Int32Array(n).fill(-1);
  let next = 0;
  const queue = new Int32Array(n);
  for (let start = 0; start < n; start++) {
    if (out[start] >= 0) continue;
    let [head, tail, beside] = [0, 1, -1];
    queue[0] = start;
    out[start] = next;
    while (head < tail) {
      const i = queue[head++];
      const x = i % width;
      for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width]) {
        if (j < 0 || j >= n) continue;
        if (out[j] < 0 && label[j] === label[start]) {
          out[j] = next;
          queue[tail++] = j;
        } else if (out[j] >= 0 && out[j] !== next) beside = out[j];
      }
    }
    if (tail < least && beside >= 0) for (let k = 0; k < tail; k++) out[queue[k]] = beside;
    else next++;
  }
  return out;
}

interface Union {
  size: number;
  mean: Float64Array;
  /** length of the border with each neighbour and the sum of the steps across it */
  beside: Map<number, [number, number]>;
  member: number;
}

/** The order of unions by the rise of the sum of squares, dearer across a strong border. */
function grow(features: Float32Array[], label: Int32Array, count: number, width: number, height: number, member: Uint8Array): [number, number][] {
  const d = features.length;
  const all: (Union | null)[] = Array.from({ length: count }, (_, p) => ({ size: 0, mean: new Float64Array(d), beside: new Map(), member: member[p] }));
  for (let i = 0; i < label.length; i++) {
    const u = all[label[i]]!;
    u.size++;
    for (let f = 0; f < d; f++) u.mean[f] += features[f][i];
  }
  for (const u of all) u!.mean.forEach((v, f) => (u!.mean[f] = v / Math.max(1, u!.size)));
  const touch = (i: number, j: number) => {
    if (label[i] === label[j]) return;
    let stepped = 0;
    for (let f = 0; f < d; f++) stepped += (features[f][i] - features[f][j]) ** 2;
    for (const [a, b] of [
      [label[i], label[j]],
      [label[j], label[i]],
    ]) {
      const [length, sum] = all[a]!.beside.get(b) ?? [0, 0];
      all[a]!.beside.set(b, [length + 1, sum + Math.sqrt(stepped)]);
    }
  };
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (x + 1 < width) touch(i, i + 1);
      if (y + 1 < height) touch(i, i + width);
    }
  }
  const cost = (a: Union, b: Union, [length, sum]: [number, number]) => {
    // what belongs together comes before all else, and meets the rest last
    const order = a.member && b.member ? -1e9 : a.member || b.member ? 1e9 : 0;
    let apart = 0;
    for (let f = 0; f < d; f++) apart += (a.mean[f] - b.mean[f]) ** 2;
    return order + ((a.size * b.size) / (a.size + b.size)) * apart * (1 + sum / length / BORDER);
  };
  const unions: [number, number][] = [];
  const live = new Set(all.keys());
  while (live.size > 1) {
    let [best, p, q] = [Infinity, -1, -1];
    for (const a of live) {
      for (const [b, border] of all[a]!.beside) {
        if (b <= a) continue;
        const c = cost(all[a]!, all[b]!, border);
        if (c < best) [best, p, q] = [c, a, b];
      }
    }
    if (p < 0) break;
    const [a, b] = [all[p]!, all[q]!];
    const size = a.size + b.size;
    const joined: Union = { size, mean: a.mean.map((v, f) => (v * a.size + b.mean[f] * b.size) / size), beside: new Map(), member: a.member & b.member };
    const id = all.push(joined) - 1;
    for (const from of [a, b]) {
      for (const [other, [length, sum]] of from.beside) {
        if (other === p || other === q) continue;
        const [l, s] = joined.beside.get(other) ?? [0, 0];
        joined.beside.set(other, [l + length, s + sum]);
      }
    }
    for (const [other, border] of joined.beside) {
      const { beside } = all[other]!;
      beside.delete(p);
      beside.delete(q);
      beside.set(id, border);
    }
    all[p] = all[q] = null;
    live.delete(p);
    live.delete(q);
    live.add(id);
    unions.push([p, q]);
  }
  return unions;
}
