import { finding, type Finding } from "../../../document/finding";
import { lampRadiusPx, shineOf } from "../../../core/light/lamp";
import { sizeAtLevel, intersect } from "../../../core/geometry/rectangle";
import { anglesOf } from "../../../core/seat/lightFromShadows";
import { lightInPicture, turn } from "../../../core/seat/outlineLight";
import { lampLightOf, lampsOf, relightOf } from "../../../document/lampEdits";
import { overAmbient } from "../../../document/lampSight";
import type { LayerRecord } from "../../../document/records/layerTypes";
import type { PlateLamp, PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { cameraOf, lightOf, seatFigures, standsAt } from "../../../document/seatGeometry";
import { otherSkyOf, skySun } from "../../../document/skyEdits";
import { layerOf, layersOf, plateOf, seatsOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import type { PreparedJob } from "../layers/PreparedJob";
import { each } from "../frames/frameSamples";
import { readBelow } from "../layers/layStack";
import { outlineLightOf } from "../seat/outlineLightOf";
import { measureBlur } from "../light/measureBlur";

/** A lamp that adds less, EV over all else, is not missed. Common practice, no source. */
const MISSED_EV = -1;
/** Edges within that, times, are as sharp; and what is softer than that, px, is seen. Common practice, no source. */
const [AS_SHARP, SEEN_PX] = [1.5, 0.8];
/** A sun that far from where shadows tell, degrees, and so many of their deviations, is elsewhere. */
const [SAME_SUN_DEG, SAME_SIGMAS] = [20, 2];

/** A lamp that adds as much as all else is what a thing is lit by, EV; a bright side so far from it is a wrong one, degrees. Common practice, no source. */
const [LIT_EV, WRONG_DEG] = [0, 90];
/** Blue over red within that of what shines is as warm, EV. Common practice, no source. */
const AS_COLD_EV = 0.6;
/** Radius at which what shines is looked at, samples; and what of it tells its colour: neither clipped nor of its rim. */
const [SHINE_SAMPLES, UNCLIPPED, INSIDE, FEWEST] = [6, 0.98, 0.8, 12];

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
    const aside = await rimAside(job, plate, seat, task);
    if (aside !== null) found.push(finding("rimSide", { layer: layer.name, degrees: aside }, { ...of, id: `rimSide-${seat.id}`, weight: 0.5 }));
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
  for (const layer of layersOf(records)) {
    if (layer.content.type !== "lampGlow" || !layer.visible) continue;
    const lamp = lampsOf(plate).find((l) => layer.content.type === "lampGlow" && l.id === layer.content.lampId);
    const ev = lamp ? bluer(ctx, job, layer, lamp, lampRadiusPx(cameraOf(plate, inputs), lamp)) : null;
    if (ev !== null && ev > AS_COLD_EV) found.push(finding("glowColder", { layer: layer.name, ev }, { ...of, id: `glowColder-${layer.id}`, weight: 0.4 }));
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

/** How far the bright side of a thing is turned from the lamp that lights it most, degrees; null where it is not, or where the sky lights it. */
async function rimAside(job: PreparedJob, plate: PlateRecord, seat: SeatRecord, task: Task): Promise<number | null> {
  const { records, inputs } = job;
  const foot = standsAt(plate, inputs, seat);
  if (!foot || typeof lightOf(plate, inputs) !== "string" || relightOf(records, seat.layerId)?.visible) return null;
  const byStrength = lampsOf(plate)
    .map((lamp) => ({ lamp, ev: overAmbient(plate, inputs, lamp, seat) ?? -Infinity }))
    .sort((a, b) => b.ev - a.ev);
  const [strongest] = byStrength;
  if (!strongest || strongest.ev < LIT_EV) return null;
  const { towards } = shineOf(cameraOf(plate, inputs), strongest.lamp)([foot[0], foot[1] + seat.heightM / 2, foot[2]]);
  const lampDeg = lightInPicture(foot, anglesOf(towards));
  const own = lampDeg === null ? null : await outlineLightOf(job, seat.layerId, task);
  if (lampDeg === null || !own || own === "even") return null;
  const aside = Math.abs(turn(own.angleDeg, lampDeg));
  return aside > WRONG_DEG + own.sigmaDeg ? aside : null;
}

/** How much bluer, against red, a glow is than what the picture shows of its lamp, EV; null where that does not tell. */
function bluer(ctx: EngineContext, job: PreparedJob, layer: LayerRecord, lamp: PlateLamp, radiusPx: number): number | null {
  const level = Math.max(0, Math.round(Math.log2(radiusPx / SHINE_SAMPLES)));
  const scale = 2 ** level;
  const [x, y, r] = [(lamp.x + 0.5) / scale - 0.5, (lamp.y + 0.5) / scale - 0.5, (INSIDE * radiusPx) / scale];
  const around = { x: Math.floor(x - r), y: Math.floor(y - r), width: Math.ceil(2 * r) + 1, height: Math.ceil(2 * r) + 1 };
  const rect = intersect(around, { x: 0, y: 0, ...sizeAtLevel(job.inputs.width, job.inputs.height, level) });
  if (rect.width < 1 || rect.height < 1) return null;
  return ctx.kernels.withScope((scope) => {
    const planes = each(readBelow(ctx, job, layer, level, rect, scope)).map((at) => ctx.kernels.f32(at, rect.width * rect.height));
    let [red, blue, count] = [0, 0, 0];
    for (let i = 0; i < rect.width * rect.height; i++) {
      const [u, v] = [rect.x + (i % rect.width) - x, rect.y + Math.floor(i / rect.width) - y];
      if (u * u + v * v > r * r || planes.some((p) => p[i] >= UNCLIPPED || p[i] <= 0)) continue;
      red += planes[0][i];
      blue += planes[2][i];
      count++;
    }
    return count < FEWEST ? null : Math.log2(lamp.color[2] / lamp.color[0]) - Math.log2(blue / red);
  });
}
