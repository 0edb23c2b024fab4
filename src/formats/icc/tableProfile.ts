import { REC2020, rgbToRgb } from "../../core/color/primaries";
import { decodeSrgb } from "../../core/color/srgbCurve";
import type { SourceRaster } from "../../core/raster/raster";
import { FormatError } from "../formatError";
import { writeProfile } from "./writeProfile";
import { describeProfile, tagsOf, type InputColor } from "./readProfile";

/** What Marsh uses of Little CMS. */
export interface ColorLibrary {
  HEAPU8: Uint8Array;
  _malloc(bytes: number): number;
  _free(at: number): void;
  _cmsOpenProfileFromMem(at: number, bytes: number): number;
  _cmsCloseProfile(profile: number): void;
  _cmsDoTransform(transform: number, input: number, output: number, pixels: number): void;
  cmsCreateTransform(input: number, inputFormat: number, output: number, outputFormat: number, intent: number, flags: number): number;
  cmsCreateXYZProfile(): number;
  cmsDeleteTransform(transform: number): void;
}

const RELATIVE_COLORIMETRIC = 1;
/** lcms2.h: no cache of one pixel, no resampling of the transform into a coarser table. */
const EXACT = 0x40 | 0x100;
/** lcms2.h: FLOAT_SH(1) | COLORSPACE_SH(PT_RGB = 4) | CHANNELS_SH(3) | BYTES_SH(bytes) */
const formatOf = (bits: 8 | 16 | 32) => (bits === 32 ? 1 << 22 : 0) | (4 << 16) | (3 << 3) | (bits / 8);
const PIXELS_AT_ONCE = 1 << 16;

/** Whether an RGB profile goes through tables (AToB), which take precedence over a matrix. @see ICC.1:2022, 8.3.2 and 8.10.2 */
export function hasTables(profile: Uint8Array): boolean {
  const tags = tagsOf(profile);
  return String.fromCharCode(...profile.subarray(16, 20)) === "RGB " && (tags.has("A2B0") || tags.has("A2B1"));
}

/** The colour of a picture once `applyTables` has been at it: Rec. 2020 with the sRGB curve (floats: linear). */
export function colorAfterTables(profile: Uint8Array): InputColor {
  return { name: describeProfile(profile), curves: [decodeSrgb, decodeSrgb, decodeSrgb], toWorking: rgbToRgb(REC2020, REC2020) };
}

/** Opens a profile; 0 where it is none. The library's own wrapper puts profiles on its small stack, and tables are larger than that. */
export function openProfile(bytes: Uint8Array, lcms: ColorLibrary): number {
  const at = lcms._malloc(bytes.length);
  lcms.HEAPU8.set(bytes, at);
  const handle = lcms._cmsOpenProfileFromMem(at, bytes.length);
  lcms._free(at);
  return handle;
}

/**
 * Takes a picture through its profile's tables, relative colorimetric, by Little CMS.
 * @param lcms a fresh library @returns 16 bit Rec. 2020 with the sRGB curve; floats stay floats, linear
 * @throws FormatError where the profile cannot be used
 */
export function applyTables(raster: SourceRaster, profile: Uint8Array, lcms: ColorLibrary): SourceRaster {
  const float = raster.bits === 32;
  const outBits = float ? 32 : 16;
  const input = openProfile(profile, lcms);
  const output = openProfile(writeProfile("Rec. 2020", REC2020, float ? "linear" : "srgb"), lcms);
  const transform = input && output ? lcms.cmsCreateTransform(input, formatOf(raster.bits), output, formatOf(outBits), RELATIVE_COLORIMETRIC, EXACT) : 0;
  if (!transform) throw new FormatError("damaged", "profile.damaged");
  const total = raster.width * raster.height;
  const data = float ? new Float32Array(total * 3) : new Uint16Array(total * 3);
  const from = lcms._malloc((PIXELS_AT_ONCE * 3 * raster.bits) / 8);
  const to = lcms._malloc((PIXELS_AT_ONCE * 3 * outBits) / 8);
  for (let first = 0; first < total; first += PIXELS_AT_ONCE) {
    const pixels = Math.min(PIXELS_AT_ONCE, total - first);
    const part = raster.data.subarray(first * 3, (first + pixels) * 3);
    lcms.HEAPU8.set(new Uint8Array(part.buffer, part.byteOffset, part.byteLength), from);
    lcms._cmsDoTransform(transform, from, to, pixels);
    const bytes = lcms.HEAPU8.slice(to, to + (pixels * 3 * outBits) / 8);
    data.set(float ? new Float32Array(bytes.buffer) : new Uint16Array(bytes.buffer), first * 3);
  }
  return { width: raster.width, height: raster.height, bits: outBits, data };
}
