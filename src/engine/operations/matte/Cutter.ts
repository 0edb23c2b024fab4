import { toOklab } from "../../../core/color/oklab";
import { intersect, levelOfSide, rectangleAtLevel, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { freeColours } from "../../../core/matte/freeColours";
import { FIRST, growBand, KEEP, type Proposal, type SmallPicture } from "../../../core/matte/growBand";
import { endsAtBorders, judgeMatte, type MatteFigures } from "../../../core/matte/judgeMatte";
import { markBand } from "../../../core/matte/markBand";
import { backdropPlanes, differsFromPlate, fitBackdrop, plateGains, plateIsSeen } from "../../../core/matte/plates";
import { proposeBand } from "../../../core/matte/proposeBand";
import { refineMatte, solveMatte } from "../../../core/matte/solveMatte";
import { BACKGROUND, bandOf, FOREGROUND, halvedPlane, UNKNOWN, type Colours, type MatteField } from "../../../core/matte/trimap";
import { asPart, atOnce, inSteps, type Stepwise } from "../../../core/numeric/stepwise";
import { cutInto } from "../../../core/raster/planeParts";
import { Refusal } from "../../../core/refusal";
import type { CutMark } from "../../../kinds/contents/frame/record";
import { bytesHeld } from "../../graph/bytesHeld";
import type { DerivedCache } from "../../graph/DerivedCache";
import { hashOf, hashOfBytes, hashOfFixed } from "../../graph/keys";
import { portion, type Task } from "../../task";
import { codeOf, eachMarked, knownBy } from "./cutMarks";
import { alphaOver, compact, type FreedMatte, type LevelMatte } from "./LevelMatte";

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
  | { by: "backdrop" };

const VERSION = 1;
/** Longest side of the level on which a band is proposed. */
const SIDE = 480;
/** What is known is read so far about what is not, samples of that level. */
const MARGIN = 6;
/** A band is at most this share of a picture, and at least this one in front and behind: else nothing tells one from the other. */
const [MOST_BAND, LEAST_SIDE] = [0.9, 1e-4];
/** A plate differs from its picture nearly everywhere where it is not of the same view. */
const MOST_DIFFERENT = 0.6;

/**
 * Cuts something out of a picture, at any display level: what is known is proposed at about 480 px and marked there, stroke after stroke; each finer level is solved from
 * its own samples and the one before. All that is made is kept under its key.
 * @throws Refusal where nothing can be told apart
 */
export class Cutter {
  /** the level on which a band is proposed */
  readonly base: number;
  private readonly keys: string[];
  /** what is in use, however large */
  private readonly held = new Map<number, FreedMatte>();

  constructor(
    private readonly cache: DerivedCache,
    private readonly picture: CutPicture,
    private readonly cutting: Cutting,
    private readonly marks: readonly CutMark[],
  ) {
    this.base = Math.min(picture.levels - 1, levelOfSide(picture, SIDE));
    const told = cutting.by === "trimap" ? hashOfBytes(cutting.codes) : cutting.by === "plate" ? cutting.plate.key : cutting;
    this.keys = [hashOf(["cut", VERSION, picture.key, cutting.by, told])];
    for (const mark of marks) this.keys.push(hashOf([this.keys[this.keys.length - 1], hashOfFixed(mark)]));
  }

  /** Whether a level is at hand, or is known not to come. */
  isReady(level: number): boolean {
    return this.held.has(level) || this.cache.get(this.nameOf("freed", level)) !== undefined || this.refusal() !== undefined;
  }

  /** Makes a level ready where it is not, with progress. @throws Refusal where nothing can be told apart */
  async prepare(level: number, task: Task): Promise<FreedMatte> {
    try {
      await this.solve(level, portion(task, 0, 0.8));
      const made = this.known(level) ?? (await this.once(this.nameOf("freed", level), () => this.freed(level), portion(task, 0.8, 1)));
      this.held.set(level, made);
      return made;
    } catch (error) {
      throw this.noted(error);
    }
  }

  /** Finds what is known, at least, so that any level follows soon. What cannot be told is noted, and nothing is thrown for it. */
  async begin(task: Task): Promise<void> {
    if (this.refusal()) return;
    try {
      await this.propose(task);
    } catch (error) {
      if (!(this.noted(error) instanceof Refusal)) throw error;
    }
  }

  private async propose(task: Task): Promise<void> {
    if (this.cutting.by !== "trimap") await this.once(`proposal/${this.keys[this.keys.length - 1]}`, () => this.proposal(this.marks.length), task);
  }

  private async solve(level: number, task: Task): Promise<LevelMatte> {
    const refused = this.refusal();
    if (refused) throw refused;
    await this.propose(portion(task, 0, 0.5));
    for (let l = Math.max(level, this.base - 1); l > level; l--) await this.once(this.nameOf("solved", l), () => this.solved(l), portion(task, 0.5, 0.6));
    return this.once(this.nameOf("solved", level), () => this.solved(level), portion(task, 0.6, 1));
  }

  /** Several who ask for one thing at a time wait for one maker. */
  private once<T>(name: string, make: () => Stepwise<T>, task: Task): Promise<T> {
    return this.cache.makeOnce(name, async () => this.cache.get<T>(name) ?? inSteps(make(), (share) => task.step(share, 1, "task.matte")));
  }

  /** What was cut, at a level. @throws Refusal where nothing can be told apart */
  at(level: number): FreedMatte {
    try {
      const made = this.known(level) ?? atOnce(this.freed(level));
      this.held.set(level, made);
      return made;
    } catch (error) {
      throw this.noted(error);
    }
  }

  private known(level: number): FreedMatte | undefined {
    const refused = this.refusal();
    if (refused) throw refused;
    return this.held.get(level) ?? this.cache.get<FreedMatte>(this.nameOf("freed", level));
  }

  private refusal(): Refusal | undefined {
    return this.cache.get<Refusal>(this.nameOf("refused", this.base));
  }

  /** What was looked for and not found is not looked for again. */
  private noted(error: unknown): unknown {
    if (error instanceof Refusal) this.cache.set(this.nameOf("refused", this.base), error, 64);
    return error;
  }

  /** What it is like, looked at on a level; lengths and places in px of the picture. */
  async figures(level: number, task: Task): Promise<MatteFigures> {
    const name = this.nameOf("figures", level);
    const known = this.cache.get<MatteFigures>(name);
    if (known) return known;
    const solved = await this.solve(level, portion(task, 0, 0.8)).catch((error: unknown) => {
      throw this.noted(error);
    });
    const field = this.fieldOf(solved);
    const band = bandOf(solved.known);
    const alpha = alphaOver(solved);
    await task.step(0.8, 1, "task.freeingColours");
    const raw = judgeMatte(field, band, alpha, freeColours(field, band, alpha));
    const s = 2 ** level;
    const { rect } = solved;
    const whole = sizeAtLevel(this.picture.width, this.picture.height, level);
    const parts = (list: MatteFigures["islands"]) =>
      list.map(({ x, y, area }) => ({ x: Math.round((x + rect.x + 0.5) * s - 0.5), y: Math.round((y + rect.y + 0.5) * s - 0.5), area: area * s * s }));
    const figures: MatteFigures = {
      ...raw,
      band: { pixels: band.places.length * s * s, widthPx: raw.band.widthPx * s },
      share: (raw.share * rect.width * rect.height) / (whole.width * whole.height),
      islands: parts(raw.islands),
      holes: parts(raw.holes),
      cutOff: endsAtBorders(field, alpha, this.borderAt(level, rect), FIRST * 2 ** Math.max(0, this.base - level)).map(({ x, y, area }) => ({
        x: Math.round((x + rect.x + 0.5) * s - 0.5),
        y: Math.round((y + rect.y + 0.5) * s - 0.5),
        area: area * s,
      })),
    };
    this.cache.set(name, figures, bytesHeld(figures));
    return figures;
  }

  get size(): { width: number; height: number } {
    return this.picture;
  }

  /** What of the picture something can lie in, at a level, seen from a rectangle of it. */
  private borderAt(level: number, { x, y }: Rectangle): Rectangle {
    const { width, height } = this.sizeOf(level);
    const box = this.cutting.by === "box" ? rectangleAtLevel(this.cutting.box, level) : { x: 0, y: 0, width, height };
    const within = intersect(box, { x: 0, y: 0, width, height });
    return { ...within, x: within.x - x, y: within.y - y };
  }

  private nameOf(what: string, level: number): string {
    return `${what}/${level}/${this.keys[this.keys.length - 1]}`;
  }

  /** What of a key is kept, made where it is not at hand. */
  private *kept<T>(name: string, make: () => Stepwise<T>): Stepwise<T> {
    const known = this.cache.get<T>(name);
    if (known !== undefined) return known;
    const made = yield* make();
    this.cache.set(name, made, bytesHeld(made));
    return made;
  }

  private freed(level: number): Stepwise<FreedMatte> {
    const make = function* (this: Cutter): Stepwise<FreedMatte> {
      const solved = yield* asPart(this.solved(level), 0, 0.8);
      const { front } = freeColours(this.fieldOf(solved), bandOf(solved.known), alphaOver(solved));
      return { ...solved, front };
    };
    return this.kept(this.nameOf("freed", level), make.bind(this));
  }

  private solved(level: number): Stepwise<LevelMatte> {
    const make = this.cutting.by === "trimap" ? this.solvedByCodes(level) : level < this.base ? this.solvedFiner(level) : this.solvedCoarse(level);
    return this.kept(this.nameOf("solved", level), () => make);
  }

  /** On the level of the proposal its own alpha, on coarser ones that halved. */
  private *solvedCoarse(level: number): Stepwise<LevelMatte> {
    const proposal = yield* this.proposal(this.marks.length);
    let { width, height } = this.sizeOf(this.base);
    let { known, alpha } = proposal;
    checkKnown(known);
    for (let l = this.base; l < level; l++) {
      alpha = halvedPlane(alpha, width, height);
      [width, height] = [(width + 1) >> 1, (height + 1) >> 1];
      known = Uint8Array.from(alpha, (a) => (a === 0 ? BACKGROUND : a === 1 ? FOREGROUND : UNKNOWN));
    }
    return compact(level, { x: 0, y: 0, width, height }, known, bandOf(known), alpha);
  }

  private *solvedFiner(level: number): Stepwise<LevelMatte> {
    const coarse = yield* asPart(this.solved(level + 1), 0, 0.25);
    const proposal = yield* this.proposal(this.marks.length);
    const rect = this.rectOf(level, proposal.known);
    const known = this.enlarged(proposal.known, level, rect);
    for (const mark of this.marks) eachMarked(mark, level, rect, (i) => (known[i] = knownBy(mark)));
    const field = this.fieldOf({ level, rect, known });
    // where the coarser level is whole, what of it lies under this one
    const under = level + 1 === this.base ? this.rectOf(this.base, proposal.known) : coarse.rect;
    const alpha = new Float32Array(under.width * under.height);
    cutInto(alpha, alphaOver(coarse), coarse.rect, under);
    const half = { ...this.fieldOf({ level: level + 1, rect: under, known: new Uint8Array(0) }) };
    const solved = yield* asPart(refineMatte(field, half, alpha), 0.25, 1);
    return compact(level, rect, solved.known, bandOf(solved.known), solved.alpha);
  }

  private *solvedByCodes(level: number): Stepwise<LevelMatte> {
    const { codes } = this.cutting as Cutting & { by: "trimap" };
    let { width, height } = this.picture;
    let known: Uint8Array = codes.map((code) => (code < 64 ? BACKGROUND : code >= 192 ? FOREGROUND : UNKNOWN));
    for (const mark of this.marks) eachMarked(mark, 0, { x: 0, y: 0, width, height }, (i) => (known[i] = knownBy(mark)));
    checkKnown(known);
    for (let l = 0; l < level; l++) {
      known = halvedKnown(known, width, height);
      [width, height] = [(width + 1) >> 1, (height + 1) >> 1];
    }
    const whole = { x: 0, y: 0, width, height };
    const rect = widen(boundsOf(known, width), MARGIN * 2 ** Math.max(0, this.base - level), whole);
    const own = new Uint8Array(rect.width * rect.height);
    cutInto(own, known, whole, rect);
    const solved = yield* solveMatte(this.fieldOf({ level, rect, known: own }));
    return compact(level, rect, solved.known, bandOf(solved.known), solved.alpha);
  }

  private sizeOf(level: number): { width: number; height: number } {
    return sizeAtLevel(this.picture.width, this.picture.height, level);
  }

  /** The rectangle of a level that holds all that is not behind. @param known at the level of the proposal */
  private rectOf(level: number, known: Uint8Array): Rectangle {
    const size = this.sizeOf(this.base);
    const { x, y, width, height } = widen(boundsOf(known, size.width), MARGIN, size);
    const s = 2 ** (this.base - level);
    return intersect({ x: x * s, y: y * s, width: width * s, height: height * s }, { x: 0, y: 0, ...this.sizeOf(level) });
  }

  private fieldOf({ level, rect, known }: { level: number; rect: Rectangle; known: Uint8Array }): MatteField {
    return { width: rect.width, height: rect.height, rgb: this.picture.read(level, rect), known, plate: this.behind()?.(level, rect) ?? null };
  }

  /** What is known on the level of the proposal, on a rectangle of a finer one: each sample as the one that holds it. */
  private enlarged(known: Uint8Array, level: number, rect: Rectangle): Uint8Array {
    const { width, height } = this.sizeOf(this.base);
    const by = this.base - level;
    const out = new Uint8Array(rect.width * rect.height);
    for (let y = 0; y < rect.height; y++) {
      const row = Math.min(height - 1, (rect.y + y) >> by) * width;
      for (let x = 0; x < rect.width; x++) out[y * rect.width + x] = known[row + Math.min(width - 1, (rect.x + x) >> by)];
    }
    return out;
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

  private small(): SmallPicture {
    const size = this.sizeOf(this.base);
    const { rgb, plate } = this.fieldOf({ level: this.base, rect: { x: 0, y: 0, ...size }, known: new Uint8Array(0) });
    return { ...size, rgb, lab: labOf(rgb), plate };
  }

  /** What is known by the first so many marks, at the level of the proposal. */
  private *proposal(count: number): Stepwise<Proposal> {
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
        : yield* beforePlate(small, rgb, plate!, plateIsSeen(rgb, plate!, width, height, cutting.by === "plate"), cutting.by);
    if (found) return found;
    // what was not found can still be marked
    if (!this.marks.some((m) => codeOf(m) === KEEP)) throw new Refusal("unclear", "matte.noSubject");
    const n = width * height;
    return { mask: new Uint8Array(n), known: new Uint8Array(n).fill(BACKGROUND), alpha: new Float32Array(n) };
  }
}

function* unchanged(before: Proposal): Stepwise<Proposal> {
  return before;
}

function* beforePlate(small: SmallPicture, rgb: Colours, plate: Colours, through: Uint8Array | null, by: string): Stepwise<Proposal | null> {
  const differs = differsFromPlate(rgb, plate, small.width, small.height);
  if (!differs || differs.reduce((sum, v) => sum + v, 0) > MOST_DIFFERENT * differs.length)
    throw new Refusal("unclear", by === "plate" ? "matte.otherView" : "matte.notEven");
  return differs.includes(1) ? yield* growBand(small, differs, through, () => null) : null;
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

function halvedKnown(known: Uint8Array, width: number, height: number): Uint8Array {
  const mean = halvedPlane(Float32Array.from(known), width, height);
  return Uint8Array.from(mean, (v) => (v === BACKGROUND || v === FOREGROUND ? v : UNKNOWN));
}

function checkKnown(known: Uint8Array): void {
  const counts = [0, 0, 0];
  for (let i = 0; i < known.length; i++) counts[known[i]]++;
  const least = Math.max(1, LEAST_SIDE * known.length);
  if (counts[FOREGROUND] + counts[UNKNOWN] < least) throw new Refusal("unclear", "matte.noSubject");
  if (counts[UNKNOWN] > MOST_BAND * known.length || counts[FOREGROUND] < least || counts[BACKGROUND] < least) throw new Refusal("unclear", "matte.allBand");
}

/** Where anything is not behind. */
function boundsOf(known: Uint8Array, width: number): Rectangle {
  let [x0, y0, x1, y1] = [width, Infinity, -1, -1];
  for (let i = 0; i < known.length; i++) {
    if (known[i] === BACKGROUND) continue;
    const x = i % width;
    const y = (i - x) / width;
    x0 = Math.min(x0, x);
    x1 = Math.max(x1, x);
    y0 = Math.min(y0, y);
    y1 = Math.max(y1, y);
  }
  return { x: x0, y: y0, width: x1 - x0 + 1, height: y1 - y0 + 1 };
}
