import { message, type Message } from "../../../messages/message";
import type { QuarterTurns } from "../../raster/orientation";

/** How a frame differs from the frame its set is compared with. */
export interface FrameParity {
  frameId: string;
  /** whether it could be laid on the other; the figures below mean nothing where it could not */
  comparable: boolean;
  rotationDeg: number;
  /** px of this frame for a px of the other */
  scale: number;
  /** radial distortion against the other, r in half-diagonals */
  k1: number;
  /** red and blue against green, EV against the other */
  redEv: number;
  blueEv: number;
  /** slope of log light against log light: 1 for the same tone response */
  tone: number;
  /** cells of CLEAN_GRID in which the frame shows what no other frame shows */
  alone: number[];
}

export interface ParityFrame {
  id: string;
  number: number;
  width: number;
  height: number;
  colorName: string;
  /** program that wrote the file, with its version; null where the file does not say */
  software: string | null;
  edgeWidthPx: number;
  bits: number;
}

export const PARITY_ASPECTS = ["size", "rotation", "scale", "lens", "whiteBalance", "tone", "colorSpace", "software", "sharpening"] as const;
export type ParityAspect = (typeof PARITY_ASPECTS)[number];

/** Aspects that keep the frames from lying on each other; only they hold up registration. */
export const GEOMETRIC: readonly ParityAspect[] = ["size", "rotation", "scale", "lens"];

/** A frame that differs, and by how much, where a development can make that equal. */
export interface OddFrame {
  frameId: string;
  number: number;
  what: Message;
  /** quarter turns clockwise that lay it like the others, where it lies on a side or on its head */
  quarterTurns?: QuarterTurns;
  /** k1 against what most have */
  k1?: number;
  /** red and blue against green, EV against the frame most are like */
  balance?: { redEv: number; blueEv: number };
  /** exponent of its tone response against what most have */
  tone?: number;
}

/** A difference between the frames of a set. */
export interface ParityDifference {
  aspect: ParityAspect;
  geometric: boolean;
  /** what each frame has, where it is not what most have; figures are against the others */
  frames: OddFrame[];
  /** what most have, or null where the figures say it already */
  usual: Message | null;
}

/** Differences from which a finding is made. Common practice, no source; the lens is what registration tells from none. */
const LIMITS = { rotationDeg: 20, scale: 0.02, k1: 0.004, balanceEv: 0.12, tone: 0.1, edgeRatio: 1.35 };

