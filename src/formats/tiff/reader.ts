import { colorOfProfile, headOf, linearOf, type ColorFacts, type PictureReader } from "../pictureReader";
import { isTiffRaw } from "../raw/readRaw";
import { isFloatTiff, readTiff, readTiffProfile } from "./readTiff";

/** TIFF 6.0 and BigTIFF with a finished picture. */
export const TIFF: PictureReader = {
  name: "TIFF",
  is(bytes) {
    const head = headOf(bytes);
    if (head !== 0x4949 && head !== 0x4d4d) return false;
    const version = bytes[0] === 0x49 ? bytes[2] | (bytes[3] << 8) : (bytes[2] << 8) | bytes[3];
    return version === 43 || (version === 42 && !isTiffRaw(bytes));
  },
  decode: readTiff,
  color: (bytes) => (isFloatTiff(bytes) ? colorOfFloats(readTiffProfile(bytes)) : colorOfProfile(readTiffProfile(bytes))),
};

/** Colour of float samples: linear Rec. 709 where nothing is said. */
function colorOfFloats(profile: Uint8Array | null): ColorFacts {
  const facts = colorOfProfile(profile);
  if (profile && facts.notes.length === 0) return { ...facts, float: true };
  return { color: { ...linearOf(facts.color), name: "linear Rec. 709" }, notes: facts.notes, float: true };
}
