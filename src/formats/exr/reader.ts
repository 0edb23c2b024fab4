import { fromPrimaries } from "../linearPrimaries";
import { headOf, linearColor, type PictureReader } from "../pictureReader";
import { readExr, readExrPrimaries } from "./readExr";

export const EXR: PictureReader = {
  name: "OpenEXR",
  is: (bytes) => headOf(bytes) === 0x762f,
  decode: readExr,
  color: (bytes) => ({ color: linearColor(fromPrimaries(readExrPrimaries(bytes), "OpenEXR")), notes: [], float: true }),
};
