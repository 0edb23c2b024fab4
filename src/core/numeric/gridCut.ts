/** A grid of nodes joined to their four neighbours, to a source and to a sink; capacities are not negative. */
export interface GridGraph {
  width: number;
  height: number;
  /** capacity from the source to a node less that from the node to the sink */
  terminal: Float32Array;
  /** capacity between a node and its right neighbour, both ways; the last of a row is unused */
  right: Float32Array;
  /** and the one below */
  down: Float32Array;
}

const [FREE, SOURCE, SINK] = [0, 1, 2];
const [AT_TERMINAL, ORPHAN, NONE] = [4, 5, 6];

/**
 * The cheapest cut between source and sink: 1 where a node stays with the source.
 * @see Boykov, Kolmogorov 2004, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in vision"
 */
export function cutGrid({ width: w, height: h, terminal, right, down }: GridGraph): Uint8Array {
  const n = w * h;
  // residual capacities of the arcs of each node to the left, right, upper and lower neighbour
  const capacity = [0, 1, 2, 3].map(() => new Float32Array(n));
  for (let i = 0; i < n; i++) {
    const x = i % w;
    if (x + 1 < w) capacity[1][i] = capacity[0][i + 1] = right[i];
    if (i + w < n) capacity[3][i] = capacity[2][i + w] = down[i];
  }
  const offset = [-1, 1, -w, w];
  const open = terminal.slice();
  const tree = new Uint8Array(n);
  const parent = new Uint8Array(n).fill(NONE);
  const stamp = new Int32Array(n);
  const distance = new Int32Array(n);
  const queue = new Int32Array(n);
  const queued = new Uint8Array(n);
  let [head, waiting, time] = [0, 0, 0];
  const activate = (i: number) => {
    if (queued[i]) return;
    queued[i] = 1;
    queue[(head + waiting++) % n] = i;
  };
  const has = (i: number, d: number) => (d === 0 ? i % w > 0 : d === 1 ? i % w < w - 1 : d === 2 ? i >= w : i + w < n);
  for (let i = 0; i < n; i++) {
    if (open[i] === 0) continue;
    tree[i] = open[i] > 0 ? SOURCE : SINK;
    parent[i] = AT_TERMINAL;
    distance[i] = 1;
    activate(i);
  }
  const orphans: number[] = [];
  const orphan = (i: number) => {
    parent[i] = ORPHAN;
    orphans.push(i);
  };

  /** Pushes what the path through the arc from s (source side) in direction d can take. */
  const augment = (s: number, d: number) => {
    const t = s + offset[d];
    let most = capacity[d][s];
    let i = s;
    for (; parent[i] !== AT_TERMINAL;) {
      const up = i + offset[parent[i]];
      most = Math.min(most, capacity[parent[i] ^ 1][up]);
      i = up;
    }
    most = Math.min(most, open[i]);
    let j = t;
    for (; parent[j] !== AT_TERMINAL; j += offset[parent[j]]) most = Math.min(most, capacity[parent[j]][j]);
    most = Math.min(most, -open[j]);

    capacity[d][s] -= most;
    capacity[d ^ 1][t] += most;
    for (i = s; parent[i] !== AT_TERMINAL;) {
      const to = parent[i];
      const up = i + offset[to];
      capacity[to][i] += most;
      if ((capacity[to ^ 1][up] -= most) <= 0) {
        capacity[to ^ 1][up] = 0;
        orphan(i);
      }
      i = up;
    }
    if ((open[i] -= most) <= 0) {
      open[i] = 0;
      orphan(i);
    }
    for (j = t; parent[j] !== AT_TERMINAL;) {
      const to = parent[j];
      const up = j + offset[to];
      capacity[to ^ 1][up] += most;
      if ((capacity[to][j] -= most) <= 0) {
        capacity[to][j] = 0;
        orphan(j);
      }
      j = up;
    }
    if ((open[j] += most) >= 0) {
      open[j] = 0;
      orphan(j);
    }
  };

  /** How far a node is from its terminal; 0 where it hangs on none. */
  const rooted = (from: number): number => {
    let d = 0;
    let i = from;
    for (;;) {
      if (stamp[i] === time) {
        d += distance[i];
        break;
      }
      d++;
      if (parent[i] === AT_TERMINAL) {
        stamp[i] = time;
        distance[i] = 1;
        break;
      }
      if (parent[i] === ORPHAN || parent[i] === NONE) return 0;
      i += offset[parent[i]];
    }
    let left = d;
    for (let k = from; stamp[k] !== time; k += offset[parent[k]]) {
      stamp[k] = time;
      distance[k] = left--;
    }
    return d;
  };

  const adopt = (i: number) => {
    const side = tree[i];
    let best = NONE;
    let nearest = Infinity;
    for (let d = 0; d < 4; d++) {
      if (!has(i, d)) continue;
      const j = i + offset[d];
      const room = side === SOURCE ? capacity[d ^ 1][j] : capacity[d][i];
      if (tree[j] !== side || room <= 0) continue;
      const far = rooted(j);
      if (far > 0 && far < nearest) {
        nearest = far;
        best = d;
      }
    }
    if (best !== NONE) {
      parent[i] = best;
      stamp[i] = time;
      distance[i] = nearest + 1;
      return;
    }
    for (let d = 0; d < 4; d++) {
      if (!has(i, d)) continue;
      const j = i + offset[d];
      if (tree[j] !== side) continue;
      const room = side === SOURCE ? capacity[d ^ 1][j] : capacity[d][i];
      if (room > 0) activate(j);
      if (parent[j] < AT_TERMINAL && j + offset[parent[j]] === i) orphan(j);
    }
    tree[i] = FREE;
    parent[i] = NONE;
  };

  while (waiting > 0) {
    const i = queue[head];
    if (tree[i] !== FREE) {
      let [met, direction] = [-1, 0];
      for (let d = 0; d < 4 && met < 0; d++) {
        if (!has(i, d)) continue;
        const j = i + offset[d];
        const room = tree[i] === SOURCE ? capacity[d][i] : capacity[d ^ 1][j];
        if (room <= 0) continue;
        if (tree[j] === FREE) {
          tree[j] = tree[i];
          parent[j] = d ^ 1;
          stamp[j] = stamp[i];
          distance[j] = distance[i] + 1;
          activate(j);
        } else if (tree[j] !== tree[i]) {
          [met, direction] = tree[i] === SOURCE ? [i, d] : [j, d ^ 1];
        } else if (stamp[j] <= stamp[i] && distance[j] > distance[i] + 1 && parent[j] !== AT_TERMINAL) {
          parent[j] = d ^ 1;
          stamp[j] = stamp[i];
          distance[j] = distance[i] + 1;
        }
      }
      if (met >= 0) {
        time++;
        augment(met, direction);
        while (orphans.length) adopt(orphans.pop()!);
        continue;
      }
    }
    queued[i] = 0;
    head = (head + 1) % n;
    waiting--;
  }
  return Uint8Array.from(tree, (t) => (t === SOURCE ? 1 : 0));
}