/** The differences between the frames of a set, geometry first. */
export function compareParity(frames: ParityFrame[], measured: FrameParity[]): ParityDifference[] {
  const found: ParityDifference[] = [];
  const add = (aspect: ParityAspect, usual: Message | null, odd: (Omit<OddFrame, "frameId" | "number"> & { id: string })[]) => {
    const named = odd.flatMap(({ id, ...rest }) => {
      const frame = frames.find((f) => f.id === id);
      return frame ? [{ frameId: id, number: frame.number, ...rest }] : [];
    });
    if (named.length > 0) found.push({ aspect, geometric: GEOMETRIC.includes(aspect), usual, frames: named });
  };
  const figureOf = (id: string) => measured.find((m) => m.frameId === id && m.comparable);
  const byName = (aspect: ParityAspect, nameOf: (f: ParityFrame) => string) => {
    const usual = mostCommon(frames.map(nameOf));
    add(
      aspect,
      message("parity.name", { name: usual }),
      frames.filter((f) => nameOf(f) !== usual).map((f) => ({ id: f.id, what: message("parity.name", { name: nameOf(f) }) })),
    );
  };
  const known = measured.filter((m) => m.comparable);
  const others = frames.length - 1;
  /** Frames whose figure is further than the limit from what most have; `say` gets the figure against that. */
  const byFigure = (
    aspect: ParityAspect,
    figureOf: (m: FrameParity) => number,
    limit: number,
    say: (against: number, m: FrameParity) => Omit<OddFrame, "frameId" | "number">,
  ) => {
    if (known.length < 2) return;
    const usual = figureOf(middleOf(known, figureOf));
    add(
      aspect,
      null,
      known.filter((m) => Math.abs(figureOf(m) - usual) > limit).map((m) => ({ id: m.frameId, ...say(figureOf(m) - usual, m) })),
    );
  };
  const sizeOf = (f: ParityFrame) => `${f.width}×${f.height}`;
  const usualSize = mostCommon(frames.map(sizeOf));
  const usualFrame = frames.find((f) => sizeOf(f) === usualSize)!;
  // a frame turned on its side has its sides exchanged: that is one difference, not two
  const turn = (f: ParityFrame) => (figureOf(f.id)?.rotationDeg ?? 0) - (figureOf(usualFrame.id)?.rotationDeg ?? 0);
  const upright = (f: ParityFrame) => f.width === usualFrame.height && f.height === usualFrame.width && Math.abs(turn(f)) > 45;
  add(
    "size",
    message("parity.size", { size: usualSize }),
    frames
      .filter((f) => sizeOf(f) !== usualSize && !upright(f))
      .map((f) => ({ id: f.id, what: howSized(f, sizeOf(f), usualFrame, figureOf(f.id), figureOf(usualFrame.id)) })),
  );
  byFigure(
    "rotation",
    (m) => m.rotationDeg,
    LIMITS.rotationDeg,
    (v) => ({ what: message("parity.turned", { degrees: v, others }), quarterTurns: quartersBack(v) }),
  );
  const oneSize = frames.every((f) => f.width === frames[0].width && f.height === frames[0].height);
  if (oneSize)
    byFigure(
      "scale",
      (m) => m.scale,
      LIMITS.scale,
      (v) => ({ what: message("parity.larger", { percent: v * 100, others }) }),
    );
  byFigure(
    "lens",
    (m) => m.k1,
    LIMITS.k1,
    (v) => ({ what: message(v < 0 ? "parity.barrel" : "parity.pincushion", { k1: v, others }), k1: v }),
  );
  const warmth = (m: FrameParity) => Math.sign(m.blueEv - m.redEv) * Math.hypot(m.redEv, m.blueEv);
  byFigure("whiteBalance", warmth, LIMITS.balanceEv, (v, m) => {
    const usual = middleOf(known, warmth);
    const number = frames.find((f) => f.id === usual.frameId)?.number ?? 0;
    return {
      what: message(v > 0 ? "parity.cooler" : "parity.warmer", { ev: Math.abs(v), number }),
      balance: { redEv: m.redEv - usual.redEv, blueEv: m.blueEv - usual.blueEv },
    };
  });
  byFigure(
    "tone",
    (m) => m.tone,
    LIMITS.tone,
    (v, m) => {
      const tone = m.tone / (m.tone - v);
      return { what: message(tone > 1 ? "parity.harder" : "parity.softer", { others, exponent: tone }), tone };
    },
  );
  byName("colorSpace", (f) => f.colorName);
  if (frames.every((f) => f.software !== null)) byName("software", (f) => f.software!);
  const edges = frames.filter((f) => f.edgeWidthPx > 0);
  if (edges.length >= 2) {
    const usual = middleOf(edges, (f) => f.edgeWidthPx).edgeWidthPx;
    const odd = edges.filter((f) => f.edgeWidthPx > usual * LIMITS.edgeRatio || f.edgeWidthPx < usual / LIMITS.edgeRatio);
    add(
      "sharpening",
      message("parity.edges", { width: usual }),
      odd.map((f) => ({ id: f.id, what: message("parity.edge", { width: f.edgeWidthPx }) })),
    );
  }
  return found;
}

/** Quarter turns clockwise that undo a turn, none where it is another angle. @param degrees clockwise against the others */
function quartersBack(degrees: number): QuarterTurns | undefined {
  const quarters = Math.round(degrees / 90);
  const back = (((-quarters % 4) + 4) % 4 || 0) as QuarterTurns;
  return back !== 0 && Math.abs(degrees - 90 * quarters) < LIMITS.rotationDeg ? back : undefined;
}

/** Whether a frame of another size was cropped or made smaller, as far as the pixels say. */
function howSized(f: ParityFrame, size: string, usual: ParityFrame, own?: FrameParity, other?: FrameParity): Message {
  if (!own || !other) return message("parity.size", { size });
  // px of this frame for a px of the usual one
  const scale = own.scale / other.scale;
  const ratio = Math.max(f.width, f.height) / Math.max(usual.width, usual.height);
  const percent = Math.round(100 * Math.min(1, (f.width * f.height) / (scale * scale * usual.width * usual.height)));
  if (Math.abs(scale - 1) < 0.02) return message("parity.cropped", { size, percent });
  const shown = Math.round(scale * 100);
  if (Math.abs(scale / ratio - 1) < 0.02) return message("parity.scaled", { size, scale: shown });
  return message("parity.scaledAndCropped", { size, scale: shown, percent });
}

/** Whether a development, the registration or reading itself can make frames equal in something; else it can only be decided on. */
export function canBeMadeEqual(aspect: ParityAspect, frames: { bits: number }[]): boolean {
  // floats hold light as it is: there is no tone response to change
  if (aspect === "tone") return frames.every((f) => f.bits !== 32);
  return aspect !== "sharpening" && aspect !== "colorSpace" && aspect !== "software";
}

function mostCommon(names: string[]): string {
  const count = new Map<string, number>();
  for (const n of names) count.set(n, (count.get(n) ?? 0) + 1);
  return [...count].sort((a, b) => b[1] - a[1])[0]?.[0] ?? "";
}

/** The one in the middle: with two the first, else that of the median. */
function middleOf<T>(items: T[], figureOf: (item: T) => number): T {
  if (items.length === 2) return items[0];
  const sorted = [...items].sort((a, b) => figureOf(a) - figureOf(b));
  return sorted[(sorted.length - 1) >> 1];
}
