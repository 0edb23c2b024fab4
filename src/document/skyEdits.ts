import { invert, project } from "../core/geometry/matrix3";
import type { Size } from "../core/geometry/lens";
import { luminanceOf } from "../core/color/hexColour";
import type { SkyFigures } from "../core/light/skyFigures";
import { coveredShare, skyToPlate, type SkyView } from "../core/light/skyView";
import { lightsApartDeg } from "../core/seat/lightFromShadows";
import { horizonEnds } from "../core/seat/upright";
import { MOST_TIMES, type OtherSkyContent } from "../kinds/contents/otherSky/record";
import { newId, type Edit } from "./edits";
import { addLayer, placeBeside } from "./layerEdits";
import { freshMask, type LayerRecord } from "./records/layerTypes";
import type { PlateRecord } from "./records/plateTypes";
import type { FrameRecord, Records } from "./records/types";
import { notedFocal, plateFrame } from "./seatEdits";
import { lightAt, lightOf } from "./seatGeometry";
import { childrenOf, documentSize, layersOf, plateOf } from "./selectors";

/** The layer that shows another sky, or undefined. */
export const otherSkyOf = (records: Records): LayerRecord | undefined => layersOf(records).find(({ content }) => content.type === "otherSky");

/** By how much a sky is made larger at a time until it covers the plate's. */
const LARGER = 1.04;
/** A sky covers a plate's where so much of that is covered. */
const COVERED = 0.995;
/** How much of what is proposed for the land is laid on, and how much of a change in brightness that is: both pictures were exposed for what they show. Common practice, no source. */
const LAND_AMOUNT = 0.8;
const LAND_BRIGHTNESS = 0.5;
/** Light of a sky as it shows on land: no channel changes by more, EV. */
const MOST_EV = 4;
const HAZE_DEG = 3;

/**
 * Another sky as it is proposed: as large as its lens has it, larger where it would not cover the plate's, its horizon at the plate's, and the light on the land by the medians of both skies.
 * @param own what its frame shows of it @param old what the plate shows of its own
 */
export function proposedSky(plate: PlateRecord, size: Size, land: FrameRecord, frame: FrameRecord, old: SkyFigures, own: SkyFigures): OtherSkyContent {
  const ownSize = { width: frame.width, height: frame.height };
  // without a lens noted it is as wide as the plate
  const focalPx = notedFocal(frame)?.px ?? (plate.stance.focalPx * frame.width) / size.width;
  const isAbove = aboveHorizon(plate, size);
  const isSky = (x: number, y: number) => y < old.horizon && isAbove(x, y);
  // what stands up in the sky's own picture goes under the plate's horizon
  const sunk = (own.horizon - own.bottom) / focalPx;
  const viewOf = (times: number): SkyView => ({
    ...{ focalPx, horizonY: own.horizon, panDeg: 0, times },
    liftDeg: -Math.round(10 * ((Math.atan(times * sunk) * 180) / Math.PI)) / 10,
  });
  const covers = (view: SkyView) => coveredShare(invert(skyToPlate(view, ownSize, plate.stance, size)), ownSize, own.bottom, size, isSky);
  let view = viewOf(1);
  while (covers(view) < COVERED && view.times < MOST_TIMES / LARGER) view = viewOf(view.times * LARGER);
  if (covers(view) < COVERED) view = viewOf(1);
  const [from, to] = [lightOfSky(old.color), lightOfSky(own.color)];
  const brighter = luminanceOf(to) / Math.max(1e-6, luminanceOf(from));
  const gains = to.map((v, c) => Math.min(2 ** MOST_EV, Math.max(2 ** -MOST_EV, (v / Math.max(1e-6, from[c]) / brighter) * brighter ** LAND_BRIGHTNESS)));
  return {
    ...{ type: "otherSky", frameId: frame.id, landId: land.id, bottomY: own.bottom, exposureEv: 0, ...view },
    ...{ land: gains, landAmount: LAND_AMOUNT, haze: 0, hazeDeg: HAZE_DEG, hazeColor: own.horizonColor, water: 1, sun: own.sun },
  };
}

/** The light of a sky of a colour: an open one is blue by what the sun lacks, and both together are neutral; clouds and dusk light with their own. */
function lightOfSky(color: readonly number[]): number[] {
  const luminance = luminanceOf(color);
  return color[2] > color[0] ? [luminance, luminance, luminance] : [...color];
}

/** Whether a px of a plate lies above its horizon. */
function aboveHorizon({ stance }: PlateRecord, size: Size): (x: number, y: number) => boolean {
  const [[x0, y0], [x1, y1]] = horizonEnds(stance, size);
  return (x, y) => y < y0 + ((y1 - y0) * (x - x0)) / (x1 - x0);
}

/** How much of what a plate shows above its horizon another sky covers, 0..1. */
export function skyCovers(plate: PlateRecord, size: Size, frame: FrameRecord, content: OtherSkyContent): number {
  const own = { width: frame.width, height: frame.height };
  return coveredShare(invert(skyToPlate(content, own, plate.stance, size)), own, content.bottomY, size, aboveHorizon(plate, size));
}

/** Where the sun of another sky stands over a plate, and how far that is from where the plate's light comes from, degrees; null where it shows none, or it lies under the horizon. */
export function skySun(
  plate: PlateRecord,
  size: Size,
  frame: FrameRecord,
  content: OtherSkyContent,
): { azimuthDeg: number; elevationDeg: number; apartDeg: number | null; sigmaDeg: number } | null {
  if (!content.sun) return null;
  const [x, y] = project(skyToPlate(content, { width: frame.width, height: frame.height }, plate.stance, size), content.sun[0], content.sun[1]);
  const at = lightAt(plate, size, x, y);
  const light = lightOf(plate, size);
  return at && { ...at, apartDeg: typeof light === "string" ? null : lightsApartDeg(at, light), sigmaDeg: typeof light === "string" ? 0 : light.sigmaDeg };
}

/** Lays another sky over the plate, under all else that lies on it. */
export function layOtherSky(content: OtherSkyContent, name: string): Edit {
  return (records) => {
    if (!plateOf(records) || otherSkyOf(records)) return records;
    const id = newId("layer");
    const laid = addLayer({ id, name, content, blendIn: "light", mask: freshMask(1) })(records);
    const [lowest] = childrenOf(records, null);
    return lowest ? placeBeside(id, lowest.id, "below")(laid) : laid;
  };
}

/** The frame by which a plate's land is told from its sky, and the size of the plate; null where there is none. */
export function skyPlate(records: Records): { land: FrameRecord; size: Size } | null {
  const [land, size] = [plateFrame(records), documentSize(records)];
  return land && size ? { land, size } : null;
}
