import { message, type Message } from "../../../messages/message";
import { median } from "../../numeric/statistics";
import { shareWithoutPlate } from "./cleanPlate";
import type { FrameParity } from "./parity";
import type { GatheredFrame, Link } from "./proposeSets";

/** Something odd about a set, with the frames concerned. */
export interface Oddity {
  told: Message;
  frameIds: string[];
}

export interface VerifiedFrame extends GatheredFrame {
  edgeWidthPx: number;
}

/** Aperture from which sensor dust shows. Common practice, no source. */
const DUSTY_APERTURE = 13;
/** Least overlap of neighbours that a panorama can be joined from with confidence. Common practice, no source. */
const LEAST_OVERLAP = 0.2;

interface Verified {
  frames: VerifiedFrame[];
  links: Link[];
  parity: FrameParity[];
}

/** What can be odd about a set of a kind, in the order it is told. */
const CHECKS = {
  blurred: ({ frames }: Verified) => blurred(frames),
  ladder: ({ frames }: Verified) => ladder(frames),
  disagreements: ({ frames }: Verified) => disagreements(frames),
  overlaps: ({ frames, links }: Verified) => overlaps(frames, links),
  locks: ({ frames }: Verified) => locks(frames),
  focusCoverage: ({ frames }: Verified) => focusCoverage(frames),
  plate: ({ frames, parity }: Verified) => plate(frames, parity),
  shallow: ({ frames }: Verified) => shallow(frames),
} satisfies Record<string, (set: Verified) => Oddity[]>;
export type SetCheck = keyof typeof CHECKS;

/** What is odd about a set. @param checks what is looked for besides what is odd in any set @param links from each frame to the next */
export function verifySet(checks: SetCheck[], frames: VerifiedFrame[], links: Link[], parity: FrameParity[] = []): Oddity[] {
  if (frames.length === 0) return [];
  const own = (Object.keys(CHECKS) as SetCheck[]).filter((check) => checks.includes(check));
  return [...sizes(frames), ...duplicates(frames), ...dusty(frames), ...own.flatMap((check) => CHECKS[check]({ frames, links, parity }))];
}

/** Median step between neighbours of the exposure ladder, EV, as the settings and as the pixels say. */
export function describeSteps(frames: VerifiedFrame[]): { metered: number | null; measured: number | null } {
  const step = (ev: (f: VerifiedFrame) => number | null) => {
    if (frames.length < 2 || frames.some((f) => ev(f) === null)) return null;
    const order = frames.map((f) => ev(f)!).sort((a, b) => a - b);
    return median(order.slice(1).map((v, k) => v - order[k]));
  };
  return { metered: step((f) => f.meteredEv), measured: step((f) => f.measuredEv) };
}

const all = (frames: VerifiedFrame[]) => frames.map((f) => f.id);

function sizes(frames: VerifiedFrame[]): Oddity[] {
  const name = (f: VerifiedFrame) => `${f.width}×${f.height}`;
  const count = new Map<string, number>();
  for (const f of frames) count.set(name(f), (count.get(name(f)) ?? 0) + 1);
  const [usual, most] = [...count].sort((a, b) => b[1] - a[1])[0];
  if (most === 1 && frames.length > 1) {
    const each = frames.map((f) => message("odd.sizeOf", { number: f.number, size: name(f) }));
    return [{ told: message("odd.sizes", { sizes: each }), frameIds: all(frames) }];
  }
  return frames.filter((f) => name(f) !== usual).map((f) => ({ told: message("odd.size", { number: f.number, size: name(f), usual }), frameIds: [f.id] }));
}

function duplicates(frames: VerifiedFrame[]): Oddity[] {
  const first = new Map<string, VerifiedFrame>();
  return frames.flatMap((f) => {
    const earlier = first.get(f.fingerprint);
    if (earlier) return [{ told: message("odd.sameFile", { number: f.number, earlier: earlier.number }), frameIds: [earlier.id, f.id] }];
    first.set(f.fingerprint, f);
    return [];
  });
}

function dusty(frames: VerifiedFrame[]): Oddity[] {
  const found = frames.filter((f) => f.aperture !== null && f.aperture >= DUSTY_APERTURE);
  if (found.length === 0) return [];
  const smallest = Math.max(...found.map((f) => f.aperture!));
  return [{ told: message("odd.dust", { aperture: smallest }), frameIds: found.map((f) => f.id) }];
}

function blurred(frames: VerifiedFrame[]): Oddity[] {
  const known = frames.filter((f) => f.edgeWidthPx > 0);
  if (known.length < 2) return [];
  const typical = median(known.map((f) => f.edgeWidthPx));
  return known
    .filter((f) => f.edgeWidthPx > 1.6 * typical)
    .map((f) => ({
      told: message("odd.blurred", { number: f.number, width: f.edgeWidthPx, usual: typical }),
      frameIds: [f.id],
    }));
}

/** Gaps, doubles and frames out of order in an exposure ladder. */
function ladder(frames: VerifiedFrame[]): Oddity[] {
  const ev = frames.every((f) => f.measuredEv !== null) ? (f: VerifiedFrame) => f.measuredEv! : (f: VerifiedFrame) => f.meteredEv;
  if (frames.length < 2 || frames.some((f) => ev(f) === null)) return [];
  const order = [...frames].sort((a, b) => ev(a)! - ev(b)!);
  const steps = order.slice(1).map((f, k) => ev(f)! - ev(order[k])!);
  const step = median(steps);
  const odd: Oddity[] = [];
  steps.forEach((s, k) => {
    const [a, b] = [order[k], order[k + 1]];
    const frameIds = [a.id, b.id];
    if (s > 1.5 * step && s > 0.5) odd.push({ told: message("odd.gap", { ev: s, a: a.number, b: b.number }), frameIds });
    else if (s < 0.25 * step && a.fingerprint !== b.fingerprint) odd.push({ told: message("odd.twice", { a: a.number, b: b.number }), frameIds });
  });
  const metered = frames.map((f) => f.meteredEv);
  if (frames.length >= 3 && metered.every((v) => v !== null)) {
    const turns = metered.slice(2).filter((v, k) => (v! - metered[k + 1]!) * (metered[k + 1]! - metered[k]!) < 0);
    // 0 − + is how many cameras shoot; more turns than one mean that the order was mixed up
    if (turns.length > 1) odd.push({ told: message("odd.unordered", {}), frameIds: all(frames) });
  }
  return odd;
}

