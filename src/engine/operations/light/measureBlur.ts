import { LUMINANCE } from "../../../core/color/primaries";
import { intersect, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { project } from "../../../core/geometry/matrix3";
import { measureEdgeWidth } from "../../../core/measure/frameMeasures";
import { measureMotion, type Motion } from "../../../core/measure/motion";
import { quantile } from "../../../core/numeric/statistics";
import type { Records } from "../../../document/records/types";
import { cameraOf, standsAt } from "../../../document/seatGeometry";
import { documentSize, layerOf, plateOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { ownLevel, toPicturePlace } from "../layers/frameLayers";
import { barePlate } from "../seat/barePlate";

/** How wide edges are, px of the picture: of the plate where a thing stands, and of the thing as it is shown; null where none tell. */
export interface EdgeBlur {
  platePx: number | null;
  ownPx: number | null;
  /** of the plate there, px of the picture; null where it shows none */
  motion: Motion | null;
}

/** The ground from so much nearer to so much further than a thing is as sharp as it ought to be. */
const NEAR = 0.2;
/** Rows that are looked at, at least; half of a side of what is looked at of a plate, at most; and how far an edge is followed, samples. */
const FEWEST_ROWS = 64;
const MOST_SIDE = 1600;
const REACH = 24;
/** Light that counts as white. */
const WHITE = 0.98;

export async function measureBlur(ctx: EngineContext, records: Records, seatId: string, task: Task): Promise<EdgeBlur | null> {
  const [seat, plate, size] = [records[seatId], plateOf(records), documentSize(records)];
  const layer = seat?.kind === "seat" ? layerOf(records, seat.layerId) : undefined;
  const foot = seat?.kind === "seat" && plate && size ? standsAt(plate, size, seat) : null;
  if (seat?.kind !== "seat" || !plate || !size || !foot || layer?.content.type !== "frame") return null;
  const bare = await barePlate(ctx, records, portion(task, 0, 0.4));
  const camera = cameraOf(plate, size);
  const rowAt = (share: number) => camera.pixelOf([share * foot[0], foot[1], share * foot[2]])?.[1] ?? seat.foot.y;
  const [top, bottom] = [rowAt(1 + NEAR), rowAt(1 - NEAR)];
  const tall = Math.max(FEWEST_ROWS, bottom - top);
  const around: Rectangle = {
    x: Math.round(seat.foot.x - MOST_SIDE / 2),
    y: Math.round((top + bottom - tall) / 2),
    width: MOST_SIDE,
    height: Math.round(Math.min(MOST_SIDE, tall)),
  };
  const rect = intersect(around, { x: 0, y: 0, ...size });
  const there = rect.width > REACH * 3 && rect.height > REACH * 2 ? greyOf(bare.read(0, rect), rect) : null;
  const platePx = there ? measureEdgeWidth(there, REACH) : 0;
  const motion = there && measureMotion(there, REACH);
  const job = await prepareJob(ctx, records, portion(task, 0.4, 0.8));
  const cutter = job.cutouts.get(layer.id);
  let ownPx = 0;
  if (cutter) {
    // where it is, is told coarsely
    const matte = await cutter.prepareShown(cutter.base, portion(task, 0.8, 1));
    if (!matte) return null;
    const level = ownLevel(job, layer.content, 0);
    const [from, up] = [matte.rect, 2 ** (cutter.base - level)];
    const whole = sizeAtLevel(cutter.picture.width, cutter.picture.height, level);
    const own = intersect(
      { x: Math.floor(from.x * up), y: Math.floor(from.y * up), width: Math.ceil(from.width * up), height: Math.ceil(from.height * up) },
      { x: 0, y: 0, ...whole },
    );
    const toPlate = toPicturePlace(job, layer.content);
    const middle = [own.x + own.width / 2, own.y + own.height / 2].map((v) => v * 2 ** level);
    const [a, b] = [project(toPlate, middle[0], middle[1]), project(toPlate, middle[0] + 1, middle[1])];
    ownPx = measureEdgeWidth(greyOf(cutter.picture.read(level, own), own), REACH) * 2 ** level * Math.hypot(b[0] - a[0], b[1] - a[1]);
  }
  return { platePx: platePx || null, ownPx: ownPx || null, motion };
}

/** Blur happens in light, so that edges are measured there. */
function greyOf(planes: readonly Float32Array[], { width, height }: Rectangle) {
  const light = planes[0].map((_, i) => LUMINANCE.reduce((sum, w, c) => sum + w * planes[c][i], 0));
  const white = Math.max(1e-6, quantile(light, WHITE));
  return { width, height, data: Uint16Array.from(light, (v) => Math.min(63_000, (50_000 * v) / white)) };
}
