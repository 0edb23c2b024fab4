import { finite } from "../../../document/records/fields";
import { freshLight, lightFields, type MergeKind, type OfLight } from "../fields";

/** Exponents of the three measures by which frames are weighted. @see Mertens, Kautz, Van Reeth 2007 */
export interface FusionWeights {
  contrast: number;
  saturation: number;
  exposedness: number;
}

const exponent = () => finite().min(0).max(4);

/** Frames of several exposures, joined as they look. What is known of their light tells what moved, and makes the scene light that is written for them. */
export const fusion: MergeKind<FusionWeights & OfLight> = {
  fields: { contrast: exponent(), saturation: exponent(), exposedness: exponent(), ...lightFields },
  // nearness to mid tone counts little: so the structure of the frames is kept best, by MEF-SSIM on the demo and on simulated brackets
  fresh: () => ({ contrast: 1, saturation: 1, exposedness: 0.25, ...freshLight() }),
  suits: { separate: 4, developed: 4, bracket: 2, single: 2, cutout: 2, focus: 1 },
  comparesLight: true,
  smearsMotion: true,
  seatsByItself: true,
  keepsExposures: true,
};
