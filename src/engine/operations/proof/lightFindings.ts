import { finding, type Finding } from "../../../document/finding";
import { lampLightOf, lampsOf } from "../../../document/lampEdits";
import { overAmbient } from "../../../document/lampSight";
import { seatFigures } from "../../../document/seatGeometry";
import { otherSkyOf, skySun } from "../../../document/skyEdits";
import { layerOf, layersOf, plateOf, seatsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { PreparedJob } from "../layers/PreparedJob";
import { measureBlur } from "../light/measureBlur";

/** A lamp that adds less, EV over all else, is not missed. Common practice, no source. */
const MISSED_EV = -1;
/** Edges within that, times, are as sharp; and what is softer than that, px, is seen. Common practice, no source. */
const [AS_SHARP, SEEN_PX] = [1.5, 0.8];
/** A sun that far from where shadows tell, degrees, and so many of their deviations, is elsewhere. */
const [SAME_SUN_DEG, SAME_SIGMAS] = [20, 2];

/** What is not plausible of light and air on what is seated: a lamp that does nothing, another sharpness, a sun elsewhere, air that is passed over. */
export async function lightFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const { records, inputs } = job;
  const found: Finding[] = [];
  const plate = plateOf(records);
  if (!plate || plate.byTaste) return found;
  const of = { cause: "compose" as const, remedy: { kind: "show" as const }, place: null, share: 0.05 };
  const air = layersOf(records).filter(({ visible, content }) => visible && (content.type === "mist" || content.type === "particles"));
  for (const seat of seatsOf(records)) {
    const layer = layerOf(records, seat.layerId)!;
    if (!layer.visible || seat.on !== "ground") continue;
    for (const lamp of lampsOf(plate)) {
      const ev = overAmbient(plate, inputs, lamp, seat);
      if (ev === null || ev < MISSED_EV || lampLightOf(records, lamp.id, seat.layerId)?.visible) continue;
      // against what is there already
      const brighter = Math.log2(1 + 2 ** ev);
      found.push(finding("lampMissing", { layer: layer.name, ev: brighter }, { ...of, id: `lampMissing-${lamp.id}-${seat.id}`, weight: 0.5 }));
    }
    const edges = await measureBlur(ctx, records, seat.id, task);
    if (edges?.platePx && edges.ownPx) {
      const disc = layer.content.type === "frame" ? (layer.content.defocus?.radiusPx ?? 0) : 0;
      const px = Math.hypot(edges.ownPx, 1.6 * disc);
      const [low, high] = [Math.min(px, edges.platePx), Math.max(px, edges.platePx)];
      if (high > AS_SHARP * low && high - low > SEEN_PX)
        found.push(
          finding(
            "blurUnlike",
            { layer: layer.name, how: px < edges.platePx ? "sharper" : "softer", px, platePx: edges.platePx },
            { ...of, id: `blurUnlike-${seat.id}`, weight: 0.4 },
          ),
        );
    }
    const metres = seatFigures(records, seat)?.distanceM ?? null;
    for (const over of air) {
      if (metres === null || over.index > layer.index || over.parentId !== layer.parentId) continue;
      found.push(finding("mistBehind", { layer: layer.name, air: over.name, metres }, { ...of, id: `mistBehind-${over.id}-${seat.id}`, weight: 0.4 }));
    }
  }
  const sky = otherSkyOf(records);
  const frame = sky?.content.type === "otherSky" ? records[sky.content.frameId] : undefined;
  if (sky?.visible && sky.content.type === "otherSky" && frame?.kind === "frame") {
    const sun = skySun(plate, inputs, frame, sky.content);
    if (sun?.apartDeg != null && sun.apartDeg > SAME_SUN_DEG + SAME_SIGMAS * sun.sigmaDeg)
      found.push(finding("skySun", { layer: sky.name, degrees: sun.apartDeg }, { ...of, id: `skySun-${sky.id}`, weight: 0.6 }));
  }
  return found;
}
