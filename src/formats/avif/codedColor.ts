import { message } from "../../messages/message";
import { DISPLAY_P3, REC2020, REC709, rgbToRgb, type Primaries } from "../../core/color/primaries";
import { decodeSrgb } from "../../core/color/srgbCurve";
import { exp2, pow } from "../../core/numeric/elementary";
import { FormatError } from "../formatError";
import type { Curve, InputColor } from "../icc/readProfile";
import type { CodedColor } from "./readAvif";

/** BT.2408: reference white is 203 cd/m² in PQ and 75 % signal in HLG. */
const PQ_WHITE = 203;
const HLG_WHITE = 0.75;

const PRIMARIES: Record<number, [string, Primaries]> = {
  1: ["Rec. 709", REC709],
  2: ["Rec. 709", REC709],
  9: ["Rec. 2020", REC2020],
  12: ["Display P3", DISPLAY_P3],
};
const CURVES: Record<number, [string, Curve]> = {
  1: ["Rec. 709 curve", decode709],
  2: ["sRGB curve", decodeSrgb],
  4: ["gamma 2.2", (v) => pow(Math.max(0, v), 2.2)],
  5: ["gamma 2.8", (v) => pow(Math.max(0, v), 2.8)],
  6: ["Rec. 709 curve", decode709],
  8: ["linear", (v) => v],
  13: ["sRGB curve", decodeSrgb],
  14: ["Rec. 709 curve", decode709],
  15: ["Rec. 709 curve", decode709],
  16: ["PQ", decodePq],
  18: ["HLG", decodeHlg],
};

/** Whether light above diffuse white is coded, so that samples have to be kept as floats. */
export const reachesAboveWhite = (coded: CodedColor): boolean => coded.transfer === 16 || coded.transfer === 18;

/** Colour given by numbers. @see ITU-T H.273, tables 2 and 3 @throws FormatError for numbers Marsh does not know */
export function colorOfCodes({ primaries, transfer }: CodedColor): InputColor {
  const space = PRIMARIES[primaries];
  const curve = CURVES[transfer];
  if (!space || !curve) throw new FormatError("unsupported", message("profile.unknownCodes", { primaries, curve: transfer }));
  const isSrgb = space[1] === REC709 && curve[1] === decodeSrgb;
  return { name: isSrgb ? "sRGB" : `${space[0]}, ${curve[0]}`, curves: [curve[1], curve[1], curve[1]], toWorking: rgbToRgb(space[1], REC2020) };
}

/** ITU-R BT.709-6, 1.2, turned round. */
function decode709(v: number): number {
  return v < 0.081 ? v / 4.5 : pow((v + 0.099) / 1.099, 1 / 0.45);
}

/** ITU-R BT.2100-2, table 4: the PQ reference EOTF; 1 is the reference white. */
function decodePq(v: number): number {
  const p = pow(Math.max(0, v), 1 / 78.84375);
  return (10_000 / PQ_WHITE) * pow(Math.max(0, p - 0.8359375) / (18.8515625 - 18.6875 * p), 1 / 0.1593017578125);
}

/** ITU-R BT.2100-2, table 5: the inverse HLG OETF; 1 is the reference white. */
function decodeHlg(v: number): number {
  return sceneOfHlg(v) / sceneOfHlg(HLG_WHITE);
}
function sceneOfHlg(v: number): number {
  const [a, b, c] = [0.17883277, 0.28466892, 0.55991073];
  return v <= 0.5 ? (v * v) / 3 : (exp2(((v - c) / a) * Math.LOG2E) + b) / 12;
}
