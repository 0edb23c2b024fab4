/** Against the maximum flow of Edmonds and Karp (recalled from memory) on the same graphs: the cut found must cost what the flow carries. */
import { randomOf } from "../../../tests/support/kernels";
import { cutGrid, type GridGraph } from "./gridCut";

/** Flow by shortest augmenting paths over an adjacency matrix. */
function maximumFlow({ width: w, height: h, terminal, right, down }: GridGraph): number {
  const n = w * h + 2;
  const [s, t] = [n - 2, n - 1];
  const c = Array.from({ length: n }, () => new Float64Array(n));
  for (let i = 0; i < w * h; i++) {
    if (terminal[i] > 0) c[s][i] = terminal[i];
    else c[i][t] = -terminal[i];
    if (i % w < w - 1) c[i][i + 1] = c[i + 1][i] = right[i];
    if (i + w < w * h) c[i][i + w] = c[i + w][i] = down[i];
  }
  for (let flow = 0; ;) {
    const from = new Int32Array(n).fill(-1);
    from[s] = s;
    const queue = [s];
    for (const i of queue) {
      for (let j = 0; j < n; j++) {
        if (from[j] >= 0 || c[i][j] <= 1e-9) continue;
        from[j] = i;
        queue.push(j);
      }
    }
    if (from[t] < 0) return flow;
    let most = Infinity;
    for (let j = t; j !== s; j = from[j]) most = Math.min(most, c[from[j]][j]);
    for (let j = t; j !== s; j = from[j]) {
      c[from[j]][j] -= most;
      c[j][from[j]] += most;
    }
    flow += most;
  }
}

function costOf({ width: w, height: h, terminal, right, down }: GridGraph, side: Uint8Array): number {
  let cost = 0;
  for (let i = 0; i < w * h; i++) {
    if (side[i] ? terminal[i] < 0 : terminal[i] > 0) cost += Math.abs(terminal[i]);
    if (i % w < w - 1 && side[i] !== side[i + 1]) cost += right[i];
    if (i + w < w * h && side[i] !== side[i + w]) cost += down[i];
  }
  return cost;
}

it.each([1, 2, 3, 4, 5, 6, 7, 8])("the cut of random grid %i costs what the largest flow carries", (seed) => {
  const random = randomOf(seed);
  const [width, height] = [3 + Math.floor(random() * 7), 2 + Math.floor(random() * 7)];
  const whole = (most: number) => Math.floor(random() * most);
  const graph: GridGraph = {
    width,
    height,
    terminal: Float32Array.from({ length: width * height }, () => (random() < 0.4 ? 0 : whole(21) - 10)),
    right: Float32Array.from({ length: width * height }, () => whole(8)),
    down: Float32Array.from({ length: width * height }, () => whole(8)),
  };
  expect(costOf(graph, cutGrid(graph))).toBe(maximumFlow(graph));
});

it("a wall of cheap arcs is where a grid is cut", () => {
  const [width, height] = [30, 20];
  const right = new Float32Array(width * height).fill(5);
  const down = new Float32Array(width * height).fill(5);
  const terminal = new Float32Array(width * height);
  const wall = (y: number) => 10 + Math.round(4 * Math.sin(y / 3));
  for (let y = 0; y < height; y++) {
    terminal[y * width] = 1000;
    terminal[y * width + width - 1] = -1000;
    right[y * width + wall(y)] = 0.1;
  }
  for (let i = 0; i < down.length; i++) down[i] = 0.05;
  const side = cutGrid({ width, height, terminal, right, down });
  for (let y = 0; y < height; y++) for (let x = 0; x < width; x++) expect(side[y * width + x]).toBe(x <= wall(y) ? 1 : 0);
});
