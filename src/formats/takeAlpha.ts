import { message, type Message } from "../messages/message";
import type { AlphaKind, SourceRaster } from "../core/raster/raster";

/** Alpha beside the colours of a file, 0..65535 for each px, and what the file says of those. */
export interface FileAlpha {
  samples: Uint16Array;
  /** null: it does not say */
  says: AlphaKind | null;
}

/** Alpha that is worth keeping; the colours beside it are as they are, not multiplied. */
export interface KeptAlpha {
  samples: Uint16Array;
  kind: AlphaKind;
}

const OPAQUE = 65_535;
/** Colours that reach above alpha by more than this share of white were not multiplied by it; rounding and packing reach so far. Common practice, no source. */
const ABOVE = 0.02;
/** Share of the px that show partly, or not, in which colours reach above alpha where they are not multiplied. Common practice, no source. */
const LEAST_ABOVE = 0.001;

/** RGB and alpha of RGBA samples, which are straight. */
export function takeAlpha({ width, height, data }: { width: number; height: number; data: Uint8ClampedArray | Uint16Array }): {
  raster: SourceRaster;
  alpha: FileAlpha | null;
} {
  const bits = data instanceof Uint16Array ? 16 : 8;
  const out = bits === 16 ? new Uint16Array(width * height * 3) : new Uint8Array(width * height * 3);
  const samples = new Uint16Array(width * height);
  let whole = true;
  for (let i = 0, o = 0; o < out.length; i += 4) {
    out[o++] = data[i];
    out[o++] = data[i + 1];
    out[o++] = data[i + 2];
    const a = bits === 16 ? data[i + 3] : 257 * data[i + 3];
    samples[i >> 2] = a;
    whole &&= a === OPAQUE;
  }
  // such decoders give an alpha whether the file has one or not
  return { raster: { width, height, bits, data: out }, alpha: whole ? null : { samples, says: "straight" } };
}

/**
 * Tells whether colours are multiplied by alpha, and undoes it where they are, in place, in the file's own codes.
 * @returns null where alpha says nothing, with a note for people
 */
export function settleAlpha({ data, bits }: SourceRaster, { samples, says }: FileAlpha): { alpha: KeptAlpha | null; notes: Message[] } {
  const partly = samples.reduce((n, a) => (a < OPAQUE ? n + 1 : n), 0);
  if (partly === 0) return { alpha: null, notes: [message("file.alphaOpaque", {})] };
  if (!samples.some((a) => a > 0)) return { alpha: null, notes: [message("file.alphaNothing", {})] };
  const top = bits === 32 ? 1 : 2 ** bits - 1;
  if (says === "straight") return { alpha: { samples, kind: says }, notes: [] };
  let above = 0;
  for (let i = 0; i < samples.length; i++) {
    if (samples[i] === OPAQUE) continue;
    const most = Math.max(data[3 * i], data[3 * i + 1], data[3 * i + 2]) / top;
    // light above white is multiplied too, and no sign of anything where alpha is not small
    if (most <= 1 && most > samples[i] / OPAQUE + ABOVE) above++;
  }
  if (above > LEAST_ABOVE * partly) return { alpha: { samples, kind: "straight" }, notes: says === "multiplied" ? [message("file.alphaContradicts", {})] : [] };
  for (let i = 0; i < samples.length; i++) {
    if (samples[i] === OPAQUE || samples[i] === 0) continue;
    const gain = OPAQUE / samples[i];
    for (let k = 3 * i; k < 3 * i + 3; k++) data[k] = bits === 32 ? data[k] * gain : Math.min(top, Math.round(data[k] * gain));
  }
  return { alpha: { samples, kind: "multiplied" }, notes: [] };
}
