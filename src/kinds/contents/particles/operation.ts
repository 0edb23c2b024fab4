import { eachParticle, hiddenBy, type Particle } from "../../../core/air/particles";
import { plateNow } from "../../../document/seatEdits";
import { depthsOf, type Depths } from "../../../engine/operations/light/depths";
import { each } from "../../../engine/operations/frames/frameSamples";
import type { ContentOperation } from "../tools";
import type { ParticlesContent } from "./record";

/** Lays small things in the air over what is further away than each. */
export const particles: ContentOperation<ParticlesContent> = (on, content, layer, backdrop, scope) => {
  const plate = plateNow(on.job.records);
  if (!plate) return null;
  const { level, rect, width, height } = on.where;
  const scale = 2 ** level;
  const depths = depthsOf(on.job, plate, layer, on.where, content.farM * 2);
  const out = on.own(backdrop, scope);
  const planes = each(out).map((at) => on.ctx.kernels.f32(at, on.n));
  const whole = { x: rect.x * scale, y: rect.y * scale, width: rect.width * scale, height: rect.height * scale };
  const found: Particle[] = [];
  eachParticle(content, plate.stance.focalPx, { width, height }, whole, (p) => found.push(p));
  // far ones lie under near ones
  found.sort((a, b) => b.distanceM - a.distanceM || a.x0 - b.x0);
  for (const particle of found) {
    const shown = content.solid * seenOf(depths, particle);
    if (shown === 0) continue;
    const reach = Math.max(particle.radius, scale) + scale;
    const [left, right] = [Math.min(particle.x0, particle.x1) - reach, Math.max(particle.x0, particle.x1) + reach];
    const [top, bottom] = [Math.min(particle.y0, particle.y1) - reach, Math.max(particle.y0, particle.y1) + reach];
    const at = (v: number) => (v + 0.5) / scale - 0.5;
    for (let y = Math.max(rect.y, Math.floor(at(top))); y <= Math.min(rect.y + rect.height - 1, Math.ceil(at(bottom))); y++) {
      for (let x = Math.max(rect.x, Math.floor(at(left))); x <= Math.min(rect.x + rect.width - 1, Math.ceil(at(right))); x++) {
        const hides = shown * hiddenBy(particle, (x + 0.5) * scale - 0.5, (y + 0.5) * scale - 0.5, scale);
        if (hides === 0) continue;
        const k = (y - rect.y) * rect.width + x - rect.x;
        for (let c = 0; c < 3; c++) planes[c][k] += hides * (content.color[c] - planes[c][k]);
      }
    }
  }
  return { planes: out, alpha: on.everywhere(scope, backdrop), changes: true };
};

/** How much of a particle is seen past what stands before it: looked at in its middle, so that it is the same in every rectangle. */
function seenOf({ stands, plateAt, alongRay }: Depths, { x0, y0, x1, y1, distanceM }: Particle): number {
  const [x, y] = [(x0 + x1) / 2, (y0 + y1) / 2];
  if (plateAt(x, y) < distanceM) return 0;
  return stands.reduce((left, thing) => (alongRay(thing, x, y) < distanceM ? left * (1 - thing.coversAt(x, y)) : left), 1);
}
