import { asciiBytes } from "../bytes";

/**
 * Radiance HDR with run-length coded scanlines. @see Ward, "Real Pixels", Graphics Gems II, 1991; layout of the RLE recalled from memory
 */
export class HdrWriter {
  private readonly parts: Uint8Array[];
  /** samples below zero, which the format cannot hold; written as 0 */
  negatives = 0;

  constructor(
    private readonly width: number,
    height: number,
  ) {
    this.parts = [
      asciiBytes(
        `#?RADIANCE\nSOFTWARE=Marsh\nFORMAT=32-bit_rle_rgbe\nPRIMARIES=0.640 0.330 0.300 0.600 0.150 0.060 0.3127 0.3290\n\n-Y ${height} +X ${width}\n`,
      ),
    ];
  }

  /** @param rgb interleaved linear Rec. 709, whole rows */
  writeRows(rgb: Float32Array): void {
    const { width } = this;
    for (let row = 0; row < rgb.length; row += width * 3) this.parts.push(this.scanline(rgb.subarray(row, row + width * 3)));
  }

  finish(): Uint8Array[] {
    return this.parts;
  }

  private scanline(rgb: Float32Array): Uint8Array {
    const { width } = this;
    const planes = [0, 1, 2, 3].map(() => new Uint8Array(width));
    for (let x = 0; x < width; x++) {
      const v = [rgb[x * 3], rgb[x * 3 + 1], rgb[x * 3 + 2]].map((s) => {
        if (s < 0) this.negatives++;
        return s > 0 ? s : 0;
      });
      const [r, g, b, e] = packRgbe(v[0], v[1], v[2]);
      planes[0][x] = r;
      planes[1][x] = g;
      planes[2][x] = b;
      planes[3][x] = e;
    }
    if (width < 8 || width > 32767) {
      const flat = new Uint8Array(width * 4);
      planes.forEach((p, k) => p.forEach((v, x) => (flat[x * 4 + k] = v)));
      return flat;
    }
    const out: number[] = [2, 2, width >> 8, width & 255];
    for (const plane of planes) runLengths(plane, out);
    return Uint8Array.from(out);
  }
}

/** Shared-exponent form of one pixel. */
export function packRgbe(r: number, g: number, b: number): [number, number, number, number] {
  const top = Math.max(r, g, b);
  if (!(top > 1e-32)) return [0, 0, 0, 0];
  let exponent = Math.max(-127, Math.floor(Math.log2(top)) + 1);
  if (Math.round((top * 256) / 2 ** exponent) > 255) exponent++;
  const scale = 256 / 2 ** exponent;
  const q = (v: number) => Math.min(255, Math.round(v * scale));
  return [q(r), q(g), q(b), exponent + 128];
}

function runLengths(plane: Uint8Array, out: number[]): void {
  let x = 0;
  while (x < plane.length) {
    let run = 1;
    while (run < 127 && x + run < plane.length && plane[x + run] === plane[x]) run++;
    if (run >= 4) {
      out.push(128 + run, plane[x]);
      x += run;
      continue;
    }
    const start = x;
    while (x < plane.length && x - start < 128) {
      if (x + 3 < plane.length && plane[x] === plane[x + 1] && plane[x] === plane[x + 2] && plane[x] === plane[x + 3]) break;
      x++;
    }
    out.push(x - start, ...plane.subarray(start, x));
  }
}
