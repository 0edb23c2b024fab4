import { findSubject, unlikeBeside, type Box } from "../masks/findAreas";
import { fitColours, unlikeliness } from "../masks/colourModel";
import { connectedCells } from "../masks/components";
import { asPart, type Stepwise } from "../numeric/stepwise";
import { median, quantile } from "../numeric/statistics";
import { boxMean } from "../raster/boxMean";
import { growBand, type Proposal, type SmallPicture } from "./growBand";
import { BACKGROUND, type Colours } from "./trimap";

/**
 * What is known of a picture from a box: the subject is parted by colour, the band about its border is solved, and grows wherever strands go on beyond it.
 * @returns null where no subject is found
 */
export function* proposeBand(small: SmallPicture, box: Box): Stepwise<Proposal | null> {
  const { width } = small;
  const found = findSubject(small, box, unlikeBeside(small, box));
  if (!found) return null;
  yield 0.3;
  const isIn = (i: number) => {
    const x = i % width;
    const y = (i - x) / width;
    return x >= box.x0 && x < box.x1 && y >= box.y0 && y < box.y1;
  };
  if (!standsOut(small.lab, found.mask, isIn)) return null;
  const mask = withoutOtherBodies(found.mask, small);
  return yield* asPart(
    growBand(small, mask, softLumps(mask, small), (i) => (isIn(i) ? null : BACKGROUND)),
    0.3,
    1,
  );
}

/** A thing stands out where at least this share of it is unlike what lies around its box, which only so much of that itself is. Common practice, no source. */
const [STRANGE_OF_THING, STRANGE_AROUND] = [0.15, 0.03];

function standsOut(lab: Colours, mask: Uint8Array, isIn: (i: number) => boolean): boolean {
  const around = Uint8Array.from(mask, (_, i) => (isIn(i) ? 0 : 1));
  const model = fitColours(lab, around);
  if (!model) return true;
  const strange = Float32Array.from(mask, (_, i) => unlikeliness(model, lab[0][i], lab[1][i], lab[2][i]));
  const limit = quantile(
    strange.filter((_, i) => around[i]),
    1 - STRANGE_AROUND,
  );
  const thing = strange.filter((_, i) => mask[i]);
  const share = thing.reduce((n, v) => n + (v > limit ? 1 : 0), 0) / thing.length;
  return share > STRANGE_OF_THING;
}

/** Half the width of a limb: what is thinner is left to the band. Samples. Common practice, no source. */
const LIMB = 3;
/** A body apart from the largest one is kept from this share of it on. */
const OTHER_BODY = 0.2;

/** A mask without bodies that only strands hold to its main ones, as patches of background seen between them. */
function withoutOtherBodies(mask: Uint8Array, { width, height }: SmallPicture): Uint8Array {
  const mean = boxMean({ width, height, data: Float32Array.from(mask) }, LIMB);
  const bodies = connectedCells(
    mean.map((v) => (v > 0.999 ? 1 : 0)),
    width,
    height,
  );
  const most = bodies.reduce((n, cells) => Math.max(n, cells.length), 0);
  const other = new Float32Array(mask.length);
  for (const cells of bodies) if (cells.length < OTHER_BODY * most) for (const i of cells) other[i] = 1;
  const wide = boxMean({ width, height, data: other }, LIMB + 1);
  return mask.map((on, i) => (on && wide[i] < 1e-4 ? 1 : 0));
}

/** What is thinner than this share of the thing is a lump of it, or a limb. Common practice, no source. */
const LUMP = 0.3;
/** A lump surely belongs to the thing where its own border is at least this share as steep as the thing's. Common practice, no source. */
const AS_STEEP = 0.4;
/** Smaller lumps are left to the band, share of the thing. */
const LEAST_LUMP = 0.004;
/** Steepness is measured over so many samples on either side of a border. */
const ACROSS = 2;

/** What bulges out of a mask where there is no edge, as patches of background that are like it by chance, or hair: 1 by sample. */
function softLumps(mask: Uint8Array, { width, height, lab }: SmallPicture): Uint8Array {
  const count = mask.reduce((sum, on) => sum + on, 0);
  const radius = Math.round(LUMP * Math.sqrt(count / Math.PI));
  const lumpy = new Uint8Array(mask.length);
  if (radius <= LIMB) return lumpy;
  const over = (on: Uint8Array, by: number, least: number) => boxMean({ width, height, data: Float32Array.from(on) }, by).map((v) => (v > least ? 1 : 0));
  const core = Uint8Array.from(over(mask, radius, 0.999));
  if (!core.includes(1)) return lumpy;
  const main = Uint8Array.from(over(core, radius + 1, 1e-4), (near, i) => near && mask[i]);
  const smooth = lab.map((plane) => boxMean({ width, height, data: plane.slice() }, 1));
  const steepness = (of: (i: number) => boolean): number[] => {
    const steps: number[] = [];
    for (let i = 0; i < mask.length; i++) {
      if (!mask[i] || !of(i)) continue;
      const [x, y] = [i % width, Math.floor(i / width)];
      for (const [dx, dy] of [
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ]) {
        const [u, v] = [x + dx * (ACROSS + 1), y + dy * (ACROSS + 1)];
        const [p, q] = [x - dx * ACROSS, y - dy * ACROSS];
        if (Math.min(u, v, p, q) < 0 || Math.max(u, p) >= width || Math.max(v, q) >= height || mask[(y + dy) * width + x + dx]) continue;
        const [a, b] = [q * width + p, v * width + u];
        steps.push(Math.hypot(smooth[0][a] - smooth[0][b], smooth[1][a] - smooth[1][b], smooth[2][a] - smooth[2][b]));
      }
    }
    return steps;
  };
  const usual = steepness((i) => main[i] === 1);
  if (usual.length === 0) return lumpy;
  const limit = AS_STEEP * median(usual);
  const lumps = connectedCells(
    mask.map((on, i) => (on && !main[i] ? 1 : 0)),
    width,
    height,
  );
  for (const lump of lumps) {
    if (lump.length < LEAST_LUMP * count) continue;
    const own = new Set(lump);
    const steps = steepness((i) => own.has(i));
    if (steps.length > 0 && median(steps) < limit) for (const i of lump) lumpy[i] = 1;
  }
  return lumpy;
}
