import { multiply, project, transform, type Matrix3 } from "../core/geometry/matrix3";
import type { Rectangle } from "../core/geometry/rectangle";
import { inside, pixelOf, rayOf, transpose, type Vector3 } from "../core/panorama/camera";
import type { LevelLine } from "../core/panorama/level";
import { viewMap, type PanoramaView } from "../core/panorama/layout";
import { put, setRegistration, without, type Edit } from "./edits";
import type { LevelPin, PanoramaRecord } from "./records/panoramaTypes";
import type { GeometryRecord, PinRecord, Records, RegistrationRecord, StrokeRecord } from "./records/types";
import { movedMatrix } from "./outputGeometry";
import type { LayerRecord } from "./records/layerTypes";
import type { LayerContent } from "../kinds/contents/records";
import { movedPart } from "../kinds/maskParts/records";
import { geometryOf, ghostsOf, layersOf, panoramaFramesOf, panoramaOf, pinsOf, registrationOf, strokesOf } from "./selectors";

/**
 * Directions of the frames of a panorama take the place of what was registered before. What was painted and pinned on a layout before
 * this one stays on its things: both know the direction of some frame.
 */
export function setPanorama(registration: RegistrationRecord, panorama: PanoramaRecord): Edit {
  return (records) => {
    const before = panoramaOf(records, panorama.setId);
    const next = put(setRegistration(registration, {})(without(records, placesOf(records))), panorama);
    const turn = before && turnBetween(before, panorama);
    if (!turn) return next;
    const [from, to] = [viewMap(before.view), viewMap(panorama.view)];
    const move: Move = (x, y) => {
      const ray = from.toRay(x, y);
      return ray && to.toPixel(transform(turn, ray));
    };
    return put(next, ...movedMarks(records, { move, scale: panorama.view.scalePx / before.view.scalePx, from: before.view, to: panorama.view }));
  };
}

/** Places given to one frame lie on the cells of a picture that is no more. */
const placesOf = (records: Records) => ghostsOf(records).map((g) => g.id);

/** World of one layout → world of another, through a frame that both have placed. */
function turnBetween(a: PanoramaRecord, b: PanoramaRecord): Matrix3 | null {
  for (const { frameId, rotation } of a.frames) {
    const other = b.frames.find((f) => f.frameId === frameId)?.rotation;
    if (rotation && other) return multiply(other, transpose(rotation));
  }
  return null;
}

/** Pins, strokes and shapes of masks of the set worked on, moved with what they lie on. */
function movedMarks(records: Records, change: Change): (PinRecord | StrokeRecord | LayerRecord)[] {
  const { move, scale } = change;
  const pins = pinsOf(records).flatMap((pin): PinRecord[] => {
    const p = move(pin.x, pin.y);
    return p ? [{ ...pin, x: p[0], y: p[1] }] : [];
  });
  const strokes = layersOf(records).flatMap((l) => strokesOf(records, l.id));
  const layers = layersOf(records).map((l): LayerRecord => ({
    ...l,
    content: moveContent(records, l, change),
    mask: { ...l.mask, parts: l.mask.parts.map((part) => movedPart(part, { move, scale })) },
  }));
  return [...pins, ...layers, ...strokes.map((s) => moveStroke(s, move, scale))];
}

/** From one view of a panorama to another. @property scale by how much things have grown in the middle */
interface Change {
  move: Move;
  scale: number;
  from: PanoramaView;
  to: PanoramaView;
}

/** A frame put elsewhere shows its middle where that lay; a retouch takes from the same things. */
function moveContent(records: Records, layer: LayerRecord, { move, scale, from, to }: Change): LayerContent {
  const { content } = layer;
  if (content.type === "frame" && content.moved) {
    const placed = panoramaFramesOf(records).find((f) => f.frame.id === content.frameId);
    const ray = placed && rayOf(placed.camera, (placed.frame.width - 1) / 2, (placed.frame.height - 1) / 2);
    const natural = ray && viewMap(from).toPixel(ray);
    const { moved } = content;
    const shown = natural && move(...project(movedMatrix(moved, from), ...natural));
    const next = natural && move(...natural);
    if (!shown || !next) return content;
    const grown = { ...moved, corners: moved.corners.map((v) => v * scale), dx: 0, dy: 0 };
    const [x, y] = project(movedMatrix(grown, to), ...next);
    return { ...content, moved: { ...grown, dx: shown[0] - x, dy: shown[1] - y } };
  }
  if (content.type === "retouch") {
    const points = strokesOf(records, layer.id).flatMap((s) => s.points);
    const mean = (k: number) => points.filter((_, i) => i % 3 === k).reduce((sum, v) => sum + v, 0) / (points.length / 3);
    const area = points.length ? move(mean(0), mean(1)) : null;
    const source = points.length ? move(mean(0) + content.dx, mean(1) + content.dy) : null;
    return area && source ? { ...content, dx: source[0] - area[0], dy: source[1] - area[1] } : { ...content, dx: content.dx * scale, dy: content.dy * scale };
  }
  return content;
}

