import { colorOfProfile, orSrgb, type PictureReader } from "../pictureReader";
import { colorOfCodes, reachesAboveWhite } from "./codedColor";
import { isAvif, readAvif, readAvifFacts } from "./readAvif";

export const AVIF: PictureReader = {
  name: "AVIF",
  is: isAvif,
  async decode(bytes, codecs) {
    const { raster, alpha, facts } = await readAvif(bytes, () => codecs.start("avif"));
    return { raster, alpha, orientation: facts.orientation };
  },
  color(bytes) {
    const { profile, coded } = readAvifFacts(bytes);
    if (profile || !coded) return colorOfProfile(profile);
    return orSrgb(() => ({ color: colorOfCodes(coded), float: reachesAboveWhite(coded) }));
  },
};
