import { headOf, linearColor, type PictureReader } from "../pictureReader";
import { hdrColor, readHdr, readHdrHeader } from "./readHdr";

export const HDR: PictureReader = {
  name: "Radiance",
  is: (bytes) => headOf(bytes) === 0x233f,
  decode: readHdr,
  color: (bytes) => ({ color: linearColor(hdrColor(readHdrHeader(bytes))), notes: [], float: true }),
};
