import { sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { Scope } from "../../../kernels/Kernels";
import type { EngineContext } from "../../EngineContext";
import type { Planes } from "../frames/frameSamples";
import { maskPlane } from "../masks/maskPlane";
import { atLevelOf, LEAST, MARGIN, maskBounds, squareRootPlanes } from "./retouch";
import type { PreparedJob } from "../layers/PreparedJob";

/** Variance of encoded values below which an area counts as flat. */
const NOISE_VARIANCE = 1e-5;

/** Mean and variance of some samples of a plane. */
function spreadOf(plane: Float32Array, of: number[]): { mean: number; variance: number } {
  let [sum, square] = [0, 0];
  for (const i of of) {
    sum += plane[i];
    square += plane[i] * plane[i];
  }
  const mean = sum / of.length;
  return { mean, variance: Math.max(0, square / of.length - mean * mean) + NOISE_VARIANCE };
}

/**
 * How unlike a source is to what surrounds an area: px by px along both borders, in roughness and in tone, each against what both vary by
 * themselves; a plain sum of squares always prefers a flat source, which leaves a bare patch among reeds. What comes to lie inside has to be as
 * rough as the surroundings and no other thing than its own border.
 * @param here border of the area @param there the same moved to the source @param inner of the source
 * @param seated share of a difference of tone that does not count, since the source is seated in the tones around
 */
function unlike(plane: Float32Array, here: number[], there: number[], inner: number[], seated: number): number {
  const [around, border, inside] = [here, there, inner].map((of) => spreadOf(plane, of));
  const both = around.variance + border.variance;
  const tone = (around.mean - border.mean) ** 2;
  const apart = here.reduce((sum, i, k) => sum + (plane[i] - plane[there[k]]) ** 2, 0) / here.length;
  const rough = (of: { variance: number }) => Math.abs(Math.log(around.variance / of.variance));
  const blob = (inside.mean - border.mean) ** 2 / (border.variance + inside.variance);
  return (apart - tone) / both + rough(border) + rough(inside) + ((1 - seated) * tone) / both + blob;
}

/** Rings and turns at which a source is looked for. */
const TURNS = 16;
const RINGS = [1.15, 1.6, 2.3, 3.2];
/** How much more a source costs for each size of the area that it is away: what is near is mostly of the same kind. Common practice, no source. */
const NEARER = 0.3;

/** Share of an even difference in tone that does not count where it is seated anyway: what is much darker is mostly another thing. Common practice, no source. */
const SEATED = 0.5;

/**
 * The step to a place beside the area whose surroundings are most like the area's own, px; null of an area that reveals nothing.
 * @param read planes of what lies below the layer, in any rectangle of a level
 */
export function proposeSource(
  ctx: EngineContext,
  job: PreparedJob,
  layer: LayerRecord,
  read: (level: number, rect: Rectangle, scope: Scope) => Planes,
): { dx: number; dy: number } | null {
  const area = maskBounds(ctx, job, layer);
  if (!area) return null;
  const { width, height } = job.inputs;
  const level = Math.max(0, Math.min(job.merge.picture.spec.levels - 1, Math.floor(Math.log2(Math.max(1, Math.max(area.width, area.height) / 28)))));
  const size = sizeAtLevel(width, height, level);
  const rect = atLevelOf(area, level, MARGIN, size);
  const mask = maskPlane(ctx, job, layer, level, rect);
  const reach = Math.ceil(Math.max(rect.width, rect.height) * RINGS[RINGS.length - 1]);
  const wide = widen(rect, reach, size);
  const planes = ctx.kernels.withScope((scope) => squareRootPlanes(scope, read(level, wide, scope), wide.width * wide.height));
  const seated = layer.content.type === "retouch" && layer.content.method === "clone" ? 0 : SEATED;
  const border: number[] = [];
  const inside: number[] = [];
  mask.forEach((v, i) => {
    if (v > LEAST) inside.push(i);
    const near = [i - 1, i + 1, i - rect.width, i + rect.width].some((j) => (mask[j] ?? 0) > LEAST);
    if (v <= LEAST && near) border.push(i);
  });
  if (border.length === 0) return null;
  const index = (i: number, dx: number, dy: number) =>
    (rect.y - wide.y + Math.floor(i / rect.width) + dy) * wide.width + rect.x - wide.x + (i % rect.width) + dx;
  const here = border.map((i) => index(i, 0, 0));
  let best: { dx: number; dy: number; cost: number } | null = null;
  for (const ring of RINGS) {
    for (let k = 0; k < TURNS; k++) {
      const angle = (2 * Math.PI * k) / TURNS;
      const dx = Math.round(ring * rect.width * Math.cos(angle));
      const dy = Math.round(ring * rect.height * Math.sin(angle));
      const moved = { ...rect, x: rect.x + dx, y: rect.y + dy };
      if (moved.x < wide.x || moved.y < wide.y || moved.x + moved.width > wide.x + wide.width || moved.y + moved.height > wide.y + wide.height) continue;
      const there = border.map((i) => index(i, dx, dy));
      const inner = inside.map((i) => index(i, dx, dy));
      const cost = (1 + NEARER * ring) * planes.reduce((sum, plane) => sum + unlike(plane, here, there, inner, seated), 0);
      if (!best || cost < best.cost) best = { dx, dy, cost };
    }
  }
  return best && { dx: best.dx * 2 ** level, dy: best.dy * 2 ** level };
}
