import { message } from "../../messages/message";
import { decodeSrgb } from "../../core/color/srgbCurve";
import { adaptation, D50_XYZ, D65, WORKING_TO_XYZ, xyzOfChromaticity } from "../../core/color/primaries";
import { invert, multiply } from "../../core/geometry/matrix3";
import { pow } from "../../core/numeric/elementary";
import { viewOf } from "../bytes";
import { FormatError } from "../formatError";

/** How a source's encoded RGB becomes working RGB. */
export interface InputColor {
  name: string;
  /** encoded 0..1 → linear, per channel */
  curves: [Curve, Curve, Curve];
  /** linear RGB → working RGB, nine numbers */
  toWorking: number[];
}
export type Curve = (encoded: number) => number;

/**
 * Reads a matrix/curve RGB profile. @see ICC.1:2022, 8.3.3 (matrix input profiles), 10.6 (curveType), 10.18 (parametricCurveType)
 * @throws FormatError for profiles of other kinds (tables, CMYK, grey) or damaged ones
 */
export function readProfile(bytes: Uint8Array): InputColor {
  const view = viewOf(bytes);
  const text = textOf(bytes);
  if (bytes.length < 132 || text(36, 4) !== "acsp") throw new FormatError("damaged", "profile.damaged");
  if (text(16, 4) !== "RGB ") throw new FormatError("unsupported", message("profile.notRgb", { space: text(16, 4).trim() }));
  const tags = tagsOf(bytes);
  const column = (name: string): number[] => {
    const tag = tags.get(name);
    if (!tag || text(tag.at, 4) !== "XYZ " || tag.size < 20) throw new FormatError("unsupported", "profile.noMatrix");
    return [0, 1, 2].map((k) => view.getInt32(tag.at + 8 + k * 4) / 65536);
  };
  const [r, g, b] = ["rXYZ", "gXYZ", "bXYZ"].map(column);
  const toPcs = [r[0], g[0], b[0], r[1], g[1], b[1], r[2], g[2], b[2]];
  const toD65 = adaptation(D50_XYZ, xyzOfChromaticity(D65));
  const curves = ["rTRC", "gTRC", "bTRC"].map((name) => {
    const tag = tags.get(name);
    if (!tag) throw new FormatError("unsupported", "profile.noCurve");
    return readCurve(view, text(tag.at, 4), tag.at, tag.size);
  });
  return {
    name: describeProfile(bytes),
    curves: curves as [Curve, Curve, Curve],
    toWorking: multiply(invert(WORKING_TO_XYZ), multiply(toD65, toPcs)),
  };
}

function readCurve(view: DataView, type: string, at: number, size: number): Curve {
  const fixed = (k: number) => view.getInt32(at + 12 + k * 4) / 65536;
  if (type === "para") {
    const kind = view.getUint16(at + 8);
    const needed = [1, 3, 4, 5, 7][kind];
    if (needed === undefined || size < 12 + needed * 4) throw new FormatError("damaged", "profile.damagedCurve");
    const [g, a = 1, b = 0, c = 0, d = kind === 0 ? -1 : 0, e = 0, f = 0] = Array.from({ length: needed }, (_, k) => fixed(k));
    if (kind === 0) return (x) => pow(Math.max(0, x), g);
    if (kind === 1 || kind === 2) return (x) => (x >= -b / a ? pow(Math.max(0, a * x + b), g) : 0) + (kind === 2 ? c : 0);
    return (x) => (x >= d ? pow(Math.max(0, a * x + b), g) + e : c * x + f);
  }
  if (type !== "curv") throw new FormatError("unsupported", "profile.unknownCurve");
  const n = view.getUint32(at + 8);
  if (size < 12 + n * 2) throw new FormatError("damaged", "profile.damagedCurve");
  if (n === 0) return (x) => x;
  if (n === 1) {
    const gamma = view.getUint16(at + 12) / 256;
    return (x) => pow(Math.max(0, x), gamma);
  }
  const table = Float64Array.from({ length: n }, (_, k) => view.getUint16(at + 12 + k * 2) / 65535);
  return (x) => {
    const p = Math.min(1, Math.max(0, x)) * (n - 1);
    const k = Math.min(n - 2, Math.floor(p));
    return table[k] + (table[k + 1] - table[k]) * (p - k);
  };
}

interface Tag {
  at: number;
  size: number;
}

const textOf = (bytes: Uint8Array) => (at: number, n: number) => String.fromCharCode(...bytes.subarray(at, at + n));

/** The tags that lie inside the profile, by signature. */
export function tagsOf(bytes: Uint8Array): Map<string, Tag> {
  const tags = new Map<string, Tag>();
  if (bytes.length < 132) return tags;
  const view = viewOf(bytes);
  const count = Math.min(200, view.getUint32(128));
  for (let p = 132; p < 132 + count * 12 && p + 12 <= bytes.length; p += 12) {
    const [at, size] = [view.getUint32(p + 4), view.getUint32(p + 8)];
    if (at + size <= bytes.length && size >= 8) tags.set(textOf(bytes)(p, 4), { at, size });
  }
  return tags;
}

/** The profile's own name. */
export function describeProfile(bytes: Uint8Array): string {
  const view = viewOf(bytes);
  const text = textOf(bytes);
  const tag = tagsOf(bytes).get("desc");
  if (!tag) return "unnamed profile";
  if (text(tag.at, 4) === "desc") return text(tag.at + 12, Math.min(60, Math.max(0, view.getUint32(tag.at + 8) - 1)));
  if (text(tag.at, 4) === "mluc" && tag.size >= 28) {
    const length = Math.min(view.getUint32(tag.at + 20), 120);
    const start = tag.at + view.getUint32(tag.at + 24);
    let name = "";
    for (let k = 0; k + 1 < length && start + k + 2 <= view.byteLength; k += 2) name += String.fromCharCode(view.getUint16(start + k));
    return name;
  }
  return "unnamed profile";
}

/** What a file without a profile is taken for. */
export const SRGB_INPUT = (toWorking: number[]): InputColor => ({ name: "sRGB", curves: [decodeSrgb, decodeSrgb, decodeSrgb], toWorking });
