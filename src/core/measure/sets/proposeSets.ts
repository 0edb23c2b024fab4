import { asMessage, message, type Message, type Telling } from "../../../messages/message";
import { median } from "../../numeric/statistics";

/** What is known of a frame when sets are proposed. */
export interface GatheredFrame {
  id: string;
  number: number;
  width: number;
  height: number;
  /** seconds since any start, or null */
  takenS: number | null;
  camera: string | null;
  aperture: number | null;
  focalLengthMm: number | null;
  meteredEv: number | null;
  /** from the pixels, only differences mean something */
  measuredEv: number | null;
  /** mean linear luminance */
  brightness: number;
  /** slope of fine structure over slope of coarse structure, per cell; NaN where a cell has no structure */
  sharpness: number[];
  stars: number;
  /** share of the border that is one plain tone */
  plainBorder: number;
  fingerprint: string;
}

/** How a frame's content follows from the one before it. */
export interface Link {
  /** correlation of the pictures at their best shift, 0..1; what two scenes reach by chance stays below SAME_SCENE */
  score: number;
  /** that shift as a share of the frame */
  dx: number;
  dy: number;
}

/** What frames can be proposed to be to each other. */
export type ProposedKind = "bracket" | "focus" | "panorama" | "separate" | "repeats" | "sky" | "developed" | "cutout" | "single";

export interface ProposedSet {
  kind: ProposedKind;
  frameIds: string[];
  reasons: Message[];
  /** 0..1, a judgement by kind and evidence, not a measured rate */
  confidence: number;
}

/** Correlation from which two frames are taken for the same place. Common practice, no source. */
export const SAME_SCENE = 0.3;
/** Above it and hardly shifted, nothing needs to be confirmed: chance reaches such figures only over small overlaps. */
const SURE = { score: 0.5, shift: 0.1 };
/** Correlation of frames that differ by noise only. Common practice, no source. */
const ALIKE = 0.95;
const STEP_EV = 0.5;
const LONG_PAUSE_S = 1800;
/** A pause that parts two nights. */
const DAY_S = 4 * 3600;

/** Whether a link found by correlation alone may be chance, or a scene missed, so that a closer look is due. */
export const isDoubtful = (link: Link): boolean => link.score < SURE.score || Math.hypot(link.dx, link.dy) > SURE.shift;

/**
 * Groups frames into sets and names each with its reasons: first by what they show, then brackets that repeat are parted.
 * @param links links[i] leads from frame i to frame i + 1, in the order given
 */
export function proposeSets(frames: GatheredFrame[], links: Link[]): ProposedSet[] {
  return joinCutouts(partByContent(frames, links).flatMap(partDays).flatMap(partBrackets)).map((g) => name(g.frames, g.links));
}

interface Group {
  frames: GatheredFrame[];
  /** from each frame to the next */
  links: Link[];
}

/** Neighbours that show the same place, whatever they are to each other. */
export const partByContent = (frames: GatheredFrame[], links: Link[]): Group[] => partBy({ frames, links }, (a, b, link) => !link || !belongs(a, b, link));

function belongs(a: GatheredFrame, b: GatheredFrame, link: Link): boolean {
  if (a.camera !== null && b.camera !== null && a.camera !== b.camera) return false;
  const pause = a.takenS !== null && b.takenS !== null ? Math.abs(b.takenS - a.takenS) : 0;
  if (isNight(a) && isNight(b)) return pause < DAY_S;
  if (link.score < SAME_SCENE) return false;
  // another view of the same place, much later and shifted, is another set
  return pause < LONG_PAUSE_S || Math.hypot(link.dx, link.dy) < 0.1;
}

const isNight = (f: GatheredFrame) => f.stars >= 40 && f.brightness < 0.06;

/** A bracket is no part of what was taken on another day, though it shows the same: last year's picture of this view stands by itself. */
function partDays(group: Group): Group[] {
  const parts = partBy(group, (a, b) => a.takenS !== null && b.takenS !== null && Math.abs(b.takenS - a.takenS) > DAY_S);
  const isLadder = ({ frames }: Group) => frames.length >= 3 && (spread(frames.map((f) => f.meteredEv ?? f.measuredEv)) ?? 0) >= STEP_EV;
  return parts.some(isLadder) ? parts : [group];
}

