import { intersect, rectangleAtLevel, sizeAtLevel, widen, type Rectangle } from "../../../core/geometry/rectangle";
import { freeColours, type FreedColours } from "../../../core/matte/freeColours";
import { FIRST } from "../../../core/matte/growBand";
import { endsAtBorders, judgeMatte, type MatteFigures } from "../../../core/matte/judgeMatte";
import { refineMatte, solveMatte } from "../../../core/matte/solveMatte";
import { BACKGROUND, bandOf, FOREGROUND, halvedPlane, UNKNOWN, type MattePart } from "../../../core/matte/trimap";
import { asPart, atOnce, inSteps, type Stepwise } from "../../../core/numeric/stepwise";
import { cutInto } from "../../../core/raster/planeParts";
import { Refusal } from "../../../core/refusal";
import type { CutMark } from "../../../kinds/contents/frame/record";
import { bytesHeld } from "../../graph/bytesHeld";
import type { DerivedCache } from "../../graph/DerivedCache";
import { portion, type Task } from "../../task";
import { CutProposals, type CutPicture, type Cutting } from "./CutProposals";
import { eachMarked, knownBy } from "./cutMarks";
import { alphaOver, compact, type FreedMatte, type LevelMatte } from "./LevelMatte";

/** What is known is read so far about what is not, samples of that level. */
const MARGIN = 6;
/** A band is at most this share of a picture, and at least this one in front and behind: else nothing tells one from the other. */
const [MOST_BAND, LEAST_SIDE] = [0.9, 1e-4];

/**
 * Cuts something out of a picture, at any display level: what is known is proposed at about 480 px and marked there, stroke after stroke; each finer level is solved from
 * its own samples and the one before. All that is made is kept under its key.
 * @throws Refusal where nothing can be told apart
 */
export class Cutter {
  private readonly told: CutProposals;
  /** what is in use, however large */
  private readonly held = new Map<number, FreedMatte>();

  constructor(
    private readonly cache: DerivedCache,
    picture: CutPicture,
    cutting: Cutting,
    marks: readonly CutMark[],
  ) {
    this.told = new CutProposals(cache, picture, cutting, marks);
  }

