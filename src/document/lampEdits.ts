import type { Size } from "../core/geometry/lens";
import { lampPlace, lampRadiusPx, type LampKind } from "../core/light/lamp";
import { colorOfKelvin, USUAL_LAMPS } from "../core/light/lampKinds";
import { VEIL_FALL_EV, VEIL_RIM_EV, type Spread } from "../core/light/glow";
import type { BeamContent } from "../kinds/contents/beam/record";
import type { LampInWaterContent } from "../kinds/contents/lampInWater/record";
import type { LampGlowContent } from "../kinds/contents/lampGlow/record";
import type { LampLightContent } from "../kinds/contents/lampLight/record";
import type { RelightContent } from "../kinds/contents/relight/record";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside, updateLayer } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { PlateLamp, PlateRecord } from "./records/plateTypes";
import type { Records } from "./records/types";
import { removeLayer } from "./removal";
import { tellPlate } from "./seatEdits";
import { cameraOf } from "./seatGeometry";
import { childrenOf, documentSize, layerOf, layersOf, plateOf } from "./selectors";

export const lampsOf = (plate: PlateRecord | null | undefined): readonly PlateLamp[] => plate?.lamps ?? [];

/** How deep a thing is of how wide each of its limbs is. Common practice, no source. */
const DEPTH = 0.8;

/** The layers that show what a lamp does. */
export const layersOfLamp = (records: Records, lampId: string): LayerRecord[] =>
  layersOf(records).filter(
    ({ content, mask }) =>
      ((content.type === "lampLight" || content.type === "lampGlow" || content.type === "beam" || content.type === "lampInWater") &&
        content.lampId === lampId) ||
      (content.type === "adjustment" && mask.parts.some((p) => p.kind === "cast" && p.lampId === lampId)),
  );

/** The layer of a lamp's light on what another layer shows; null: on the plate. */
export const lampLightOf = (records: Records, lampId: string, layerId: string | null): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "lampLight" && content.lampId === lampId && content.layerId === layerId);

export const glowOf = (records: Records, lampId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "lampGlow" && content.lampId === lampId);

/** The layer of the shadow that something throws by a lamp that shines in the plate. */
export const lampShadowOf = (records: Records, lampId: string, layerId: string): LayerRecord | undefined =>
  layersOf(records).find(
    ({ content, mask }) => content.type === "adjustment" && mask.parts.some((p) => p.kind === "cast" && p.lampId === lampId && p.layerId === layerId),
  );

/** How far away a lamp is taken to be whose foot nobody said, metres. */
const SOMEWHERE_M = 5;

/** A lamp of a kind as it is until more is said of it. @param radiusPx as it is seen, where that is known */
export function freshLamp(plate: PlateRecord, size: Size, is: LampKind, x: number, y: number, radiusPx: number | null, isAdded: boolean): PlateLamp {
  const { isFar, wide, overEv, kelvin } = USUAL_LAMPS[is];
  const distanceM = isFar ? null : SOMEWHERE_M;
  const lamp = { id: newId("lamp"), is, x, y, distanceM, wide, ev: (plate.ambientEv ?? 0) + overEv, color: colorOfKelvin(kelvin), isAdded };
  return radiusPx === null ? lamp : { ...lamp, wide: (wide * radiusPx) / lampRadiusPx(cameraOf(plate, size), lamp) };
}

/** A lamp taken for another kind: as far, as strong and of such a colour as those are; as wide as it is seen. */
export function asKind(plate: PlateRecord, size: Size, lamp: PlateLamp, is: LampKind): PlateLamp {
  const { id } = lamp;
  return { ...freshLamp(plate, size, is, lamp.x, lamp.y, lampRadiusPx(cameraOf(plate, size), lamp), lamp.isAdded), id };
}

/** A lamp at another distance, as wide as it is seen. */
export function atDistance(plate: PlateRecord, size: Size, lamp: PlateLamp, distanceM: number): PlateLamp {
  const camera = cameraOf(plate, size);
  const there = { ...lamp, distanceM };
  return { ...there, wide: (lamp.wide * lampRadiusPx(camera, lamp)) / lampRadiusPx(camera, there) };
}

/** Says that there is a lamp. */
export const addLamp =
  (lamp: PlateLamp): Edit =>
  (records) =>
    tellPlate({ lamps: [...lampsOf(plateOf(records)), lamp] })(records);

