import { levelSize, planeOffset, SAMPLE_BYTES, type RasterFile, type RasterSpec, type Samples } from "./RasterStore";

/** Random access to bytes: a file handle, or memory. */
export interface ByteAccess {
  readAt(offset: number, out: Uint8Array): void;
  writeAt(offset: number, bytes: Uint8Array): void;
}

/** A raster laid out in a random-access file. */
export class ByteRasterFile implements RasterFile {
  constructor(
    readonly spec: RasterSpec,
    private readonly access: ByteAccess,
    private readonly onCommit: () => Promise<void>,
  ) {}

  write(level: number, channel: number, y0: number, rows: Samples): void {
    const { width } = levelSize(this.spec, level);
    const at = planeOffset(this.spec, level, channel) + y0 * width * SAMPLE_BYTES[this.spec.type];
    this.access.writeAt(at, new Uint8Array(rows.buffer, rows.byteOffset, rows.byteLength));
  }

  read(level: number, channel: number, x: number, y: number, width: number, height: number, out: Samples): void {
    const size = levelSize(this.spec, level);
    if (x < 0 || y < 0 || x + width > size.width || y + height > size.height) {
      throw new RangeError(`Rectangle ${x},${y} ${width}×${height} lies outside level ${level} of ${size.width}×${size.height}.`);
    }
    const bytes = SAMPLE_BYTES[this.spec.type];
    const start = planeOffset(this.spec, level, channel);
    const target = new Uint8Array(out.buffer, out.byteOffset, width * height * bytes);
    if (width === size.width) {
      this.access.readAt(start + y * width * bytes, target);
      return;
    }
    const line = width * bytes;
    for (let row = 0; row < height; row++) {
      this.access.readAt(start + ((y + row) * size.width + x) * bytes, target.subarray(row * line, row * line + line));
    }
  }

  commit(): Promise<void> {
    return this.onCommit();
  }
}
