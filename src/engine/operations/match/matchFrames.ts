import { IDENTITY, invert, multiply, project } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Colours } from "../../../core/matte/trimap";
import { Refusal } from "../../../core/refusal";
import { message } from "../../../messages/message";
import { withoutLook } from "../../../document/matchEdits";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { documentSize, mergeOf, pairsOf, registrationOf } from "../../../document/selectors";
import type { FrameRecord, Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { each } from "../frames/frameSamples";
import { composeOutput } from "../finish/composeOutput";
import { prepareJob } from "../layers/compose";
import type { PreparedJob } from "../layers/PreparedJob";
import { stripRows } from "../layers/layerReach";
import { framePicture } from "../matte/cutPicture";
import type { CutPicture } from "../matte/CutProposals";
import { registerFrames } from "../register/registerFrames";
import { matchPictures, showsPlaces, type Matching, type MatchMethod, type MatchProposal } from "./matchPictures";

/** A frame that is brought to another. */
export interface FrameMatch extends Omit<Matching, "matrix"> {
  records: Records;
  from: FrameRecord;
  to: FrameRecord;
  /** both show the same px by px, as far as they are as large */
  isAligned: boolean;
}

/** A registration that fewer places agree with is none to match by. Common practice, no source. */
const AGREEING = 0.3;

/** What brings a frame to another. @throws Refusal where a side tells nothing, places cannot be found, or pairs contradict each other */
export async function matchFrames(ctx: EngineContext, { records, from, to, isAligned, ...asked }: FrameMatch, task: Task): Promise<MatchProposal> {
  const [own, wanted] = [await framePicture(ctx, from), await framePicture(ctx, to)];
  const { method, matrix } =
    isAligned && isAsLarge(from, to) ? { method: asked.method, matrix: IDENTITY } : await look(ctx, records, asked.method, wanted, from, to, task);
  return matchPictures(ctx, own, wanted, { ...asked, method, matrix }, portion(task, 0.5, 1));
}

/** What brings the picture of a job, as it would be delivered without a look it was given before, to one of its frames. @throws Refusal as above */
export async function matchOutput(ctx: EngineContext, given: Records, referenceId: string, asked: MatchMethod | null, task: Task): Promise<MatchProposal> {
  const records = withoutLook(given);
  const to = records[referenceId];
  if (to?.kind !== "frame") throw new Refusal("unclear", message("match.referenceTellsNothing", {}));
  const wanted = await framePicture(ctx, to);
  const { method, matrix } = await look(ctx, records, asked, wanted, frameOfOutput(records), to, portion(task, 0, 0.5));
  const job = await prepareJob(ctx, records, portion(task, 0.5, 0.8));
  const own = outputPicture(ctx, job);
  const toFrame = outputToReference(outputGeometry(records), documentSize(records)!);
  const back = invert(toFrame);
  const pairs = pairsOf(records, referenceId).flatMap(({ x, y, like }) => (like ? [[...project(back, x, y), like.x, like.y]] : []));
  return matchPictures(ctx, own, wanted, { method, matrix: matrix && multiply(matrix, toFrame), mask: null, pairs }, portion(task, 0.8, 1));
}

/** The frame whose px the picture has; null for a panorama, which has those of none. */
export function frameOfOutput(records: Records): FrameRecord | null {
  const frame = records[registrationOf(records)?.referenceId ?? ""];
  return frame?.kind === "frame" && mergeOf(records)?.method !== "panorama" ? frame : null;
}

const isAsLarge = (a: FrameRecord, b: FrameRecord): boolean => a.width === b.width && a.height === b.height;

/** How two pictures are matched, and where one shows what the other does: px of a frame → px of the reference. A reference that is a picture of something shows the same places, or something else, whose colours are not mine. */
async function look(
  ctx: EngineContext,
  records: Records,
  asked: MatchMethod | null,
  wanted: CutPicture,
  from: FrameRecord | null,
  to: FrameRecord,
  task: Task,
): Promise<Pick<Matching, "method" | "matrix">> {
  if (asked !== null && asked !== "places") return { method: asked, matrix: null };
  const isLookedFor = asked === "places" || showsPlaces(wanted);
  const matrix = isLookedFor && from ? await placed(ctx, records, from, to, task) : null;
  return { method: asked ?? (matrix ? "places" : isLookedFor ? "steps" : null), matrix };
}

/** Where a reference shows what a frame shows: px of the frame → px of the reference; null where it shows something else. */
async function placed(ctx: EngineContext, records: Records, from: FrameRecord, to: FrameRecord, task: Task): Promise<readonly number[] | null> {
  const request = { referenceId: to.id, referenceReason: message("reference.byHand", {}), model: "auto" as const };
  const { registration } = await registerFrames(ctx, records, [to, from], request, task);
  const found = registration.placements.find((p) => p.frameId === from.id);
  return found?.matrix && found.agreeing >= AGREEING ? found.matrix : null;
}

/** The picture of a job as it would be delivered. */
function outputPicture(ctx: EngineContext, job: PreparedJob): CutPicture {
  const { width, height } = outputGeometry(job.records).crop;
  const read = (level: number, rect: Rectangle): Colours => {
    const planes = [0, 1, 2].map(() => new Float32Array(rect.width * rect.height)) as unknown as Colours;
    const rows = stripRows(job.records, level);
    for (let y = 0; y < rect.height; y += rows) {
      const part = { ...rect, y: rect.y + y, height: Math.min(rows, rect.height - y) };
      ctx.kernels.withScope((scope) =>
        each(composeOutput(ctx, job, level, part, "finish", scope)).forEach((at, c) =>
          planes[c].set(ctx.kernels.f32(at, part.width * part.height), y * rect.width),
        ),
      );
    }
    return planes;
  };
  return { key: null, width, height, levels: job.merge.picture.spec.levels, read };
}
