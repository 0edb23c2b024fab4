import { asIfPlaces, bothTell, clippedShare, evenLight, eveningMatrix, type Evening } from "../../../core/match/evenLight";
import type { Samples } from "../../../core/match/transfer";
import { Refusal } from "../../../core/refusal";
import { message } from "../../../messages/message";
import type { FrameRecord, Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { framePicture } from "../matte/cutPicture";
import { registerFrames } from "../register/registerFrames";
import { meanDifference, placesOf, samplesOf, seen } from "./seenPicture";

/** A frame of a series, and how it is developed to come to one of them. */
export interface EvenedFrame extends Evening {
  frameId: string;
  /** mean ΔE2000 to that one: as it is developed now, and evened; at equal exposure where that is kept */
  before: number;
  after: number;
  /** by places that both show, or by their tones as a whole */
  by: "places" | "tones";
  /** whether exposure stays as it is */
  keepsExposure: boolean;
  /** share of the frame that is clipped and stays so */
  clipped: number;
}

/** A frame that cannot be evened, and why not. */
export interface UnevenFrame {
  frameId: string;
  why: "tellsNothing";
}

/** A registration that fewer places agree with is none to compare by. Common practice, no source. */
const AGREEING = 0.3;
const MOST_COMPARED = 4000;

/** How each frame of a series is developed to come to one of them: exposure and white balance; tone, lens and what is local stay. @param exposureKept ids of frames that differ in exposure on purpose and keep that @throws Refusal where that one tells nothing */
export async function evenFrames(
  ctx: EngineContext,
  records: Records,
  frames: FrameRecord[],
  to: FrameRecord,
  exposureKept: readonly string[],
  task: Task,
): Promise<(EvenedFrame | UnevenFrame)[]> {
  const others = frames.filter((f) => f.id !== to.id);
  const request = { referenceId: to.id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const { registration } = await registerFrames(ctx, records, [to, ...others], request, portion(task, 0, 0.6));
  const wanted = seen(await framePicture(ctx, to));
  const theirs = samplesOf(wanted, null);
  if (bothTell(theirs, theirs).own.count === 0) throw new Refusal("unclear", message("match.referenceTellsNothing", {}));
  const evened: (EvenedFrame | UnevenFrame)[] = [];
  for (const [k, frame] of others.entries()) {
    await task.step(0.6 + (0.4 * k) / others.length, 1, "task.matching");
    // as it was shot: what it is developed with says all, and is not added to what it had
    const shot = seen(await framePicture(ctx, { ...frame, development: { ...frame.development, exposureEv: 0, mired: 0, duv: 0 } }));
    const placed = registration.placements.find((p) => p.frameId === frame.id);
    const places = placed?.matrix && placed.agreeing >= AGREEING ? placesOf(shot, wanted, placed.matrix, null) : null;
    const { own, wanted: aim } = places ?? asIfPlaces(samplesOf(shot, null), theirs);
    const found = evenLight(own, aim);
    if (!found) {
      evened.push({ frameId: frame.id, why: "tellsNothing" });
      continue;
    }
    const { exposureEv, mired, duv } = frame.development;
    const keepsExposure = exposureKept.includes(frame.id);
    const said = {
      exposureEv: keepsExposure ? exposureEv : rounded(found.exposureEv, 0.01),
      mired: rounded(found.mired, 0.5),
      duv: rounded(found.duv, 0.0005),
    };
    const compared = thinned(bothTell(own, aim));
    const apart = (by: Evening) => meanDifference(developed(compared.own, keepsExposure ? { ...by, exposureEv: found.exposureEv } : by), compared.wanted);
    evened.push({
      frameId: frame.id,
      ...said,
      before: apart({ exposureEv, mired, duv }),
      after: apart(said),
      keepsExposure,
      by: places ? "places" : "tones",
      clipped: clippedShare(samplesOf(shot, null)),
    });
  }
  return evened;
}

const rounded = (value: number, step: number): number => Number((Math.round(value / step) * step).toFixed(4));

const thinned = ({ own, wanted }: { own: Samples; wanted: Samples }): { own: Samples; wanted: Samples } => {
  const step = Math.max(1, Math.ceil(own.count / MOST_COMPARED));
  const thin = ({ count, light }: Samples): Samples => {
    const kept = Math.ceil(count / step);
    return { count: kept, light: Float32Array.from({ length: 3 * kept }, (_, i) => light[3 * Math.floor(i / 3) * step + (i % 3)]) };
  };
  return { own: thin(own), wanted: thin(wanted) };
};

function developed({ count, light }: Samples, by: Evening): Samples {
  const m = eveningMatrix(by);
  const out = new Float32Array(3 * count);
  for (let i = 0; i < 3 * count; i += 3)
    for (let c = 0; c < 3; c++) out[i + c] = Math.max(0, m[3 * c] * light[i] + m[3 * c + 1] * light[i + 1] + m[3 * c + 2] * light[i + 2]);
  return { count, light: out };
}