/** Metadata against pixels, each frame against the median offset of the set. */
function disagreements(frames: VerifiedFrame[]): Oddity[] {
  const both = frames.filter((f) => f.meteredEv !== null && f.measuredEv !== null);
  if (both.length < 3) return [];
  const offset = median(both.map((f) => f.measuredEv! - f.meteredEv!));
  return both.flatMap((f) => {
    const off = f.measuredEv! - f.meteredEv! - offset;
    return Math.abs(off) >= 0.07 ? [{ told: message(off > 0 ? "odd.brighter" : "odd.darker", { number: f.number, ev: Math.abs(off) }), frameIds: [f.id] }] : [];
  });
}

function overlaps(frames: VerifiedFrame[], links: Link[]): Oddity[] {
  return links.flatMap((l, i) => {
    const [a, b] = [frames[i], frames[i + 1]];
    if (!a || !b) return [];
    const overlap = Math.max(0, (1 - Math.abs(l.dx)) * (1 - Math.abs(l.dy)));
    return overlap < LEAST_OVERLAP
      ? [{ told: message("odd.overlap", { a: a.number, b: b.number, percent: Math.round(overlap * 100) }), frameIds: [a.id, b.id] }]
      : [];
  });
}

function locks(frames: VerifiedFrame[]): Oddity[] {
  const odd: Oddity[] = [];
  const range = (values: (number | null)[]) => (values.every((v) => v !== null) ? Math.max(...(values as number[])) - Math.min(...(values as number[])) : 0);
  const ev = range(frames.map((f) => f.meteredEv));
  if (ev > 0.15) odd.push({ told: message("odd.exposure", { ev }), frameIds: all(frames) });
  if (range(frames.map((f) => f.aperture)) > 0.05) odd.push({ told: message("odd.aperture", {}), frameIds: all(frames) });
  if (range(frames.map((f) => f.focalLengthMm)) > 0.5) odd.push({ told: message("odd.focalLength", {}), frameIds: all(frames) });
  return odd;
}

/** Share of the picture without a clean plate from which it is said. Common practice, no source. */
const BARE_SHARE = 0.01;

function plate(frames: VerifiedFrame[], parity: FrameParity[]): Oddity[] {
  const share = shareWithoutPlate(parity);
  if (share < BARE_SHARE) return [];
  return [{ told: message(frames.length === 2 ? "odd.twoDiffer" : "odd.noPlate", { percent: Math.round(share * 100) }), frameIds: all(frames) }];
}

/** The frame that is sharpest in a cell. */
export interface FocusLeader {
  /** null where no frame has structure */
  frameId: string | null;
  number: number | null;
  /** whether it is sharp there, against what the set's sharp cells reach */
  sharp: boolean;
}

/** The sharpest frame of every cell. */
export function focusLeaders(frames: VerifiedFrame[]): FocusLeader[] {
  const unsharp = new Set(unsharpCells(frames));
  return Array.from({ length: frames[0]?.sharpness.length ?? 0 }, (_, c) => {
    const known = frames.filter((f) => Number.isFinite(f.sharpness[c]));
    const best = known.length ? known.reduce((a, b) => (b.sharpness[c] > a.sharpness[c] ? b : a)) : null;
    return { frameId: best?.id ?? null, number: best?.number ?? null, sharp: !unsharp.has(c) };
  });
}

/** Cells that are sharp in no frame, against what the set's sharp cells reach. */
export function unsharpCells(frames: VerifiedFrame[]): number[] {
  const cells = frames[0]?.sharpness.length ?? 0;
  const best = Array.from({ length: cells }, (_, c) => Math.max(...frames.map((f) => (Number.isFinite(f.sharpness[c]) ? f.sharpness[c] : -1))));
  const known = best.filter((v) => v > 0);
  if (known.length < 6) return [];
  const typical = median(known);
  return best.flatMap((v, c) => (v > 0 && v < 0.5 * typical ? [c] : []));
}

function focusCoverage(frames: VerifiedFrame[]): Oddity[] {
  const unsharp = unsharpCells(frames);
  const share = unsharp.length / Math.max(1, frames[0].sharpness.length);
  return share > 0.03 ? [{ told: message("odd.unsharp", { percent: Math.round(share * 100) }), frameIds: all(frames) }] : [];
}

/** Much of the picture soft in the sharpest frame at a wide aperture: the depth was too small for it. */
function shallow(frames: VerifiedFrame[]): Oddity[] {
  const wide = frames.filter((f) => f.aperture !== null && f.aperture <= 4);
  if (wide.length === 0) return [];
  const soft = wide.map((f) => {
    const known = f.sharpness.filter(Number.isFinite);
    if (known.length < 12) return 0;
    const top = known.slice().sort((a, b) => b - a)[Math.floor(known.length * 0.1)];
    return known.filter((v) => v < 0.45 * top).length / known.length;
  });
  const least = Math.min(...soft);
  if (least <= 0.35) return [];
  return [{ told: message("odd.shallow", { aperture: wide[0].aperture!, percent: Math.round(least * 100) }), frameIds: all(wide) }];
}
