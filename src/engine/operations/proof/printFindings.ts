import { finding, type Finding } from "../../../document/finding";
import { targetOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { PreparedJob } from "../layers/PreparedJob";
import { measurePrinted } from "../print/printing";

/** Shares of a picture under which nobody minds, and a miss that shows beside the screen, ΔE2000. Common practice, no source. */
const [LEAST_BLACK, LEAST_OUTSIDE, LEAST_MISSED] = [0.002, 0.01, 3];

/** What the chosen paper or screen cannot show: blacks that close, colours that it lacks. */
export async function printFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const target = targetOf(job.records);
  const figures = target && (await measurePrinted(ctx, job, task));
  if (!target || !figures) return [];
  const { outside, missedBy, blocked, firstTone, places } = figures;
  const found: Finding[] = [];
  if (blocked > LEAST_BLACK) {
    // the black is brought along, or the picture's own deep tones are lost in the ink
    const remedy = target.blackPoint ? null : { kind: "changeTarget" as const, change: { blackPoint: true } };
    const of = { id: "printsBlack", place: places.blocked, share: blocked, weight: 20 * blocked, cause: "print" as const, remedy };
    found.push(finding("printsBlack", { share: blocked, tone: firstTone, paper: target.name }, of));
  }
  if (outside > LEAST_OUTSIDE && missedBy > LEAST_MISSED) {
    const of = { id: "outOfGamut", place: places.outside, share: outside, weight: outside * missedBy, cause: "print" as const, remedy: null };
    found.push(finding("outOfGamut", { share: outside, deltaE: missedBy, paper: target.name }, of));
  }
  return found;
}