/** Parts a group where two neighbours ask for it. */
function partBy({ frames, links }: Group, isApart: (a: GatheredFrame, b: GatheredFrame, link: Link) => boolean): Group[] {
  const parts: Group[] = [];
  frames.forEach((frame, i) => {
    const last = parts.at(-1);
    if (last && !isApart(frames[i - 1], frame, links[i - 1])) {
      last.frames.push(frame);
      last.links.push(links[i - 1]);
    } else parts.push({ frames: [frame], links: [] });
  });
  return parts;
}

/** "−2 0 +2 −2 0 +2" are two brackets, not one of six frames. */
function partBrackets(group: Group): Group[] {
  const { frames, links } = group;
  const ev = frames.map((f) => f.meteredEv ?? f.measuredEv);
  if (frames.length < 4 || ev.some((v) => v === null)) return [group];
  for (let period = 2; period <= frames.length / 2; period++) {
    if (frames.length % period !== 0) continue;
    const repeats = ev.every((v, i) => i < period || Math.abs(v! - ev[i - period]!) < 0.2);
    const range = Math.max(...ev.slice(0, period).map((v) => v!)) - Math.min(...ev.slice(0, period).map((v) => v!));
    if (!repeats || range < STEP_EV) continue;
    return Array.from({ length: frames.length / period }, (_, k) => ({
      frames: frames.slice(k * period, (k + 1) * period),
      links: links.slice(k * period, (k + 1) * period - 1),
    }));
  }
  return [group];
}

/** A lone frame with a plain border beside another lone frame: a cut-out and its plate. */
function joinCutouts(groups: Group[]): Group[] {
  const out: Group[] = [];
  for (const g of groups) {
    const last = out[out.length - 1];
    const lone = last?.frames.length === 1 && g.frames.length === 1;
    if (lone && last.frames[0].plainBorder > 0.9 !== g.frames[0].plainBorder > 0.9) {
      out[out.length - 1] = { frames: [...last.frames, ...g.frames], links: [{ score: 0, dx: 0, dy: 0 }] };
    } else out.push(g);
  }
  return out;
}

function name(frames: GatheredFrame[], links: Link[]): ProposedSet {
  const frameIds = frames.map((f) => f.id);
  const made = (kind: ProposedKind, confidence: number, ...reasons: Telling[]): ProposedSet => ({
    kind,
    frameIds,
    reasons: reasons.map(asMessage),
    confidence,
  });
  if (frames.length === 1) return made("single", 0.9, "set.single");
  if (frames.filter(isNight).length > frames.length / 2) {
    const least = Math.min(...frames.map((f) => f.stars));
    return made("sky", 0.9, message("set.sky", { stars: least }));
  }
  if (links.length === 1 && links[0].score === 0 && frames.some((f) => f.plainBorder > 0.9)) {
    const thing = frames.find((f) => f.plainBorder > 0.9)!;
    return made("cutout", 0.7, message("set.cutout", { number: thing.number }));
  }
  const shifts = links.map((l) => Math.hypot(l.dx, l.dy));
  const shift = median(shifts);
  const farthest = Math.max(...shifts);
  const score = Math.min(...links.map((l) => l.score));
  const metered = spread(frames.map((f) => f.meteredEv));
  const measured = spread(frames.map((f) => f.measuredEv));
  const times = frames.map((f) => f.takenS);
  const sameMoment = frames.length === 2 && times[0] !== null && times[0] === times[1] && shift < 0.01;
  if (sameMoment && metered !== null && metered < 0.05) {
    return made("developed", 0.95, "set.sameMoment", "set.sameView");
  }
  if (shift > 0.12) {
    const overlap = Math.round(100 * (1 - shift));
    const reasons: Telling[] = [message("set.shifted", { shift: Math.round(shift * 100), overlap })];
    if (metered !== null && metered < 0.2) reasons.push("set.locked");
    return made("panorama", metered === null || metered < 0.7 ? 0.9 : 0.6, ...reasons);
  }
  const still = message("set.still", { shift: farthest * 100 });
  const focus = focusMovement(frames);
  if ((measured ?? metered ?? 0) < STEP_EV && focus && frames.length >= 3) {
    return made("focus", 0.85, message("set.focus", { places: focus.places }), still);
  }
  // the settings say how much more light was let in; if the pictures do not show it, the light itself changed
  if (metered !== null && measured !== null && metered >= 1 && measured < metered * 0.6) {
    return made("separate", 0.85, message("set.lightChanged", { metered, measured }), still);
  }
  if ((measured ?? metered ?? 0) >= STEP_EV) {
    const range = metered !== null ? message("set.metered", { ev: metered }) : message("set.measured", { ev: measured! });
    const pause = longestPause(frames);
    const reasons = [range, still];
    if (pause !== null && pause < 30) reasons.push(message("set.within", { seconds: Math.max(1, Math.ceil(spread(times)!)) }));
    return made("bracket", pause !== null && pause > 300 ? 0.6 : 0.95, ...reasons);
  }
  const pause = longestPause(frames);
  const alike = score > ALIKE && (pause === null || pause < 120) && frames.length >= 3;
  if (alike) return made("repeats", 0.7, "set.alike");
  return made("separate", 0.7, "set.separate", still);
}

