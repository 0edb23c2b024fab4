import { invert, project } from "../../../core/geometry/matrix3";
import { intersect, type Rectangle } from "../../../core/geometry/rectangle";
import type { LightDirection } from "../../../core/seat/lightFromShadows";
import { lightInPicture, sidesEv, strengthThere, turn } from "../../../core/seat/outlineLight";
import { finding, type Finding } from "../../../document/finding";
import { movedMatrix, outputGeometry, outputToReference, shownSize } from "../../../document/outputGeometry";
import { combineShadows, type LightFigures } from "../../../core/seat/measureShadow";
import { plateFrame } from "../../../document/seatEdits";
import type { PlateRecord, SeatRecord } from "../../../document/records/plateTypes";
import { lightOf, seatedAt, seatFigures, standsAt } from "../../../document/seatGeometry";
import { CLEAR_EV, shadowOf } from "../../../document/shadowEdits";
import { relightOf } from "../../../document/lampEdits";
import { cutoutsOf, layerOf, layersOf, plateOf, seatsOf } from "../../../document/selectors";
import type { Moved } from "../../../kinds/contents/frame/record";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { measureMarks } from "../seat/measureMarks";
import type { PreparedJob } from "../layers/PreparedJob";
import { outlineLightOf } from "../seat/outlineLightOf";

/** A thing that is off by less is where it was seated: size, and foot against its height. */
const [SAME_SIZE, SAME_PLACE] = [0.02, 0.01];
/** A solid thing lets its background through below this opacity. Common practice, no source. */
const SOLID = 0.85;

/** What is not plausible of what is seated: moved off its seat, without a shadow, lit from another side, covered by what stands behind it, or seen through. */
export async function seatFindings(ctx: EngineContext, job: PreparedJob, task: Task): Promise<Finding[]> {
  const { records, inputs } = job;
  const found: Finding[] = [];
  const plate = plateOf(records);
  // taste outranks
  if (plate?.byTaste) return found;
  const toOutput = invert(outputToReference(outputGeometry(records), inputs));
  const of = { cause: "compose" as const, remedy: { kind: "show" as const } };
  const measured = plate && seatsOf(records).some((s) => shadowOf(records, s)?.visible) ? await measuredShadows(ctx, job, plate, task) : null;
  for (const seat of plate ? seatsOf(records) : []) {
    const layer = layerOf(records, seat.layerId)!;
    const figures = seatFigures(records, seat);
    if (!layer.visible || seat.on !== "ground" || !figures) continue;
    const [x, y] = project(toOutput, seat.foot.x, seat.foot.y);
    const tall = Math.round(Math.max(24, figures.heightPx));
    const at = {
      place: { x: Math.round(x - tall / 2), y: Math.round(y - tall), width: tall, height: tall },
      share: Math.min(1, tall ** 2 / (inputs.width * inputs.height)),
    };
    const off = figures.byHand ? offBy(records, seat, inputs) : null;
    if (off && (Math.abs(off.size) > SAME_SIZE || off.px > SAME_PLACE * figures.heightPx))
      found.push(finding("offSeat", { layer: layer.name, percent: 100 * off.size, px: off.px }, { ...at, ...of, id: `offSeat-${seat.id}`, weight: 0.6 }));
    const light = lightOf(plate!, inputs);
    // light that was turned to the plate's comes from there
    const isTurned = relightOf(records, seat.layerId)?.visible === true;
    const own = !isTurned && (typeof light !== "string" || light === "overcast") ? await outlineLightOf(job, seat.layerId, task) : null;
    const side = typeof light === "string" ? null : lightOff(job, seat, light, own);
    if (side)
      found.push(
        finding(
          "lightOff",
          {
            layer: layer.name,
            degrees: Math.abs(side.degrees),
            mirrored: Math.abs(side.mirrored),
            helps: Math.abs(side.mirrored) < 0.5 * Math.abs(side.degrees) ? "yes" : "no",
          },
          { ...at, ...of, id: `lightOff-${seat.id}`, weight: 0.6 },
        ),
      );
    const unlike = own && litUnlike(job, seat, light, own);
    if (unlike) found.push(finding("lightEven", { layer: layer.name, ...unlike }, { ...at, ...of, id: `lightEven-${seat.id}`, weight: 0.5 }));
    for (const other of coveredBy(job, seat))
      found.push(
        finding(
          "wrongOrder",
          { layer: layer.name, over: other.name, metres: other.metres },
          { ...at, ...of, id: `wrongOrder-${seat.id}-${other.id}`, weight: 0.7 },
        ),
      );
    const unlikeShadow = measured && shadowUnlike(records, seat, measured);
    if (unlikeShadow) found.push(finding("shadowUnlike", { layer: layer.name, ...unlikeShadow }, { ...at, ...of, id: `shadowUnlike-${seat.id}`, weight: 0.5 }));
    if (typeof light !== "string" && !shadowOf(records, seat)?.visible)
      found.push(finding("noShadow", { layer: layer.name }, { ...at, ...of, id: `noShadow-${seat.id}`, weight: 0.7 }));
  }
  for (const { id } of cutoutsOf(records)) {
    const layer = layerOf(records, id)!;
    if (layer.visible && layer.content.type === "frame" && layer.opacity < SOLID)
      found.push(
        finding("seeThrough", { layer: layer.name, percent: 100 * layer.opacity }, { ...of, place: null, share: 0.05, id: `seeThrough-${id}`, weight: 0.4 }),
      );
  }
  return found;
}

