import { toOklab } from "../../../core/color/oklab";
import { levelOfSide, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { findSky } from "../../../core/masks/findAreas";
import { withWires } from "../../../core/matte/wires";
import { growBand, KEEP, type Proposal, type SmallPicture } from "../../../core/matte/growBand";
import { markBand } from "../../../core/matte/markBand";
import { backdropPlanes, differsFromPlate, fitBackdrop, gapsBetweenStrands, plateGains, plateIsSeen } from "../../../core/matte/plates";
import { proposeBand } from "../../../core/matte/proposeBand";
import { BACKGROUND, type Colours, type MatteField } from "../../../core/matte/trimap";
import type { Stepwise } from "../../../core/numeric/stepwise";
import { Refusal } from "../../../core/refusal";
import type { CutMark } from "../../../kinds/contents/frame/record";
import { bytesHeld } from "../../graph/bytesHeld";
import type { DerivedCache } from "../../graph/DerivedCache";
import { hashOf, hashOfBytes, hashOfFixed } from "../../graph/keys";
import { codeOf, eachMarked } from "./cutMarks";

/** A picture as it is cut: linear working light of any rectangle of a display level. */
export interface CutPicture {
  /** what identifies its samples */
  key: unknown;
  width: number;
  height: number;
  levels: number;
  read(level: number, rect: Rectangle): Colours;
}

/** By what it is told what is wanted. */
export type Cutting =
  | { by: "box"; box: Rectangle }
  /** 0 behind, 128 unknown, 255 in front, for each px of the picture */
  | { by: "trimap"; codes: Uint8Array }
  /** the same view without it, placed onto the picture */
  | { by: "plate"; plate: CutPicture }
  | { by: "backdrop" }
  /** all that is not the sky */
  | { by: "sky" }
  /** the alpha that the picture came with, of any rectangle of a display level */
  | { by: "alpha"; alpha: (level: number, rect: Rectangle) => Float32Array };

const VERSION = 2;
/** Longest side of the level on which a band is proposed. */
const SIDE = 480;
/** A plate differs from its picture nearly everywhere where it is not of the same view. */
const MOST_DIFFERENT = 0.6;

/**
 * What is known of a picture of which something is cut out: proposed at about 480 px by what is told, and marked there, stroke after stroke. All that is made is kept under its key.
 * @throws Refusal where nothing can be told apart
 */
export class CutProposals {
  /** the level on which it is proposed */
  readonly base: number;
  private readonly keys: string[];

  constructor(
    private readonly cache: DerivedCache,
    readonly picture: CutPicture,
    readonly cutting: Cutting,
    readonly marks: readonly CutMark[],
  ) {
    this.base = Math.min(picture.levels - 1, levelOfSide(picture, SIDE));
    const told = cutting.by === "trimap" ? hashOfBytes(cutting.codes) : cutting.by === "plate" ? cutting.plate.key : cutting.by === "alpha" ? null : cutting;
    this.keys = [hashOf(["cut", VERSION, picture.key, cutting.by, told])];
    for (const mark of marks) this.keys.push(hashOf([this.keys[this.keys.length - 1], hashOfFixed(mark)]));
  }

  /** Key of all that is told. */
  get key(): string {
    return this.keys[this.marks.length];
  }

  /** What is known by all marks. */
  proposal(): Stepwise<Proposal> {
    return this.marked(this.marks.length);
  }

  sizeOf(level: number): { width: number; height: number } {
    return sizeAtLevel(this.picture.width, this.picture.height, level);
  }

  /** The picture in a rectangle of a level, with what lies behind it where that is known by itself. */
  fieldOf({ level, rect, known }: { level: number; rect: Rectangle; known: Uint8Array }): MatteField {
    return { width: rect.width, height: rect.height, rgb: this.picture.read(level, rect), known, plate: this.behind()?.(level, rect) ?? null };
  }

  /** What of a key is kept, made where it is not at hand. */
  *kept<T>(name: string, make: () => Stepwise<T>): Stepwise<T> {
    const known = this.cache.get<T>(name);
    if (known !== undefined) return known;
    const made = yield* make();
    this.cache.set(name, made, bytesHeld(made));
    return made;
  }

  private small(): SmallPicture {
    const size = this.sizeOf(this.base);
    const { rgb, plate } = this.fieldOf({ level: this.base, rect: { x: 0, y: 0, ...size }, known: new Uint8Array(0) });
    return { ...size, rgb, lab: labOf(rgb), plate };
  }

  /** What is known by the first so many marks, at the level of the proposal. */
  private *marked(count: number): Stepwise<Proposal> {
    let at = count;
    while (at > 0 && this.cache.get(`proposal/${this.keys[at]}`) === undefined) at--;
    const first = (): Stepwise<Proposal> => this.firstProposal();
    let proposal = yield* this.kept(`proposal/${this.keys[at]}`, first);
    if (at === count) return proposal;
    const small = this.small();
    const { width, height } = small;
    const said = new Uint8Array(width * height);
    const whole = { x: 0, y: 0, width, height };
    for (const mark of this.marks.slice(0, at)) eachMarked(mark, this.base, whole, (i) => (said[i] = codeOf(mark)));
    for (; at < count; at++) {
      const mark = new Uint8Array(width * height);
      eachMarked(this.marks[at], this.base, whole, (i) => {
        mark[i] = 1;
        said[i] = codeOf(this.marks[at]);
      });
      const before = proposal;
      // a mark outside of the picture says nothing
      const next = (): Stepwise<Proposal> => (mark.includes(1) ? markBand(small, before, mark, said, this.mayHold(mark)) : unchanged(before));
      proposal = yield* this.kept(`proposal/${this.keys[at + 1]}`, next);
    }
    return proposal;
  }

  /** Where what a mark keeps can go on: within the box, where the mark is. */
  private mayHold(mark: Uint8Array): (i: number) => boolean {
    const { width } = this.sizeOf(this.base);
    if (this.cutting.by !== "box") return () => true;
    const { x0, y0, x1, y1 } = boxAt(this.cutting.box, this.base);
    const isIn = (i: number) => i % width >= x0 && i % width < x1 && Math.floor(i / width) >= y0 && Math.floor(i / width) < y1;
    return mark.every((on, i) => !on || isIn(i)) ? isIn : () => true;
  }

  private *firstProposal(): Stepwise<Proposal> {
    const { cutting, base } = this;
    const small = this.small();
    const { width, height, rgb, plate } = small;
    const found =
      cutting.by === "box"
        ? yield* proposeBand(small, boxAt(cutting.box, base))
        : cutting.by === "sky"
          ? yield* beforeSky(small)
          : yield* beforePlate(small, rgb, plate!, plateIsSeen(rgb, plate!, width, height, cutting.by === "plate"), cutting.by);
    if (found) return found;
    // what was not found can still be marked
    if (!this.marks.some((m) => codeOf(m) === KEEP)) throw new Refusal("unclear", "matte.noSubject");
    const n = width * height;
    return { mask: new Uint8Array(n), known: new Uint8Array(n).fill(BACKGROUND), alpha: new Float32Array(n) };
  }
  /** What lies behind everything where that is known by itself, in the picture's own light. */
  private behind(): ((level: number, rect: Rectangle) => Colours) | null {
    const { cutting, cache, picture, base } = this;
    const whole = { x: 0, y: 0, ...this.sizeOf(base) };
    if (cutting.by === "plate") {
      const { plate } = cutting;
      const gains = cache.take(`gains/${this.keys[0]}`, () => plateGains(picture.read(base, whole), plate.read(base, whole)), bytesHeld);
      return (level, rect) => plate.read(level, rect).map((plane, c) => plane.map((v) => v * gains[c])) as unknown as Colours;
    }
    if (cutting.by !== "backdrop") return null;
    const fitted = cache.take(`backdrop/${this.keys[0]}`, () => ({ surface: fitBackdrop(picture.read(base, whole), whole.width, whole.height) }), bytesHeld);
    if (!fitted.surface) throw new Refusal("unclear", "matte.notEven");
    const { surface } = fitted;
    return (level, rect) => backdropPlanes(surface, this.sizeOf(level), rect);
  }
}

function* unchanged(before: Proposal): Stepwise<Proposal> {
  return before;
}

function* beforePlate(small: SmallPicture, rgb: Colours, plate: Colours, through: Uint8Array | null, by: string): Stepwise<Proposal | null> {
  const differs = differsFromPlate(rgb, plate, small.width, small.height);
  if (!differs || differs.reduce((sum, v) => sum + v, 0) > MOST_DIFFERENT * differs.length)
    throw new Refusal("unclear", by === "plate" ? "matte.otherView" : "matte.notEven");
  const { width, height } = small;
  const gaps = gapsBetweenStrands(rgb, plate, differs, width, height);
  const seen = gaps.map((on, i) => (on || through?.[i] ? 1 : 0));
  return differs.includes(1) ? yield* growBand(small, differs, seen, () => null) : null;
}

/** All that stands before a sky; null where no sky is found. */
function* beforeSky(small: SmallPicture): Stepwise<Proposal | null> {
  const sky = findSky(small);
  return sky ? yield* growBand(small, withWires(small, sky.mask), null, () => null) : null;
}

function boxAt({ x, y, width, height }: Rectangle, level: number) {
  const at = (v: number) => (v + 0.5) / 2 ** level - 0.5;
  return { x0: at(x), y0: at(y), x1: at(x + width), y1: at(y + height) };
}

function labOf([R, G, B]: Colours): Colours {
  const lab = [0, 1, 2].map(() => new Float32Array(R.length)) as unknown as Colours;
  const out = new Float64Array(3);
  for (let i = 0; i < R.length; i++) {
    toOklab(R[i], G[i], B[i], out);
    for (let c = 0; c < 3; c++) lab[c][i] = out[c];
  }
  return lab;
}
