import { message } from "../../messages/message";
import type { Primaries } from "../../core/color/primaries";
import { pow } from "../../core/numeric/elementary";
import { colorOfCodes, reachesAboveWhite } from "../avif/codedColor";
import { FormatError } from "../formatError";
import { areRec709, fromPrimaries } from "../linearPrimaries";
import { colorOfProfile, headOf, orSrgb, type ColorFacts, type PictureReader } from "../pictureReader";
import { readPng, readPngColor, type PngColor } from "./readPng";

export const PNG: PictureReader = {
  name: "PNG",
  is: (bytes) => headOf(bytes) === 0x8950,
  decode: readPng,
  color: (bytes) => colorOfPng(readPngColor(bytes)),
};

function colorOfPng(stated: PngColor): ColorFacts {
  if (!stated) return colorOfProfile(null);
  return orSrgb(() => {
    if (stated.by === "codes") return { color: colorOfCodes(stated), float: reachesAboveWhite(stated) };
    if (stated.by === "profile") {
      if (!stated.profile) throw new FormatError("damaged", "profile.damaged");
      return colorOfProfile(stated.profile);
    }
    const { exponent, primaries } = stated;
    const own: Primaries | null = primaries && chromaticities(primaries);
    const standard = !own || areRec709(own);
    // the exponent that the format asks for beside sRGB
    if (standard && Math.abs(exponent - 2.2) < 0.02) return {};
    if (!(exponent > 0.2 && exponent < 10)) throw new FormatError("unsupported", message("png.curve", { exponent }));
    const curve = (v: number) => pow(Math.max(0, v), exponent);
    const space = standard ? "Rec. 709" : "primaries of its own";
    return {
      color: { name: `${space}, gamma ${Number(exponent.toPrecision(3))}`, curves: [curve, curve, curve], toWorking: fromPrimaries(own, "PNG").toWorking },
    };
  });
}

const chromaticities = ([rx, ry, gx, gy, bx, by, wx, wy]: number[]): Primaries => ({ red: [rx, ry], green: [gx, gy], blue: [bx, by], white: [wx, wy] });