/** By how much what is seated is larger than it would be where it was seated, a share, and how far its foot lies off, px. */
function offBy(records: PreparedJob["records"], seat: SeatRecord, size: { width: number; height: number }): { size: number; px: number } | null {
  const content = layerOf(records, seat.layerId)?.content;
  const wanted = seatedAt(records, seat);
  const own = content?.type === "frame" ? shownSize(records, content.frameId) : null;
  if (content?.type !== "frame" || !content.moved || !wanted || !own) return null;
  const { footX, footY, topX, topY } = seat.own;
  const ends = (moved: Moved) => {
    const m = movedMatrix(moved, size, own);
    return [project(m, footX, footY), project(m, topX, topY)];
  };
  const [[foot, top], [footThere, topThere]] = [ends(content.moved), ends(wanted)];
  const tall = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1]);
  return { size: tall(foot, top) / tall(footThere, topThere) - 1, px: tall(foot, footThere) };
}

/** Light on a thing that comes from within so many degrees of the plate's is the same; and within so many of its own deviations. Common practice, no source. */
const [SAME_LIGHT_DEG, SAME_SIGMAS] = [30, 2];

/** By how many degrees the light on what a seat shows comes from another side than the plate's, and by how many were it mirrored; null where it does not, or does not tell. */
function lightOff(job: PreparedJob, seat: SeatRecord, light: LightDirection, own: Told): { degrees: number; mirrored: number } | null {
  const foot = standsAt(plateOf(job.records)!, job.inputs, seat);
  const wanted = foot && lightInPicture(foot, light);
  if (!own || own === "even" || wanted === null) return null;
  const degrees = turn(wanted, own.angleDeg);
  if (Math.abs(degrees) < SAME_LIGHT_DEG + SAME_SIGMAS * Math.hypot(own.sigmaDeg, light.sigmaDeg)) return null;
  return { degrees, mirrored: turn(wanted, 180 - own.angleDeg) };
}

/** What the plate's own marked shadows tell; null where they tell nothing. */
async function measuredShadows(ctx: EngineContext, { records, inputs }: PreparedJob, plate: PlateRecord, task: Task): Promise<LightFigures | null> {
  const [frame, light] = [plateFrame(records), lightOf(plate, inputs)];
  const { stance, heightM, shadows: marks } = plate;
  if (!frame || typeof light === "string" || !marks.some((s) => s.foot)) return null;
  return combineShadows(await measureMarks(ctx, { frame, stance, heightM, marks, light }, task));
}

/** A shadow that is off by less, EV, and in the width of its light, times, is as the plate's own are. Common practice, no source. */
const [SAME_EV, SAME_TIMES] = [0.6, 2.5];