/** Says something else of a lamp; what it does follows. Once its light is new, or is not, what was laid of it on the ground goes: it was laid for the other. */
export const changeLamp =
  (id: string, change: Partial<Omit<PlateLamp, "id">>): Edit =>
  (records) => {
    const lamps = lampsOf(plateOf(records));
    const lamp = lamps.find((l) => l.id === id);
    if (!lamp) return records;
    const isOther = change.isAdded !== undefined && change.isAdded !== lamp.isAdded;
    const onGround = isOther
      ? layersOfLamp(records, id).filter(({ content }) => content.type === "adjustment" || (content.type === "lampLight" && content.layerId === null))
      : [];
    const rest = onGround.reduce((r, l) => removeLayer(l.id)(r), records);
    return tellPlate({ lamps: lamps.map((l) => (l.id === id ? { ...l, ...change } : l)) })(rest);
  };

/** A lamp goes with all that it does. */
export const removeLamp =
  (id: string): Edit =>
  (records) => {
    const left = layersOfLamp(records, id).reduce((r, l) => removeLayer(l.id)(r), records);
    const shaded = layersOf(left).filter(({ mask }) => mask.parts.some((p) => p.kind === "cast" && p.lampId === id));
    const cleared = shaded.reduce(
      (r, { id: layerId, mask }) => updateLayer(layerId, { mask: { ...mask, parts: mask.parts.filter((p) => p.kind !== "cast" || p.lampId !== id) } })(r),
      left,
    );
    return tellPlate({ lamps: lampsOf(plateOf(cleared)).filter((l) => l.id !== id) })(cleared);
  };

/** Lets a lamp shine on what a layer shows, right above that and wherever it shows; null: on the plate, under all that is seated. */
export function layLampLight(lampId: string, layerId: string | null, name: string): Edit {
  return (records) => {
    const isThere = lampsOf(plateOf(records)).some((l) => l.id === lampId);
    if (!isThere || lampLightOf(records, lampId, layerId) || (layerId !== null && !layerOf(records, layerId))) return records;
    const id = newId("layer");
    const content: LampLightContent = { type: "lampLight", lampId, layerId, depth: DEPTH, times: 1 };
    const laid = addLayer({ id, name, content, blendIn: "light", clipped: layerId !== null, mask: freshMask(1) })(records);
    if (layerId !== null) return placeBeside(id, layerId, "above")(laid);
    const [lowest] = childrenOf(records, null);
    return lowest ? placeBeside(id, lowest.id, "below")(laid) : laid;
  };
}

/** Lays the glow around a lamp over all else. @param spread as the plate's lamps show it; null: the veil of a lens, as bright as the lamp is */
export function layGlow(lampId: string, spread: Spread | null, name: string): Edit {
  return (records) => {
    if (!lampsOf(plateOf(records)).some((l) => l.id === lampId) || glowOf(records, lampId)) return records;
    const { rimEv, fallEv, bendEv } = spread ?? { rimEv: VEIL_RIM_EV, fallEv: VEIL_FALL_EV, bendEv: 0 };
    const content: LampGlowContent = { type: "lampGlow", lampId, rimEv, fallEv, bendEv };
    return addLayer({ name, content, blendIn: "light", mask: freshMask(1) })(records);
  };
}

/** The layer of a lamp mirrored in a water of the plate, or undefined. */
export const mirrorOf = (records: Records, lampId: string, surfaceId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "lampInWater" && content.lampId === lampId && content.surfaceId === surfaceId);

/** Ripples of a calm pond, until more is known. Common practice, no source. */
const CALM_SLOPE = 0.02;

/** Mirrors a lamp in a water of the plate, under all that is seated; ripples are as another mirror image there has them. */
export function layMirror(lampId: string, surfaceId: string, name: string): Edit {
  return (records) => {
    const plate = plateOf(records);
    if (
      !lampsOf(plate).some((l) => l.id === lampId) ||
      !plate?.surfaces?.some((s) => s.id === surfaceId && s.is === "water") ||
      mirrorOf(records, lampId, surfaceId)
    )
      return records;
    const other = layersOf(records).flatMap(({ content }) => (content.type === "reflection" && content.surfaceId === surfaceId ? [content.slope] : []));
    const content: LampInWaterContent = { type: "lampInWater", lampId, surfaceId, slope: other[0] ?? CALM_SLOPE, ev: 0 };
    const id = newId("layer");
    const laid = addLayer({ id, name, content, blendIn: "light", mask: freshMask(1) })(records);
    const lowest = childrenOf(records, null).find(({ content: c }) => c.type !== "otherSky" && c.type !== "stillWater");
    return lowest ? placeBeside(id, lowest.id, "below")(laid) : laid;
  };
}

