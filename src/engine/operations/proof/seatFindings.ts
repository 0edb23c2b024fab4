import { invert, project } from "../../../core/geometry/matrix3";
import { finding, type Finding } from "../../../document/finding";
import { movedMatrix, outputGeometry, outputToReference, shownSize } from "../../../document/outputGeometry";
import type { SeatRecord } from "../../../document/records/plateTypes";
import { lightOf, seatedAt, seatFigures } from "../../../document/seatEdits";
import { shadowOf } from "../../../document/shadowEdits";
import { cutoutsOf, layerOf, plateOf, seatsOf } from "../../../document/selectors";
import type { Moved } from "../../../kinds/contents/frame/record";
import type { PreparedJob } from "../layers/PreparedJob";

/** A thing that is off by less is where it was seated: size, and foot against its height. */
const [SAME_SIZE, SAME_PLACE] = [0.02, 0.01];
/** A solid thing lets its background through below this opacity. Common practice, no source. */
const SOLID = 0.85;

/** What is not plausible of what is seated: moved off its seat, without a shadow, or seen through. */
export function seatFindings({ records, inputs }: PreparedJob): Finding[] {
  const found: Finding[] = [];
  const plate = plateOf(records);
  const toOutput = invert(outputToReference(outputGeometry(records), inputs));
  const of = { cause: "compose" as const, remedy: { kind: "show" as const } };
  for (const seat of plate ? seatsOf(records) : []) {
    const layer = layerOf(records, seat.layerId)!;
    const figures = seatFigures(records, seat);
    if (!layer.visible || seat.on !== "ground" || !figures) continue;
    const [x, y] = project(toOutput, seat.foot.x, seat.foot.y);
    const side = Math.round(Math.max(24, figures.heightPx));
    const at = {
      place: { x: Math.round(x - side / 2), y: Math.round(y - side), width: side, height: side },
      share: Math.min(1, side ** 2 / (inputs.width * inputs.height)),
    };
    const off = figures.byHand ? offBy(records, seat, inputs) : null;
    if (off && (Math.abs(off.size) > SAME_SIZE || off.px > SAME_PLACE * figures.heightPx))
      found.push(finding("offSeat", { layer: layer.name, percent: 100 * off.size, px: off.px }, { ...at, ...of, id: `offSeat-${seat.id}`, weight: 0.6 }));
    const hasDirection = typeof lightOf(plate!, inputs) !== "string";
    if (hasDirection && !shadowOf(records, seat)?.visible)
      found.push(finding("noShadow", { layer: layer.name }, { ...at, ...of, id: `noShadow-${seat.id}`, weight: 0.7 }));
  }
  for (const { id } of cutoutsOf(records)) {
    const layer = layerOf(records, id)!;
    if (layer.visible && layer.opacity < SOLID)
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
