import type { PictureReader } from "../pictureReader";
import { PNG } from "../png/reader";
import { isOra, mergedImage } from "./readOra";

/** A picture of layers, taken as they show together. */
export const ORA: PictureReader = {
  name: "OpenRaster",
  is: isOra,
  decode: async (bytes, codecs) => PNG.decode(await mergedImage(bytes), codecs),
  color: async (bytes) => PNG.color(await mergedImage(bytes)),
};
