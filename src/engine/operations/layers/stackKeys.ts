import { widen, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { remember } from "../../../core/numeric/remember";
import { blurReach } from "../../../core/raster/blur";
import { stackReach } from "./layerReach";
import type { LayerRecord, MaskGroup } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { recordOf } from "../../../kinds/contents/records";
import { operationOf } from "../../../kinds/maskParts/operations";
import { allParts, isPainted } from "../../../kinds/maskParts/records";
import { childrenOf, layerOf, plateOf, registrationOf, seatsOf, strokesOf } from "../../../document/selectors";
import { hashOf, hashOfFixed } from "../../graph/keys";
import { keyThere, touches } from "../masks/strokeTiles";
import type { PreparedJob } from "./PreparedJob";
import { pictureIdOf } from "../../../document/sourceIds";

/** What the keys of layers are made from; the merge's own key holds the frames merged and where they lie. */
export type Keyed = Pick<PreparedJob, "records" | "inputs" | "merge" | "finest">;

/** A rectangle of a display level, or null for the whole picture at any level. */
export type Place = { level: number; rect: Rectangle } | null;

/**
 * Key of what layers make of the merge in a place: everything that can change a sample there, and as little else as is easily told. Two jobs in which
 * the keys of a place are the same show the same samples there.
 * @param layers siblings from the bottom, all that lie in no group where none are named
 */
export function stackKey(job: Keyed, place: Place, layers = childrenOf(job.records, null)): string {
  return place ? stackKeysAt(job, place.level, layers)(place.rect) : hashOf([baseKey(job), ...layers.flatMap((l) => layerParts(job, l, null))]);
}

/** The same of many places of a level. */
export function stackKeysAt(job: Keyed, level: number, layers = childrenOf(job.records, null)): (rect: Rectangle) => string {
  const reach = stackReach(job.records, level, layers);
  const base = baseKey(job);
  // what is the same everywhere is looked at once
  const parts = layers.map((l) => (isEverywhereAlike(job, l) ? hashOf(layerParts(job, l, { level, rect: SOMEWHERE })) : null));
  return (rect) => {
    const wide = { level, rect: widened(job, { level, rect }, reach) };
    return hashOf([base, ...layers.map((l, i) => parts[i] ?? hashOf(layerParts(job, l, wide)))]);
  };
}

const SOMEWHERE: Rectangle = { x: 0, y: 0, width: 1, height: 1 };

/** Whether the key of a layer is the same in all places: nothing is painted on it, nor on what its mask is linked to. */
function isEverywhereAlike({ records }: Keyed, { id, content, mask }: LayerRecord): boolean {
  return content.type !== "group" && strokesOf(records, id).length === 0 && !allParts(mask.parts).some(({ part }) => part.kind === "link");
}

const baseKey = ({ merge, finest, inputs: { width, height } }: Keyed): string => hashOf([merge.key, finest, width, height]);

/** Key of one layer wherever it shows: its values, mask and strokes, and the pictures it is made of. */
export const layerKey = (job: Keyed, layer: LayerRecord): string => hashOf([job.merge.key, job.finest, ...layerParts(job, layer, null)]);

/** Key of the mask of a layer in a place. */
export const maskKey = (job: Keyed, layer: LayerRecord, place: Place): string =>
  hashOf([job.merge.key, job.finest, maskParts(job, layer.mask, layer.id, place)]);

/** Key of all that lies below a layer in its group, anywhere. */
export function belowKey(job: Keyed, layer: LayerRecord): string {
  const { records } = job;
  const parent = layer.parentId === null ? undefined : layerOf(records, layer.parentId);
  const through = parent?.content.type === "group" && parent.content.through;
  return hashOf([stackKey(job, null, layersBelow(records, layer)), parent ? through && belowKey(job, parent) : null]);
}

/** Key of what a retouch shows, all over its area: what lies below it, its mask and its source. */
export const retouchKey = (job: Keyed, layer: LayerRecord): string => hashOf([belowKey(job, layer), hashOfFixed(layer.content), maskKey(job, layer, null)]);

function widened({ inputs }: Keyed, { level, rect }: NonNullable<Place>, by: number): Rectangle {
  return widen(rect, by, sizeAtLevel(inputs.width, inputs.height, level));
}

/** A layer as parts of a key; none where it surely shows nothing. */
function layerParts(job: Keyed, layer: LayerRecord, place: Place): unknown[] {
  const { records } = job;
  const { content, opacity, mode, blendIn, clipped, seamPx, visible } = layer;
  if (!visible || opacity === 0) return [clipped];
  if (place && concealsAll(job, layer, place)) return [clipped];
  const own: unknown[] = [hashOfFixed(content), opacity, mode, blendIn, clipped, seamPx, maskParts(job, layer.mask, layer.id, place)];
  if (content.type === "group") return [own, ...childrenOf(records, layer.id).flatMap((l) => layerParts(job, l, place)), "end"];
  const { frameIds = [], below, seatedId, plate, seated } = recordOf(content).reads?.(content) ?? {};
  if (seatedId !== undefined) own.push(...castKey(job, seatedId), layerOf(records, seatedId)?.visible);
  if (seated || plate) own.push(plateKey(records));
  if (seated)
    own.push(...seatsOf(records).flatMap((s) => [...castKey(job, s.layerId), layerOf(records, s.layerId)?.visible, isOver(records, s.layerId, layer)]));
  // a frame that is not merged is looked at as it is developed
  own.push(...frameIds.flatMap((id) => frameKey(records, id)));
  if (below) own.push(retouchKey(job, layer));
  return [own];
}

/** A frame as a layer may read it: its picture, how it is developed and exposed, and where it was registered, whether it is merged or not. */
function frameKey(records: Records, id: string): unknown[] {
  const frame = records[id];
  if (frame?.kind !== "frame") return [null];
  const placed = registrationOf(records)?.placements.find((p) => p.frameId === id);
  return [pictureIdOf(frame), hashOfFixed(frame.development), frame.meteredEv, placed?.matrix ?? null];
}

/** The layers of its group that lie below a layer. */
export function layersBelow(records: Records, layer: LayerRecord): LayerRecord[] {
  const siblings = childrenOf(records, layer.parentId);
  return siblings.slice(
    0,
    siblings.findIndex((l) => l.id === layer.id),
  );
}

/** Whether a mask surely reveals nothing in a place: nothing is painted near it, and nothing else is in it. */
function concealsAll({ records }: Keyed, { id, mask }: LayerRecord, { level, rect }: NonNullable<Place>): boolean {
  const { base, inverted, parts, low } = mask;
  if (base !== 0 || inverted || low < 0 || !parts.every(isPainted)) return false;
  const around = maskReach(mask);
  return !strokesOf(records, id).some((s) => touches(s, rect, level, around));
}

function maskParts(job: Keyed, mask: MaskGroup, layerId: string, place: Place, seen = new Set<string>()): unknown[] {
  const { records } = job;
  if (seen.has(layerId)) return [];
  seen.add(layerId);
  const around = maskReach(mask);
  const strokes = strokesOf(records, layerId).flatMap((s) => (place ? (keyThere(s, place.rect, place.level, around) ?? []) : hashOfFixed(s)));
  const links = allParts(mask.parts).flatMap(({ part }) => {
    const other = part.kind === "link" ? layerOf(records, part.layerId) : undefined;
    return other
      ? [maskParts(job, other.mask, other.id, place && { ...place, rect: widened(job, place, Math.ceil(around / 2 ** place.level) + 1) }, seen)]
      : [];
  });
  const casts = allParts(mask.parts).flatMap(({ part }) =>
    part.kind === "cast" ? castKey(job, part.layerId) : part.kind === "sunk" || part.kind === "behind" ? seatKey(records, layerId) : [],
  );
  return [hashOfFixed(mask), strokes, links, casts];
}

const isOver = (records: Records, layerId: string, { index }: LayerRecord): boolean => (layerOf(records, layerId)?.index ?? 0) > index;

function plateKey(records: Records): string | null {
  const plate = plateOf(records);
  return plate ? hashOfFixed(plate) : null;
}

/** Where a thing stands that goes under the blades around it, or behind what is nearer. */
function seatKey(records: Records, layerId: string): unknown[] {
  const [seat, plate] = [seatsOf(records).find((s) => s.layerId === layerId), plateOf(records)];
  return [seat ? hashOfFixed(seat) : null, plate ? hashOfFixed(plate) : null];
}

/** All that the shadow and the mirror image of what a layer shows are made of: where it is seated, the plate, and what is cut out of which frame. */
function castKey({ records }: Keyed, layerId: string): unknown[] {
  const seat = seatsOf(records).find((s) => s.layerId === layerId);
  const [plate, layer] = [plateOf(records), layerOf(records, layerId)];
  if (!seat || !plate || !layer) return [null];
  const { frameIds = [] } = recordOf(layer.content).reads?.(layer.content) ?? {};
  return [hashOfFixed(seat), hashOfFixed(plate), hashOfFixed(layer.content), ...frameIds.flatMap((id) => frameKey(records, id))];
}

/** Px around a place that the parts and the whole of a mask look at. */
export const maskReach = remember((mask: MaskGroup): number => {
  const within = allParts(mask.parts).map(({ part }) => operationOf(part).reach?.(part) ?? blurReach(part.featherPx));
  // reaches are whole samples of a level, so a coarse one may look a little farther than the px of the full size say
  return within.reduce((sum, px) => sum + px, blurReach(mask.featherPx) + 2 * Math.round(mask.refinePx)) * 1.5;
});