/** Whether frames of two sets may be parts of one panorama that was not gathered in order: same camera and size, no long pause. */
export function mayBeScattered(a: GatheredFrame, b: GatheredFrame): boolean {
  if (a.camera !== b.camera || Math.max(a.width, a.height) !== Math.max(b.width, b.height)) return false;
  return a.takenS === null || b.takenS === null || Math.abs(a.takenS - b.takenS) < LONG_PAUSE_S;
}

/** Whether two frames overlap as neighbours of a panorama do. */
const overlaps = (l: Link) => l.score >= SAME_SCENE && Math.hypot(l.dx, l.dy) > 0.12;

/** Whether two panoramas show the same views: the scene was gone over twice, which makes two pictures. */
function isSecondPass(p: ProposedSet, q: ProposedSet, links: { a: string; b: string; link: Link }[]): boolean {
  if (p.frameIds.length < 2 || q.frameIds.length < 2) return false;
  const between = (s: ProposedSet, t: ProposedSet, l: { a: string; b: string }) => s.frameIds.includes(l.a) && t.frameIds.includes(l.b);
  return links.some((l) => l.link.score >= SAME_SCENE && !overlaps(l.link) && (between(p, q, l) || between(q, p, l)));
}

/**
 * Lone frames and panoramas that overlap across the order they were gathered in become one panorama each.
 * @param links between frames of different sets, by their ids
 */
export function joinScattered<T extends ProposedSet & { links: Link[] }>(sets: T[], links: { a: string; b: string; link: Link }[]): T[] {
  let joined = sets;
  for (const { a, b, link } of links) {
    if (!overlaps(link)) continue;
    const [p, q] = [a, b].map((id) => joined.find((s) => s.frameIds.includes(id))!);
    if (p === q || isSecondPass(p, q, links)) continue;
    const made = {
      ...p,
      kind: "panorama" as const,
      frameIds: [...p.frameIds, ...q.frameIds],
      reasons: [message("set.scattered", {})],
      confidence: 0.7,
      links: [...p.links, link, ...q.links],
    };
    joined = joined.flatMap((s) => (s === p ? [made] : s === q ? [] : [s]));
  }
  // two lone frames are no panorama yet
  return joined.every((s) => sets.includes(s) || s.frameIds.length >= 3) ? joined : sets;
}

function spread(values: (number | null)[]): number | null {
  if (values.some((v) => v === null)) return null;
  const known = values as number[];
  return Math.max(...known) - Math.min(...known);
}

function longestPause(frames: GatheredFrame[]): number | null {
  const times = frames.map((f) => f.takenS);
  if (times.some((t) => t === null)) return null;
  const sorted = (times as number[]).sort((a, b) => a - b);
  return Math.max(0, ...sorted.slice(1).map((t, i) => t - sorted[i]));
}

/** Whether sharpness moves: several frames each lead somewhere, and clearly. */
function focusMovement(frames: GatheredFrame[]): { places: number } | null {
  const cells = frames[0].sharpness.length;
  const leads = new Map<number, number>();
  let clear = 0;
  let known = 0;
  for (let c = 0; c < cells; c++) {
    const values = frames.map((f) => f.sharpness[c]);
    if (values.some((v) => !Number.isFinite(v))) continue;
    known++;
    const top = Math.max(...values);
    const low = Math.min(...values);
    if (low > 0 && top / low > 1.5) {
      clear++;
      const k = values.indexOf(top);
      leads.set(k, (leads.get(k) ?? 0) + 1);
    }
  }
  const places = [...leads.values()].filter((n) => n >= Math.max(1, known * 0.05)).length;
  return known > 6 && clear > known * 0.4 && places >= Math.max(2, frames.length * 0.4) ? { places } : null;
}
