import { edgeIs } from "../../../core/matte/judgeEdge";
import type { MattePart } from "../../../core/matte/trimap";
import { invert, project } from "../../../core/geometry/matrix3";
import { Refusal } from "../../../core/refusal";
import { finding, type Finding } from "../../../document/finding";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { cutoutsOf, layerOf } from "../../../document/selectors";
import type { Task } from "../../task";
import { toPicturePlace } from "../layers/frameLayers";
import type { PreparedJob } from "../layers/PreparedJob";
import { judgedLevel } from "../matte/judgedLevel";

/** A rim that leans so far towards the old background shows. Common practice, no source. */
const SEEN_DELTA_E = 4;

/** What is wrong with what layers cut out: remnants of the old background in the rim, parts apart, gaps, and where it is cut off. */
export async function cutFindings(job: PreparedJob, task: Task): Promise<Finding[]> {
  const found: Finding[] = [];
  for (const { id, content } of cutoutsOf(job.records)) {
    const [cutter, layer] = [job.cutouts.get(id), layerOf(job.records, id)];
    if (!cutter || !layer) continue;
    const figures = await cutter.figures(judgedLevel(cutter), task).catch((error: unknown) => {
      if (error instanceof Refusal) return null;
      throw error;
    });
    if (!figures) continue;
    const toPicture = toPicturePlace(job, content);
    const { crop } = outputGeometry(job.records);
    const toOutput = invert(outputToReference(outputGeometry(job.records), job.inputs));
    const at = (part: MattePart, side: number): Pick<Finding, "place" | "share"> => {
      const [x, y] = project(toOutput, ...(project(toPicture, part.x, part.y) as [number, number]));
      return {
        place: { x: Math.round(x - side), y: Math.round(y - side), width: 2 * Math.round(side), height: 2 * Math.round(side) },
        share: Math.min(1, part.area / (crop.width * crop.height)),
      };
    };
    const of = { cause: "compose" as const, remedy: { kind: "show" as const } };
    const listed = (kind: "apart" | "gap" | "cutOff" | "stub", parts: MattePart[], weight: number) => {
      const [worst] = parts;
      if (!worst) return;
      const side = kind === "cutOff" ? worst.area : Math.sqrt(worst.area);
      const values = { layer: layer.name, count: parts.length, px: Math.round(worst.area) };
      found.push(finding(kind, values, { ...at(worst, Math.max(24, side)), ...of, id: `${kind}-${id}`, weight }));
    };
    const isLand = content.cut.by === "sky";
    if (figures.spillDeltaE > SEEN_DELTA_E) {
      const kind = isLand ? "oldSky" : "oldRim";
      found.push(
        finding(kind, { layer: layer.name, deltaE: figures.spillDeltaE }, { ...of, place: null, share: figures.share, id: `${kind}-${id}`, weight: 0.7 }),
      );
    }
    const how = figures.edge ? edgeIs(figures.edge) : "right";
    if (figures.edge && how !== "right")
      found.push(
        finding(
          "edgeWidth",
          { layer: layer.name, how, px: figures.edge.matte, ownPx: figures.edge.own },
          { ...of, place: null, share: figures.share, id: `edgeWidth-${id}`, weight: 0.5 },
        ),
      );
    // land ends at the borders of its picture, and is seen through in many places
    if (isLand) continue;
    listed("stub", figures.stubs, 0.5);
    listed("apart", figures.islands, 0.5);
    listed("gap", figures.holes, 0.3);
    listed("cutOff", figures.cutOff, 0.4);
  }
  return found;
}
