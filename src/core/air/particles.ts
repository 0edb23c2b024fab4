import { hash01 } from "./noise";

/** Small things in the air: dust, rain, snow, seeds. Px of the picture at full size, seconds, metres. */
export interface Particles {
  /** of them in the picture, about */
  count: number;
  sizeMm: number;
  /** from how near to how far they are */
  nearM: number;
  farM: number;
  /** how fast they fall, and drift to the right, m/s; and for how long they are seen */
  fallMs: number;
  driftMs: number;
  exposureS: number;
  /** at what distance they are sharp, and how wide what is infinitely far is blurred, px */
  focusM: number;
  blurPx: number;
  seed: number;
}

/** One of them as it is seen: a streak with round ends, px of the full size. */
export interface Particle {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  radius: number;
  /** how much of what is behind it hides, 0..1 */
  opacity: number;
  distanceM: number;
}

/** Shells of distance, of each its own grid of places. */
const SHELLS = 10;
/** What is sharper than the lens, px. */
const SHARPEST = 0.6;
/** No streak or blur is larger, px: what is that near is not seen. */
export const MOST_REACH = 400;

/**
 * Visits all that may be seen in a rectangle of the full size: where each stands follows from its shell and its place in that alone, so that every rectangle and level has the same.
 */
export function eachParticle(
  told: Particles,
  focalPx: number,
  size: { width: number; height: number },
  rect: { x: number; y: number; width: number; height: number },
  visit: (p: Particle) => void,
): void {
  const { nearM, farM, count, sizeMm, fallMs, driftMs, exposureS, focusM, blurPx, seed } = told;
  const far = Math.max(nearM * 1.001, farM);
  // as many in each volume: the further shells hold more of them
  const volume = (m: number): number => m * m * m;
  const all = volume(far) - volume(nearM);
  for (let shell = 0; shell < SHELLS; shell++) {
    const from = nearM * (far / nearM) ** (shell / SHELLS);
    const to = nearM * (far / nearM) ** ((shell + 1) / SHELLS);
    const here = (count * (volume(to) - volume(from))) / all;
    if (here < 0.01) continue;
    const side = Math.sqrt((size.width * size.height) / here);
    const reach = Math.min(MOST_REACH, reachOf(told, focalPx, from));
    const [i0, i1] = [Math.floor((rect.x - reach) / side), Math.floor((rect.x + rect.width + reach) / side)];
    const [j0, j1] = [Math.floor((rect.y - reach) / side), Math.floor((rect.y + rect.height + reach) / side)];
    for (let j = j0; j <= j1; j++) {
      for (let i = i0; i <= i1; i++) {
        const at = (what: number): number => hash01(i, j, shell * 16 + what, seed);
        const distanceM = from + at(0) * (to - from);
        const [x, y] = [(i + at(1)) * side, (j + at(2)) * side];
        const perMetre = focalPx / distanceM;
        // some are larger, and fall otherwise, by half
        const size01 = 0.5 + at(3);
        const r = (sizeMm / 2000) * size01 * perMetre;
        const blur = (blurPx / 2) * Math.abs(1 - focusM / distanceM);
        const radius = Math.sqrt(r * r + blur * blur + SHARPEST * SHARPEST);
        const [dx, dy] = [driftMs * (0.5 + at(4)) * exposureS * perMetre, fallMs * (0.75 + 0.5 * at(5)) * exposureS * perMetre];
        const length = Math.sqrt(dx * dx + dy * dy);
        if (radius + length / 2 > reach) continue;
        // what is spread over more px hides less of each
        const opacity = Math.min(1, (Math.PI * r * r) / (Math.PI * radius * radius + 2 * radius * length));
        visit({ x0: x - dx / 2, y0: y - dy / 2, x1: x + dx / 2, y1: y + dy / 2, radius, opacity, distanceM });
      }
    }
  }
}

/** How far what is that near reaches from its middle, px, at most. */
function reachOf({ sizeMm, fallMs, driftMs, exposureS, focusM, blurPx }: Particles, focalPx: number, nearM: number): number {
  const perMetre = focalPx / nearM;
  const blur = (blurPx / 2) * Math.abs(1 - focusM / nearM);
  return Math.hypot((sizeMm / 2000) * 1.5 * perMetre, blur, SHARPEST) + (Math.hypot(1.25 * fallMs, 1.5 * driftMs) * exposureS * perMetre) / 2 + 1;
}

/** How much of a px a particle hides. @param scale px of the full size in one of the level's */
export function hiddenBy({ x0, y0, x1, y1, radius, opacity }: Particle, x: number, y: number, scale: number): number {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const length = dx * dx + dy * dy;
  const t = length > 0 ? Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / length)) : 0;
  const [u, v] = [x - x0 - t * dx, y - y0 - t * dy];
  // on a coarse level it is wider and hides less, the same in all
  const wide = Math.max(radius, 0.6 * scale);
  const edge = Math.max(1, scale);
  const share = (wide + edge / 2 - Math.sqrt(u * u + v * v)) / edge;
  return share <= 0 ? 0 : opacity * Math.min(1, share) * (radius / wide) * (length > wide * wide ? 1 : radius / wide);
}
