import { checkPictureSize, FormatError } from "../formatError";
import { colorOfProfile, headOf, type PictureReader } from "../pictureReader";
import { checkJpegScans, readJpegHeader, readJpegProfile } from "./segments";

export const JPEG: PictureReader = {
  name: "JPEG",
  is: (bytes) => headOf(bytes) === 0xffd8,
  decode(bytes, codecs) {
    const { width, height, channels } = readJpegHeader(bytes);
    checkPictureSize(width, height);
    checkJpegScans(bytes, width * height);
    if (channels === 4) throw new FormatError("unsupported", "jpeg.notRgb");
    return { raster: codecs.jpeg.decode(bytes) };
  },
  color: (bytes) => colorOfProfile(readJpegProfile(bytes)),
};
