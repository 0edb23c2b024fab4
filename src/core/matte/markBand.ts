import { fitColours, unlikeliness } from "../masks/colourModel";
import { connectedCells } from "../masks/components";
import { cutGrid } from "../numeric/gridCut";
import { asPart, type Stepwise } from "../numeric/stepwise";
import { boxMean } from "../raster/boxMean";
import { cutOut } from "../raster/planeParts";
import { FIRST, growUntilSettled, KEEP, knownByMask, LEAVE, OPEN, settled, touched, type Proposal, type SmallPicture } from "./growBand";
import { solveAgain } from "./solveMatte";
import { BACKGROUND, FOREGROUND, UNKNOWN, type Colours } from "./trimap";

/** What goes on from a mark is looked for in so many samples around it. Common practice, no source. */
const AROUND = 60;
/** Strength of the wish for short borders along edges, as for a subject in a box. */
const SMOOTHNESS = 12;
const SURE = 1e6;
/** A mark of fewer samples says its colour with those beside it. */
const FEW = 30;

/**
 * What is known once a person has marked something: what is like the mark and goes on from it comes along, up to the next edges; all that is far from it stays as it was.
 * @param mark the samples that it lies on @param said KEEP, LEAVE, OPEN or 0 of all marks, this one too
 * @param mayHold where what is wanted can be, besides where it is marked
 */
export function* markBand(
  small: SmallPicture,
  before: Proposal,
  mark: Uint8Array,
  said: Uint8Array,
  mayHold: (i: number) => boolean = () => true,
): Stepwise<Proposal> {
  const { width, height } = small;
  const told = (i: number) => (said[i] === KEEP ? FOREGROUND : said[i] === LEAVE ? BACKGROUND : said[i] === OPEN ? UNKNOWN : null);
  const what = said[mark.indexOf(1)];
  const mask = what === KEEP || what === LEAVE ? goingOn(small, before.mask, mark, said, what, mayHold) : before.mask;
  const changed = Float32Array.from(mask, (on, i) => (mark[i] || on !== before.mask[i] ? 1 : 0));
  const within = (by: number) => touched(boxMean({ width, height, data: changed }, by));
  const near = within(FIRST + 1);
  const byMask = knownByMask(small, mask, null, told);
  const known = before.known.map((k, i) => (near[i] ? byMask[i] : k));
  yield 0.2;
  const about = within(3 * FIRST);
  const solved = yield* asPart(solveAgain({ ...small, known }, before.alpha, about), 0.2, 0.5);
  const grown = yield* asPart(growUntilSettled(small, known, solved.alpha, null, told, about), 0.5, 1);
  const narrow = settled(small, grown.known, grown.alpha, told, about);
  const alpha = grown.alpha.map((a, i) => (narrow[i] === FOREGROUND ? 1 : narrow[i] === BACKGROUND ? 0 : a));
  return { mask, known: narrow, alpha };
}

/** A mask with what hangs together with a mark and is like it taken in, or out. */
function goingOn(
  { width, height, lab }: SmallPicture,
  mask: Uint8Array,
  mark: Uint8Array,
  said: Uint8Array,
  what: number,
  mayHold: (i: number) => boolean,
): Uint8Array {
  const side = what === KEEP ? 1 : 0;
  const out = mask.map((on, i) => (mark[i] ? side : on));
  const own = modelOf(lab, mark, width, height);
  const others = fitColours(
    lab,
    mask.map((on, i) => (on !== side && !mark[i] ? 1 : 0)),
  );
  if (!own || !others) return out;
  const window = around(mark, width, height);
  const whole = { x: 0, y: 0, width, height };
  const [L, a, b] = lab.map((plane) => cutOut(plane, whole, window));
  const at = (i: number) => (window.y + Math.floor(i / window.width)) * width + window.x + (i % window.width);
  const n = window.width * window.height;
  const step = (i: number, j: number) => (L[i] - L[j]) ** 2 + (a[i] - a[j]) ** 2 + (b[i] - b[j]) ** 2;
  const isLastColumn = (i: number) => (i % window.width) + 1 === window.width;
  let [sum, count] = [0, 0];
  for (let i = 0; i < n; i++) if (!isLastColumn(i)) [sum, count] = [sum + step(i, i + 1), count + 1];
  const beta = count / (2 * Math.max(1e-9, sum));
  const [right, down, terminal] = [0, 1, 2].map(() => new Float32Array(n));
  for (let i = 0; i < n; i++) {
    if (!isLastColumn(i)) right[i] = SMOOTHNESS * Math.exp(-beta * step(i, i + 1));
    if (i + window.width < n) down[i] = SMOOTHNESS * Math.exp(-beta * step(i, i + window.width));
    const j = at(i);
    // the side that the mark is on is the source
    const isOwn = mask[j] === side;
    const isBarred = side === 1 && !isOwn && !mayHold(j);
    const said1 = said[j] === KEEP ? 1 : said[j] === LEAVE ? 0 : null;
    terminal[i] =
      said1 !== null
        ? said1 === side
          ? SURE
          : -SURE
        : isOwn
          ? SURE
          : isBarred
            ? -SURE
            : unlikeliness(others, L[i], a[i], b[i]) - unlikeliness(own, L[i], a[i], b[i]);
  }
  const cut = cutGrid({ width: window.width, height: window.height, terminal, right, down });
  const taken = cut.map((on, i) => (on && mask[at(i)] !== side ? 1 : 0));
  for (const cells of connectedCells(taken, window.width, window.height)) if (cells.some((i) => mark[at(i)])) for (const i of cells) out[at(i)] = side;
  return out;
}

function modelOf(lab: Colours, mark: Uint8Array, width: number, height: number) {
  const count = mark.reduce((n, on) => n + on, 0);
  if (count >= FEW) return fitColours(lab, mark);
  return fitColours(lab, touched(boxMean({ width, height, data: Float32Array.from(mark) }, 2)));
}

/** The samples in which what goes on from a mark is looked for. */
function around(mark: Uint8Array, width: number, height: number): { x: number; y: number; width: number; height: number } {
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  mark.forEach((on, i) => {
    if (!on) return;
    const x = i % width;
    const y = (i - x) / width;
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  });
  const [left, top] = [Math.max(0, x0 - AROUND), Math.max(0, y0 - AROUND)];
  return { x: left, y: top, width: Math.min(width, x1 + AROUND + 1) - left, height: Math.min(height, y1 + AROUND + 1) - top };
}