  /** The level on which what is known is proposed: the coarsest that is worth looking at. */
  get base(): number {
    return this.told.base;
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

  /** The same, and null where nothing can be told apart: what cannot be cut is not shown, and that is told elsewhere. */
  async prepareShown(level: number, task: Task): Promise<FreedMatte | null> {
    return this.prepare(level, task).catch((error: unknown) => {
      if (error instanceof Refusal) return null;
      throw error;
    });
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
    if (this.isProposed) await this.once(`proposal/${this.told.key}`, () => this.told.proposal(), task);
  }

  private async solve(level: number, task: Task): Promise<LevelMatte> {
    const refused = this.refusal();
    if (refused) throw refused;
    await this.propose(portion(task, 0, 0.5));
    if (!this.isProposed) return this.once(this.nameOf("solved", level), () => this.solved(level), portion(task, 0.5, 1));
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

  /** The same, and null where nothing can be told apart: what cannot be cut is not shown. */
  shownAt(level: number): FreedMatte | null {
    try {
      return this.at(level);
    } catch (error) {
      if (error instanceof Refusal) return null;
      throw error;
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
    const field = this.told.fieldOf(solved);
    const band = bandOf(solved.known);
    const alpha = alphaOver(solved);
    await task.step(0.8, 1, "task.freeingColours");
    const raw = judgeMatte(field, band, alpha, this.freedOf(solved));
    const s = 2 ** level;
    const { rect } = solved;
    const whole = sizeAtLevel(this.told.picture.width, this.told.picture.height, level);
    const placed = (list: MattePart[], unit: number) =>
      list.map(({ x, y, area }) => ({ x: Math.round((x + rect.x + 0.5) * s - 0.5), y: Math.round((y + rect.y + 0.5) * s - 0.5), area: area * unit }));
    const figures: MatteFigures = {
      ...raw,
      edge: raw.edge && { own: raw.edge.own * s, matte: raw.edge.matte * s },
      stubs: placed(raw.stubs, s * s),
      // of what lay behind a picture that comes with alpha nothing is known
      ...(this.told.cutting.by === "alpha" && { spillDeltaE: 0, edge: null, stubs: [] }),
      band: { pixels: band.places.length * s * s, widthPx: raw.band.widthPx * s },
      share: (raw.share * rect.width * rect.height) / (whole.width * whole.height),
      islands: placed(raw.islands, s * s),
      holes: placed(raw.holes, s * s),
      cutOff: placed(endsAtBorders(field, alpha, this.borderAt(level, rect), FIRST * 2 ** Math.max(0, this.base - level)), s),
    };
    this.cache.set(name, figures, bytesHeld(figures));
    return figures;
  }

  /** Whether what is known is proposed and then solved from level to level; else it is told everywhere. */
  private get isProposed(): boolean {
    return this.told.cutting.by !== "trimap" && this.told.cutting.by !== "alpha";
  }

  /** What is cut. */
  get picture(): CutPicture {
    return this.told.picture;
  }

  /** What of the picture something can lie in, at a level, seen from a rectangle of it. */
  private borderAt(level: number, { x, y }: Rectangle): Rectangle {
    const { width, height } = this.told.sizeOf(level);
    const box = this.told.cutting.by === "box" ? rectangleAtLevel(this.told.cutting.box, level) : { x: 0, y: 0, width, height };
    const within = intersect(box, { x: 0, y: 0, width, height });
    return { ...within, x: within.x - x, y: within.y - y };
  }

  private nameOf(what: string, level: number): string {
    return `${what}/${level}/${this.told.key}`;
  }

  private freed(level: number): Stepwise<FreedMatte> {
    const make = function* (this: Cutter): Stepwise<FreedMatte> {
      const solved = yield* asPart(this.solved(level), 0, 0.8);
      return { ...solved, front: this.freedOf(solved).front };
    };
    return this.told.kept(this.nameOf("freed", level), make.bind(this));
  }

  /** Colours in front of what is partly there; those of a picture with alpha are its own, with nothing behind them. */
  private freedOf(solved: LevelMatte): FreedColours {
    const field = this.told.fieldOf(solved);
    const band = bandOf(solved.known);
    if (this.told.cutting.by !== "alpha") return freeColours(field, band, alphaOver(solved));
    const front = Float32Array.from({ length: 3 * band.places.length }, (_, k) => field.rgb[k % 3][band.places[Math.floor(k / 3)]]);
    return { front, back: front };
  }

  private solved(level: number): Stepwise<LevelMatte> {
    const { by } = this.told.cutting;
    const make =
      by === "trimap"
        ? this.solvedByCodes(level)
        : by === "alpha"
          ? this.solvedByAlpha(level)
          : level < this.base
            ? this.solvedFiner(level)
            : this.solvedCoarse(level);
    return this.told.kept(this.nameOf("solved", level), () => make);
  }

  /** On the level of the proposal its own alpha, on coarser ones that halved. */
  private *solvedCoarse(level: number): Stepwise<LevelMatte> {
    const proposal = yield* this.told.proposal();
    let { width, height } = this.told.sizeOf(this.base);
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
    const proposal = yield* this.told.proposal();
    const rect = this.rectOf(level, proposal.known);
    const known = this.enlarged(proposal.known, level, rect);
    for (const mark of this.told.marks) eachMarked(mark, level, rect, (i) => (known[i] = knownBy(mark)));
    const field = this.told.fieldOf({ level, rect, known });
    // where the coarser level is whole, what of it lies under this one
    const under = level + 1 === this.base ? this.rectOf(this.base, proposal.known) : coarse.rect;
    const alpha = new Float32Array(under.width * under.height);
    cutInto(alpha, alphaOver(coarse), coarse.rect, under);
    const half = this.told.fieldOf({ level: level + 1, rect: under, known: new Uint8Array(0) });
    const solved = yield* asPart(refineMatte(field, half, alpha), 0.25, 1);
    return compact(level, rect, solved.known, bandOf(solved.known), solved.alpha);
  }

  private *solvedByCodes(level: number): Stepwise<LevelMatte> {
    const { codes } = this.told.cutting as Cutting & { by: "trimap" };
    let { width, height } = this.told.picture;
    let known: Uint8Array = codes.map((code) => (code < 64 ? BACKGROUND : code >= 192 ? FOREGROUND : UNKNOWN));
    for (const mark of this.told.marks) eachMarked(mark, 0, { x: 0, y: 0, width, height }, (i) => (known[i] = knownBy(mark)));
    checkKnown(known);
    for (let l = 0; l < level; l++) {
      known = halvedKnown(known, width, height);
      [width, height] = [(width + 1) >> 1, (height + 1) >> 1];
    }
    const whole = { x: 0, y: 0, width, height };
    const rect = widen(boundsOf(known, width), MARGIN * 2 ** Math.max(0, this.base - level), whole);
    const own = new Uint8Array(rect.width * rect.height);
    cutInto(own, known, whole, rect);
    const solved = yield* solveMatte(this.told.fieldOf({ level, rect, known: own }));
    return compact(level, rect, solved.known, bandOf(solved.known), solved.alpha);
  }

  private *solvedByAlpha(level: number): Stepwise<LevelMatte> {
    const { alpha: read } = this.told.cutting as Cutting & { by: "alpha" };
    const size = this.told.sizeOf(level);
    const alpha = read(level, { x: 0, y: 0, ...size });
    yield 0.5;
    const known = Uint8Array.from(alpha, (a) => (a === 0 ? BACKGROUND : a === 1 ? FOREGROUND : UNKNOWN));
    const rect = boundsOf(known, size.width);
    const [own, ownKnown] = [new Float32Array(rect.width * rect.height), new Uint8Array(rect.width * rect.height)];
    cutInto(own, alpha, { x: 0, y: 0, ...size }, rect);
    cutInto(ownKnown, known, { x: 0, y: 0, ...size }, rect);
    return compact(level, rect, ownKnown, bandOf(ownKnown), own);
  }

  /** The rectangle of a level that holds all that is not behind. @param known at the level of the proposal */
  private rectOf(level: number, known: Uint8Array): Rectangle {
    const size = this.told.sizeOf(this.base);
    const { x, y, width, height } = widen(boundsOf(known, size.width), MARGIN, size);
    const s = 2 ** (this.base - level);
    return intersect({ x: x * s, y: y * s, width: width * s, height: height * s }, { x: 0, y: 0, ...this.told.sizeOf(level) });
  }

  /** What is known on the level of the proposal, on a rectangle of a finer one: each sample as the one that holds it. */
  private enlarged(known: Uint8Array, level: number, rect: Rectangle): Uint8Array {
    const { width, height } = this.told.sizeOf(this.base);
    const by = this.base - level;
    const out = new Uint8Array(rect.width * rect.height);
    for (let y = 0; y < rect.height; y++) {
      const row = Math.min(height - 1, (rect.y + y) >> by) * width;
      for (let x = 0; x < rect.width; x++) out[y * rect.width + x] = known[row + Math.min(width - 1, (rect.x + x) >> by)];
    }
    return out;
  }
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
