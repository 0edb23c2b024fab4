import { colorOfProfile, type PictureReader } from "../pictureReader";
import { isWebp, readWebp, readWebpProfile } from "./readWebp";

export const WEBP: PictureReader = {
  name: "WebP",
  is: isWebp,
  decode: (bytes, codecs) => readWebp(bytes, () => codecs.start("webp")),
  color: (bytes) => colorOfProfile(readWebpProfile(bytes)),
};
