import { invert, project } from "../../../core/geometry/matrix3";
import { seamShows } from "../../../core/weave/seamShows";
import { finding, type Finding } from "../../../document/finding";
import { outputGeometry, outputToReference } from "../../../document/outputGeometry";
import { layersOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import type { PreparedJob } from "../layers/PreparedJob";
import { seamFigures } from "../swap/seams";

/** Half the side of what is shown of the worst place, px. */
const AROUND = 60;

/** Where parts from other frames are joined so that it can be seen. */
export async function partFindings(ctx: EngineContext, { records, inputs }: PreparedJob, task: Task): Promise<Finding[]> {
  const found: Finding[] = [];
  const shown = layersOf(records).filter((l) => l.visible && l.opacity > 0);
  for (const [i, layer] of shown.entries()) {
    const figures = await seamFigures(ctx, records, layer, portion(task, i / shown.length, (i + 1) / shown.length));
    if (!figures || !seamShows(figures)) continue;
    const geometry = outputGeometry(records);
    const [x, y] = project(invert(outputToReference(geometry, inputs)), figures.worst.x, figures.worst.y);
    found.push(
      finding(
        "partSeam",
        { layer: layer.name, deltaE: figures.deltaE, worst: figures.worstDeltaE },
        {
          id: `partSeam-${layer.id}`,
          place: { x: Math.round(x - AROUND), y: Math.round(y - AROUND), width: 2 * AROUND, height: 2 * AROUND },
          share: Math.min(1, (figures.lengthPx * 2) / (geometry.crop.width * geometry.crop.height)),
          weight: Math.min(1, 0.3 + figures.deltaE / 10),
          cause: "compose",
          remedy: { kind: "show" },
        },
      ),
    );
  }
  return found;
}
