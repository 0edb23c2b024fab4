import { message, type Message } from "../../../messages/message";
import { workingToLab } from "../../../core/color/colorDifference";
import { proposeWhiteBalance, type WhiteBalance } from "../../../core/color/whiteBalance";
import { area, intersect, rectangleAtLevel, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { quantile } from "../../../core/numeric/statistics";
import { setFinish } from "../../../document/finishEdits";
import { frameNumber, pinsOf } from "../../../document/selectors";
import { mergeKind } from "../../../kinds/merges/records";
import type { EngineContext } from "../../EngineContext";
import { allocatePlanes, each, readLinear } from "../frames/frameSamples";
import { patchMean } from "./patch";
import type { PreparedJob } from "../layers/PreparedJob";

/** One frame's fitness for a region. */
export interface FrameFitness {
  frameId: string;
  number: number;
  /** share of the region clipped in any channel, 0..1 */
  clipped: number;
  /** share of the region lost in black, 0..1 */
  blocked: number;
  /** noise against signal, % */
  noisePercent: number;
  /** lower is better */
  score: number;
}

export interface FrameProposal {
  best: FrameFitness;
  all: FrameFitness[];
  reason: Message;
}

/** Which frame is best in a region, and why: least clipped and blocked first, then least noise against its signal. */
export function proposeFrame(ctx: EngineContext, job: PreparedJob, region: Rectangle): FrameProposal | null {
  const level = Math.max(0, Math.min(job.merge.picture.spec.levels - 1, Math.ceil(Math.log2(Math.sqrt(Math.max(1, area(region)) / 40000)))));
  const bounds = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const rect = intersect(rectangleAtLevel(region, level), { x: 0, y: 0, ...bounds });
  if (area(rect) < 4) return null;
  const all = job.inputs.frames.map((input): FrameFitness => {
    let clipped = 0;
    let blocked = 0;
    let noise = 0;
    const n = rect.width * rect.height;
    ctx.kernels.withScope((scope) => {
      const planes = allocatePlanes(scope, n);
      readLinear(scope, input.file, input.color, level, rect, planes);
      const [r, g, b] = each(planes).map((at) => ctx.kernels.f32(at, n));
      for (let i = 0; i < n; i++) {
        if (Math.max(r[i], g[i], b[i]) > 0.97) clipped++;
        if (Math.max(r[i], g[i], b[i]) < 0.0015) blocked++;
        const x = Math.max(g[i], 1e-4);
        noise += Math.sqrt(job.inputs.noise.shot * x + job.inputs.noise.readSquared) / x;
      }
    });
    clipped /= n;
    blocked /= n;
    noise /= n;
    return {
      frameId: input.frame.id,
      number: frameNumber(job.records, input.frame.id),
      clipped,
      blocked,
      noisePercent: noise * 100,
      score: 20 * Math.max(0, clipped - 0.005) + 10 * Math.max(0, blocked - 0.01) + noise,
    };
  });
  const [best, second] = [...all].sort((p, q) => p.score - q.score);
  const figures = { clipped: 100 * best.clipped, noise: best.noisePercent };
  if (!second) return { best, all, reason: message("best.only", figures) };
  const beside = { number: second.number, otherClipped: 100 * second.clipped, times: second.noisePercent / best.noisePercent };
  return { best, all, reason: message("best.second", { ...figures, ...beside }) };
}

export interface FinishProposals {
  whiteBalance: (WhiteBalance & { reason: Message }) | null;
  exposure: { ev: number; reason: Message } | null;
  headroom: { ev: number; reason: Message } | null;
}

/** What measurements propose for Finish. Never towards middle grey: without a pin there is no proposal for exposure. */
export function proposeFinish(ctx: EngineContext, job: PreparedJob): FinishProposals {
  const pins = pinsOf(job.records);
  const neutral = pins.find((p) => p.purpose === "neutral");
  const wanted = pins.find((p) => p.purpose === "exposure" && p.target !== null);
  let whiteBalance: FinishProposals["whiteBalance"] = null;
  if (neutral) {
    const found = proposeWhiteBalance(patchMean(ctx, job, neutral.x, neutral.y, neutral.radius, "layers"));
    if (found) whiteBalance = { ...found, reason: message("finish.neutralPin", {}) };
  }
  let exposure: FinishProposals["exposure"] = null;
  if (wanted) {
    const ev = solveExposure(ctx, job, wanted.x, wanted.y, wanted.radius, wanted.target!);
    if (ev !== null) exposure = { ev, reason: message("finish.exposurePin", { target: wanted.target! }) };
  }
  return { whiteBalance, exposure, headroom: mergeKind(job.method).givesSceneLight ? proposeHeadroom(job) : null };
}

/** Bisection over the exposure; L* of the patch rises with it. */
function solveExposure(ctx: EngineContext, job: PreparedJob, x: number, y: number, radius: number, target: number): number | null {
  const lightness = (ev: number) => {
    const records = setFinish("exposure", { ev })(job.records);
    return workingToLab(patchMean(ctx, { ...job, records }, x, y, radius, "finish"))[0];
  };
  let low = -8;
  let high = 8;
  if (lightness(low) > target || lightness(high) < target) return null;
  for (let k = 0; k < 14; k++) {
    const middle = (low + high) / 2;
    if (lightness(middle) < target) low = middle;
    else high = middle;
  }
  return Math.round(((low + high) / 2) * 100) / 100;
}

/** The scene value that 99.9 % of the picture stays below becomes white. */
function proposeHeadroom(job: PreparedJob): FinishProposals["headroom"] {
  const { picture } = job.merge;
  const level = picture.spec.levels - 1;
  const { width, height } = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  const planes = [0, 1, 2].map((c) => {
    const out = new Float32Array(width * height);
    picture.read(level, c, 0, 0, width, height, out);
    return out;
  });
  const top = planes[0].map((r, i) => Math.max(r, planes[1][i], planes[2][i]));
  const ev = Math.log2(Math.max(1e-6, quantile(top, 0.999)));
  return { ev: Math.max(0, Math.min(16, Math.round(ev * 10) / 10)), reason: message("finish.headroom", {}) };
}