/** How strong and how soft a laid shadow is beside the plate's own; null where it is as they are. */
function shadowUnlike(
  records: PreparedJob["records"],
  seat: SeatRecord,
  { ratioEv, sourceDeg }: LightFigures,
): { ev: number; ownEv: number; degrees: number; ownDegrees: number } | null {
  const shadow = shadowOf(records, seat);
  if (!shadow?.visible || shadow.content.type !== "adjustment") return null;
  // a layer that shows through is a weaker shadow
  const ev = -Math.log2(1 - shadow.opacity * (1 - 2 ** (shadow.content.values.ev ?? 0)));
  const cast = shadow.mask.parts.find((p) => p.kind === "cast");
  if (cast?.kind !== "cast" || cast.by !== "sun") return null;
  const isOff = (ratioEv !== null && Math.abs(ev - ratioEv) > SAME_EV) || Math.abs(Math.log(cast.sourceDeg / sourceDeg)) > Math.log(SAME_TIMES);
  return isOff ? { ev, ownEv: ratioEv ?? ev, degrees: cast.sourceDeg, ownDegrees: sourceDeg } : null;
}

type Told = Awaited<ReturnType<typeof outlineLightOf>>;

/** Sides of a thing that are further apart, EV, are those of a light from one side; and of one lit evenly, were it lit as the plate is. Common practice, no source. */
const [ONE_SIDED_EV, WOULD_BE_EV] = [1.8, 2];

/** How far apart the sides of a thing are that is lit evenly in a plate lit from one side, or the other way round, EV, and how far they would be; null where they are alike. */
function litUnlike(
  { records, inputs }: PreparedJob,
  seat: SeatRecord,
  light: ReturnType<typeof lightOf>,
  own: NonNullable<Told>,
): { plate: string; ownEv: number; thereEv: number } | null {
  const ownEv = own === "even" ? 0 : sidesEv(own.strength);
  if (light === "overcast") return ownEv > ONE_SIDED_EV ? { plate: "overcast", ownEv, thereEv: 0 } : null;
  const foot = standsAt(plateOf(records)!, inputs, seat);
  if (typeof light === "string" || !foot || own !== "even") return null;
  const shadow = shadowOf(records, seat)?.content;
  const ratioEv = shadow?.type === "adjustment" && shadow.values.ev ? -shadow.values.ev : CLEAR_EV;
  const thereEv = sidesEv(strengthThere(foot, light, ratioEv));
  return thereEv > WOULD_BE_EV ? { plate: "sun", ownEv, thereEv } : null;
}

/** Things whose order is wrong stand apart by at least this share of how far away the nearer one is. */
const APART = 0.05;

/** What covers the place of a seat although it stands further off. */
function coveredBy({ records, inputs }: PreparedJob, seat: SeatRecord): { id: string; name: string; metres: number }[] {
  const order = layersOf(records).map((l) => l.id);
  const away = seatFigures(records, seat)?.distanceM;
  const own = boxOf(records, seat, inputs);
  if (away == null || !own) return [];
  return seatsOf(records).flatMap((other) => {
    const layer = layerOf(records, other.layerId);
    const box = boxOf(records, other, inputs);
    const metres = (seatFigures(records, other)?.distanceM ?? 0) - away;
    if (other.id === seat.id || !layer?.visible || other.on !== "ground" || !box || metres < APART * away) return [];
    const overlap = intersect(own, box);
    const isOver = order.indexOf(other.layerId) > order.indexOf(seat.layerId);
    return isOver && overlap.width > 0 && overlap.height > 0 ? [{ id: other.id, name: layer.name, metres }] : [];
  });
}

/** About where a thing is, px: as wide as it is tall at most. */
function boxOf(records: PreparedJob["records"], seat: SeatRecord, size: { width: number; height: number }): Rectangle | null {
  const figures = seatFigures(records, seat);
  const content = layerOf(records, seat.layerId)?.content;
  const own = content?.type === "frame" ? shownSize(records, content.frameId) : null;
  if (!figures || content?.type !== "frame" || !own || !content.moved) return null;
  const cut = content.cut?.box ?? { x: 0, y: 0, ...own };
  const m = movedMatrix(content.moved, size, own);
  const ends = [project(m, cut.x, cut.y), project(m, cut.x + cut.width, cut.y + cut.height)];
  const [left, right] = [Math.min(ends[0][0], ends[1][0]), Math.max(ends[0][0], ends[1][0])];
  const width = Math.min(right - left, figures.heightPx);
  return {
    x: Math.round(seat.foot.x - width / 2),
    y: Math.round(seat.foot.y - figures.heightPx),
    width: Math.round(width),
    height: Math.round(figures.heightPx),
  };
}
