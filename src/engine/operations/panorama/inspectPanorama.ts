import { LUMINANCE } from "../../../core/color/primaries";
import { encodeSrgb } from "../../../core/color/srgbCurve";
import { invert, project, type Matrix3 } from "../../../core/geometry/matrix3";
import { sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { levelByLines, straighten } from "../../../core/panorama/level";
import { bowOf, horizonIn, tiltOf } from "../../../core/panorama/horizon";
import { viewMap } from "../../../core/panorama/layout";
import { mapAbout, measurePatch, searchPatch, strongestCorner } from "../../../core/register/localShifts";
import { createPhotometry } from "../../../core/register/photometry";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { frameNumber, levelLinesOf, panoramaCamerasOf, panoramaOf, seamsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { finding, type Finding } from "../../../document/finding";
import { each } from "../frames/frameSamples";
import { readProjected } from "./panoramaInputs";
import type { MergeInputs } from "../merge/mergeTypes";
import type { PreparedJob } from "../layers/PreparedJob";

/** What is looked for at 1:1 in a panorama: seams that could be seen, edges that stand twice, frames softer than the others, a bowed horizon. */
export async function inspectPanorama(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  if (!job.inputs.panorama) return [];
  const toOutput = invert(outputToReference(outputGeometry(job.records), job.inputs));
  return [...seamFindings(job, toOutput), ...(await doubledEdges(ctx, job, toOutput, task)), ...softFrames(job), ...horizonFindings(job, toOutput)];
}

/** Half the side of what is shown around a place. */
const SHOWN = 150;
const squareAt = (x: number, y: number): Rectangle => ({ x: Math.round(x) - SHOWN, y: Math.round(y) - SHOWN, width: 2 * SHOWN, height: 2 * SHOWN });
const around = (toOutput: Matrix3, { x, y }: { x: number; y: number }) => squareAt(...project(toOutput, x, y));

/** Mean difference along a seam that an eye finds, ΔE2000. Common practice, no source. */
const VISIBLE_SEAM = 2;

function seamFindings({ records }: PreparedJob, toOutput: Matrix3): Finding[] {
  const number = (id: string) => frameNumber(records, id);
  return seamsOf(records)
    .filter((s) => s.deltaE > VISIBLE_SEAM)
    .map((s) =>
      finding(
        "seam",
        { a: number(s.aId), b: number(s.bId), deltaE: s.deltaE, worst: s.worst.deltaE },
        {
          id: `seam-${s.aId}-${s.bId}`,
          place: around(toOutput, s.worst),
          share: 0,
          weight: s.deltaE,
          cause: "merge",
          remedy: null,
        },
      ),
    );
}

/** How much wider the edges of a frame are than those of the sharpest. Common practice, no source. */
const SOFTER = 1.5;

function softFrames({ records, inputs }: PreparedJob): Finding[] {
  const frames = inputs.frames.map((f) => f.frame);
  const sharpest = Math.min(...frames.map((f) => f.measures.edgeWidthPx));
  return frames
    .filter((f) => f.measures.edgeWidthPx > SOFTER * sharpest)
    .map((f) =>
      finding(
        "softFrame",
        { frame: frameNumber(records, f.id), widthPx: f.measures.edgeWidthPx, sharpestPx: sharpest },
        {
          id: `soft-${f.id}`,
          place: null,
          share: 0,
          weight: f.measures.edgeWidthPx / sharpest,
          cause: "gather",
          remedy: null,
        },
      ),
    );
}

/** Longest side of the level on which seams are followed. */
const SEAM_SIDE = 1200;
/** Places looked at along a seam, and samples of a patch there. */
const MOST_PLACES = 24;
const PATCH = 64;
/** How far apart the same edge is looked for, px. */
const REACH = 10;
/** How far from the seam something to compare is looked for, px. */
const ASIDE = 12;
/** Frames that lie further apart than this at a seam show an edge twice, px; and how alike both must be to say so. Common practice, no source. */
const DOUBLED_PX = 1.5;
const ALIKE = 0.85;
/** By how much more alike both are elsewhere than where they lie. Common practice, no source. */
const CLEARLY = 0.1;

interface Place {
  x: number;
  y: number;
}

/** Where both frames of a seam show the same edge in two places. */
async function doubledEdges(ctx: EngineContext, job: PreparedJob, toOutput: Matrix3, task: Task): Promise<Finding[]> {
  const { inputs, records } = job;
  const pairs = [...seamPlaces(job, toOutput)];
  const findings: Finding[] = [];
  for (const [k, [key, places]] of pairs.entries()) {
    const [a, b] = key.split(",").map(Number);
    let looked = 0;
    const apart: (Place & { px: number })[] = [];
    for (const place of everyOf(places, MOST_PLACES)) {
      await task.step(k, pairs.length, "task.doubleEdges");
      const px = misfitAt(ctx, inputs, a, b, place);
      if (px === null) continue;
      looked++;
      if (px > DOUBLED_PX) apart.push({ ...place, px });
    }
    if (apart.length === 0) continue;
    const worst = apart.reduce((most, p) => (p.px > most.px ? p : most));
    const [p, q] = [a, b].map((i) => frameNumber(records, inputs.frames[i].frame.id)).sort((m, n) => m - n);
    findings.push(
      finding(
        "doubledEdge",
        { a: p, b: q, apart: apart.length, looked, px: worst.px },
        {
          id: `doubled-${p}-${q}`,
          place: around(toOutput, worst),
          share: 0,
          weight: worst.px,
          cause: "merge",
          remedy: { kind: "show" },
        },
      ),
    );
  }
  return findings;
}

function everyOf<T>(list: T[], most: number): T[] {
  const stride = Math.max(1, list.length / most);
  return Array.from({ length: Math.min(list.length, most) }, (_, i) => list[Math.floor(i * stride)]);
}

/** Places along the seams inside the crop, px of the picture, by pair of frames as "a,b". */
function seamPlaces({ inputs, merge, records }: PreparedJob, toOutput: Matrix3): Map<string, Place[]> {
  const level = Math.min(merge.dominant.spec.levels - 1, Math.max(0, Math.ceil(Math.log2(Math.max(inputs.width, inputs.height) / SEAM_SIDE))));
  const { width, height } = sizeAtLevel(inputs.width, inputs.height, level);
  const from = new Uint8Array(width * height);
  merge.dominant.read(level, 0, 0, 0, width, height, from);
  const { crop } = outputGeometry(records);
  const out = new Map<string, Place[]>();
  for (let y = 0; y + 1 < height; y++) {
    for (let x = 0; x + 1 < width; x++) {
      const i = y * width + x;
      const j = from[i + 1] !== from[i] ? i + 1 : i + width;
      if (from[j] === from[i]) continue;
      const place = { x: (x + 0.5) * 2 ** level, y: (y + 0.5) * 2 ** level };
      const [u, v] = project(toOutput, place.x, place.y);
      if (u < 0 || v < 0 || u >= crop.width || v >= crop.height) continue;
      const key = [Math.min(from[i], from[j]), Math.max(from[i], from[j])].join(",");
      const list = out.get(key);
      if (list) list.push(place);
      else out.set(key, [place]);
    }
  }
  return out;
}

/** How far apart two frames show what lies at a place, px at full size; null where too little is to be seen, or both show something else. */
function misfitAt(ctx: EngineContext, inputs: MergeInputs, a: number, b: number, { x, y }: Place): number | null {
  const rect = { x: Math.round(x) - PATCH / 2, y: Math.round(y) - PATCH / 2, width: PATCH, height: PATCH };
  if (rect.x < 0 || rect.y < 0 || rect.x + PATCH > inputs.width || rect.y + PATCH > inputs.height) return null;
  const grey = (k: number) =>
    ctx.kernels.withScope((scope) => {
      const { planes } = readProjected(scope, inputs.panorama!, inputs.frames[k].color, k, 0, rect);
      const [r, g, bl] = each(planes).map((at) => ctx.kernels.f32(at, PATCH * PATCH));
      const data = Uint16Array.from(r, (v, i) => 65535 * encodeSrgb(Math.min(1, Math.max(0, LUMINANCE[0] * v + LUMINANCE[1] * g[i] + LUMINANCE[2] * bl[i]))));
      return { width: PATCH, height: PATCH, data };
    });
  if (![a, b].every((k) => inputs.frames[k].projected!.coverage(0, rect).every((on) => on))) return null;
  const [fixed, moving] = [grey(a), grey(b)];
  const photometry = createPhotometry(0);
  const [from, to] = [PATCH / 2 - ASIDE, PATCH / 2 + ASIDE];
  const corner = strongestCorner(fixed, photometry.fixed, { x0: from, x1: to, y0: from, y1: to });
  if (!corner) return null;
  const { dx, dy, correlation, unmoved } = searchPatch(fixed, moving, ...corner, REACH);
  // an even course is as much alike anywhere: only what fits clearly better elsewhere stands twice
  if (correlation - unmoved < CLEARLY) return correlation > ALIKE ? 0 : null;
  const map = mapAbout((px, py) => [px + dx, py + dy], ...corner);
  const found = map && measurePatch(fixed, moving, photometry, map);
  return found && found.correlation > ALIKE ? Math.hypot(dx + found.dx, dy + found.dy) : null;
}

/** A horizon that bows by more than this share of its length, or leans by more than this, is seen. Common practice, no source. */
const BOWED = 0.002;
const LEANS_DEG = 0.15;

function horizonFindings({ records }: PreparedJob, toOutput: Matrix3): Finding[] {
  const panorama = panoramaOf(records);
  if (!panorama) return [];
  const measured = straighten(panoramaCamerasOf(records));
  const lines = levelLinesOf(records).map((l) => l.line);
  const map = viewMap(panorama.view);
  const { crop } = outputGeometry(records);
  const line = horizonIn(levelByLines(measured, lines) ?? measured, (ray) => {
    const p = map.toPixel(ray);
    const q = p && project(toOutput, ...p);
    return q && q[0] >= 0 && q[1] >= 0 && q[0] < crop.width && q[1] < crop.height ? q : null;
  });
  if (!line) return [];
  const bow = bowOf(line);
  const horizon = (at: Place, weight: number) => ({
    place: squareAt(at.x, at.y),
    share: 0,
    weight,
    cause: "register" as const,
    remedy: { kind: "show" as const },
  });
  const out: Finding[] = [];
  if (bow.px > BOWED * line.length)
    out.push(finding("bowedHorizon", { px: bow.px, over: line.length }, { id: "bowedHorizon", ...horizon(bow.at, (100 * bow.px) / line.length) }));
  // what is level is known only where it was said
  const tilt = tiltOf(line);
  if (lines.length > 0 && Math.abs(tilt) > LEANS_DEG) {
    const values = { degrees: Math.abs(tilt), way: tilt > 0 ? "down" : "up" };
    out.push(finding("leaningHorizon", values, { id: "leaningHorizon", ...horizon(line.points[line.points.length >> 1], Math.abs(tilt)) }));
  }
  return out;
}
