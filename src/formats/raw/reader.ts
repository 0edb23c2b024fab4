import { REC2020, rgbToRgb } from "../../core/color/primaries";
import { linearColor, type PictureReader } from "../pictureReader";
import { readRaw } from "./readRaw";

/** Sensor data as a camera writes it; taken for whatever no other reader knows. */
export const RAW: PictureReader = {
  name: "camera raw",
  is: () => true,
  decode: async (bytes, codecs) => ({ ...(await readRaw(bytes, () => codecs.start("raw"))), orientation: 1 }),
  color: () => ({ color: linearColor({ name: "linear Rec. 2020", toWorking: rgbToRgb(REC2020, REC2020) }), notes: [] }),
};
