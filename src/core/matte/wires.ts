import { connectedCells } from "../masks/components";
import type { SmallPicture } from "./growBand";

/** How far a wire stands out of the median of the sky around it, by lightness, and half of the side of what is around, samples. Common practice, no source. */
const STANDS_OUT = 0.025;
const AROUND = 4;
/** What begins so near to the land hangs on it, samples; and how many samples a wire has, at least. */
const NEAR = 2;
const FEWEST = 6;

/**
 * What stands before a sky, with wires, ropes and twigs that a mask of the sky runs over: thin, sharply lighter or darker than the sky on either side, and fastened to something.
 * Clouds have soft edges, and birds hang on nothing: these are told apart by a person. @param sky 1 by sample @returns 1 by sample
 */
export function withWires({ width, height, lab: [L] }: SmallPicture, sky: Uint8Array): Uint8Array {
  const land = Uint8Array.from(sky, (on) => 1 - on);
  const thin = new Uint8Array(land.length);
  const around = new Float64Array((2 * AROUND + 1) ** 2);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      if (!sky[i]) continue;
      let count = 0;
      for (let v = Math.max(0, y - AROUND); v <= Math.min(height - 1, y + AROUND); v++) {
        for (let u = Math.max(0, x - AROUND); u <= Math.min(width - 1, x + AROUND); u++) if (sky[v * width + u]) around[count++] = L[v * width + u];
      }
      const seen = around.subarray(0, count).sort();
      if (Math.abs(L[i] - seen[count >> 1]) > STANDS_OUT) thin[i] = 1;
    }
  }
  const isNear = (i: number): boolean => {
    const [x, y] = [i % width, Math.floor(i / width)];
    for (let v = Math.max(0, y - NEAR); v <= Math.min(height - 1, y + NEAR); v++)
      for (let u = Math.max(0, x - NEAR); u <= Math.min(width - 1, x + NEAR); u++) if (land[v * width + u]) return true;
    return false;
  };
  const out = land.slice();
  for (const wire of connectedCells(thin, width, height)) if (wire.length >= FEWEST && wire.some(isNear)) for (const i of wire) out[i] = 1;
  return out;
}