/** What a metre of a beam adds, where it begins, EV over the lamp; half of its angle, degrees; and half of the width of a shaft, metres. Common practice, no source. */
const BEAM = { underEv: 2, halfDeg: 14, radiusM: 0.4, soft: 0.4, dusty: 0.3, cloudM: 0.8 };

export const beamOf = (records: Records, lampId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "beam" && content.lampId === lampId);

/** Lays the beam of a lamp over all else: onto the ground under it, or of what is far away onto the middle of the ground that shows. */
export function layBeam(lampId: string, name: string): Edit {
  return (records) => {
    const [plate, size] = [plateOf(records), documentSize(records)];
    const lamp = lampsOf(plate).find((l) => l.id === lampId);
    if (!plate || !size || !lamp || beamOf(records, lampId)) return records;
    const camera = cameraOf(plate, size);
    const at = lampPlace(camera, lamp);
    const px = at && camera.pixelOf([at[0], 0, at[2]]);
    const [toX, toY] = px ?? [(size.width - 1) / 2, 0.8 * size.height];
    const ground = camera.placeAt(toX, toY);
    const toM = lamp.distanceM ?? (ground ? camera.distanceTo(ground) : SOMEWHERE_M);
    const { underEv, ...usual } = BEAM;
    const content: BeamContent = { type: "beam", lampId, toX, toY, toM, ev: lamp.ev - underEv, seed: 1, ...usual };
    return addLayer({ name, content, blendIn: "light", mask: freshMask(1) })(records);
  };
}

/** The layer that turns the light on what another layer shows, or undefined. */
export const relightOf = (records: Records, layerId: string): LayerRecord | undefined =>
  layersOf(records).find(({ content }) => content.type === "relight" && content.layerId === layerId);

/** Turns the light on what a layer shows to the plate's, right above that and wherever it shows. */
export function layRelight(layerId: string, from: Pick<RelightContent, "azimuthDeg" | "elevationDeg" | "ratioEv" | "toRatioEv">, name: string): Edit {
  return (records) => {
    if (!layerOf(records, layerId) || relightOf(records, layerId)) return records;
    const id = newId("layer");
    const content: RelightContent = { type: "relight", layerId, ...from, depth: DEPTH, amount: 1 };
    return placeBeside(id, layerId, "above")(addLayer({ id, name, content, blendIn: "light", clipped: true, mask: freshMask(1) })(records));
  };
}

/** What of its own light a lamp's shadow takes away: all of it. */
const ALL_EV = -8;

/** Lays the shadow that something throws by a lamp: out of what that lamp lights where its light is a layer, else out of the plate, as far as it is the lamp that lights that. */
export function layLampShadow(lampId: string, layerId: string, name: string): Edit {
  return (records) => {
    const lamp = lampsOf(plateOf(records)).find((l) => l.id === lampId);
    if (!lamp || lampShadowOf(records, lampId, layerId)) return records;
    const part = (combine: "add" | "subtract") => ({
      ...{ id: newId("part"), combine, inverted: false, featherPx: 0 },
      ...{ kind: "cast" as const, layerId, by: "lamp" as const, lampId, sourceDeg: 1, depth: DEPTH },
    });
    const pool = lampLightOf(records, lampId, null);
    if (pool) {
      if (pool.mask.parts.some((p) => p.kind === "cast" && p.layerId === layerId)) return records;
      return updateLayer(pool.id, { mask: { ...pool.mask, parts: [...pool.mask.parts, part("subtract")] } })(records);
    }
    if (lamp.isAdded) return records;
    const id = newId("layer");
    const content = { type: "adjustment" as const, adjustment: "shade" as const, values: { ev: ALL_EV, mired: 0 } };
    return placeBeside(id, layerId, "below")(addLayer({ id, name, content, blendIn: "light", mask: freshMask(0, [part("add")]) })(records));
  };
}
