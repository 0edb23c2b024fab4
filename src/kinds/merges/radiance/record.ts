import { freshLight, lightFields, type MergeKind, type OfLight } from "../fields";

/** Scene light from frames of several exposures. */
export const radiance: MergeKind<OfLight> = {
  fields: lightFields,
  fresh: freshLight,
  suits: { bracket: 3, single: 3, cutout: 3, separate: 2, developed: 2 },
  givesSceneLight: true,
  comparesLight: true,
  smearsMotion: true,
  seatsByItself: true,
};