/**
 * Shows a panorama in another way. What was painted, pinned and cropped stays on the things it was put on; places given to one frame are
 * given up. @param proposedCrop of the new view
 */
export function setPanoramaView(view: PanoramaView, proposedCrop: Rectangle): Edit {
  return (records) => {
    const panorama = panoramaOf(records);
    const registration = registrationOf(records);
    if (!panorama || !registration) return records;
    const [from, to] = [viewMap(panorama.view), viewMap(view)];
    const move: Move = (x, y) => {
      const ray = from.toRay(x, y);
      return ray && to.toPixel(ray);
    };
    const geometry = geometryOf(records);
    const crop = geometry ? moveCrop(geometry, move, view) : null;
    const rest = without(records, [...placesOf(records), ...(geometry && !crop ? [geometry.id] : [])]);
    const marks = movedMarks(records, { move, scale: view.scalePx / panorama.view.scalePx, from: panorama.view, to: view });
    return put(rest, { ...panorama, view }, { ...registration, proposedCrop }, ...marks, ...(crop ? [crop] : []));
  };
}

/** The place of a direction in the frame that looks most nearly that way, px as shot; null where no frame shows it. */
function shotPlaceOf(records: Records, ray: Vector3): LevelPin["a"] | null {
  const seen = panoramaFramesOf(records).flatMap(({ frame, camera }) => {
    const p = pixelOf(camera, ray);
    return p && inside(camera, p) ? [{ frameId: frame.id, x: p[0], y: p[1], off: Math.hypot(p[0] - frame.width / 2, p[1] - frame.height / 2) }] : [];
  });
  if (seen.length === 0) return null;
  const { frameId, x, y } = seen.reduce((best, s) => (s.off < best.off ? s : best));
  return { frameId, x, y };
}

/** A line between two directions that is level or upright; null where no frame shows an end of it. */
export function levelPinOf(records: Records, { kind, a, b }: LevelLine): LevelPin | null {
  const [from, to] = [shotPlaceOf(records, a), shotPlaceOf(records, b)];
  return from && to && { kind, a: from, b: to };
}

export function setLevels(levels: LevelPin[]): Edit {
  return (records) => {
    const panorama = panoramaOf(records);
    return panorama ? put(records, { ...panorama, levels }) : records;
  };
}

type Move = (x: number, y: number) => [number, number] | null;

/** A stroke through the same directions, as wide as things there have become. */
function moveStroke(stroke: StrokeRecord, move: Move, scale: number): StrokeRecord {
  const points: number[] = [];
  let wider = 0;
  let n = 0;
  for (let i = 0; i + 2 < stroke.points.length; i += 3) {
    const [x, y, pressure] = stroke.points.slice(i, i + 3);
    const [p, q] = [move(x, y), move(x, y + 8)];
    if (!p) continue;
    points.push(p[0], p[1], pressure);
    if (!q) continue;
    wider += Math.hypot(q[0] - p[0], q[1] - p[1]) / 8;
    n++;
  }
  const factor = n ? wider / n : scale;
  return { ...stroke, points, diameterPx: Math.min(20_000, Math.max(1, stroke.diameterPx * factor)) };
}

/** The crop about the same things, inside the new picture. */
function moveCrop(geometry: GeometryRecord, move: Move, view: PanoramaView): GeometryRecord | null {
  const { x, y, width, height } = geometry.crop;
  const sides = [0.1, 0.5, 0.9].flatMap((t) => [
    [x, y + t * height],
    [x + width, y + t * height],
    [x + t * width, y],
    [x + t * width, y + height],
  ]);
  const moved = sides.map(([px, py]) => move(px, py));
  if (moved.some((p) => !p)) return null;
  const at = (k: number, side: number) => moved.filter((_, i) => i % 4 === side).map((p) => p![k]);
  const left = Math.max(0, Math.round(Math.max(...at(0, 0))));
  const right = Math.min(view.width, Math.round(Math.min(...at(0, 1))));
  const top = Math.max(0, Math.round(Math.max(...at(1, 2))));
  const bottom = Math.min(view.height, Math.round(Math.min(...at(1, 3))));
  // a camera that was turned was turned in the view before
  const { tilt: _tilt, lines: _lines, ...rest } = geometry;
  return right - left < 16 || bottom - top < 16 ? null : { ...rest, crop: { x: left, y: top, width: right - left, height: bottom - top }, ratio: null };
}
