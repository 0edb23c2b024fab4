import { sizeAtLevel } from "../../core/geometry/rectangle";
import { planeOffset, SAMPLE_BYTES, type RasterFile, type RasterSpec, type Samples, type SampleType } from "./RasterStore";

/** Random access to bytes: a file handle, or memory. */
export interface ByteAccess {
  readAt(offset: number, out: Uint8Array): void;
  writeAt(offset: number, bytes: Uint8Array): void;
}

/** Side of a tile, samples. */
export const RASTER_TILE = 256;

/**
 * A raster in a random-access file, its planes in tiles of 256 × 256 (smaller at the far borders), so that a rectangle is read with one call a tile. The
 * rows of a tile lie one after the other; tiles lie row by row.
 */
export class TiledRasterFile implements RasterFile {
  constructor(
    readonly spec: RasterSpec,
    private readonly access: ByteAccess,
    private readonly onCommit: () => Promise<void>,
  ) {}

  write(level: number, channel: number, y0: number, rows: Samples): void {
    const { width } = sizeAtLevel(this.spec.width, this.spec.height, level);
    const count = rows.length / width;
    this.eachTile(level, channel, { x: 0, y: y0, width, height: count }, (tile) => {
      const part = lend(this.spec.type, tile.width * tile.rows);
      for (let r = 0; r < tile.rows; r++) {
        const from = (tile.y - y0 + r) * width + tile.x;
        part.set(rows.subarray(from, from + tile.width), r * tile.width);
      }
      this.access.writeAt(tile.offset, bytesOf(part));
    });
  }

  read(level: number, channel: number, x: number, y: number, width: number, height: number, out: Samples): void {
    const size = sizeAtLevel(this.spec.width, this.spec.height, level);
    if (level < 0 || level >= this.spec.levels || x < 0 || y < 0 || x + width > size.width || y + height > size.height) {
      throw new RangeError(
        `Rectangle ${x},${y} ${width}×${height} lies outside level ${level} of ${size.width}×${size.height}, of ${this.spec.levels} levels.`,
      );
    }
    this.eachTile(level, channel, { x, y, width, height }, (tile) => {
      // a tile as wide as what is asked for lies in the file as it is wanted
      if (tile.x === x && tile.width === width) {
        this.access.readAt(tile.offset, bytesOf(out.subarray((tile.y - y) * width, (tile.y - y + tile.rows) * width)));
        return;
      }
      const part = lend(this.spec.type, tile.width * tile.rows);
      this.access.readAt(tile.offset, bytesOf(part));
      const [from, to] = [Math.max(x, tile.x), Math.min(x + width, tile.x + tile.width)];
      for (let r = 0; r < tile.rows; r++) {
        out.set(part.subarray(r * tile.width + from - tile.x, r * tile.width + to - tile.x), (tile.y + r - y) * width + from - x);
      }
    });
  }

  commit(): Promise<void> {
    return this.onCommit();
  }

  /** Rows of each tile that a rectangle touches, whole in their width, with where they begin in the file. */
  private eachTile(
    level: number,
    channel: number,
    rect: { x: number; y: number; width: number; height: number },
    visit: (tile: { x: number; y: number; width: number; rows: number; offset: number }) => void,
  ): void {
    const { width, height } = sizeAtLevel(this.spec.width, this.spec.height, level);
    const bytes = SAMPLE_BYTES[this.spec.type];
    const start = planeOffset(this.spec, level, channel);
    for (let top = Math.floor(rect.y / RASTER_TILE) * RASTER_TILE; top < rect.y + rect.height; top += RASTER_TILE) {
      const tall = Math.min(RASTER_TILE, height - top);
      const [y, bottom] = [Math.max(rect.y, top), Math.min(rect.y + rect.height, top + tall)];
      for (let left = Math.floor(rect.x / RASTER_TILE) * RASTER_TILE; left < rect.x + rect.width; left += RASTER_TILE) {
        const wide = Math.min(RASTER_TILE, width - left);
        visit({ x: left, y, width: wide, rows: bottom - y, offset: start + (top * width + left * tall + (y - top) * wide) * bytes });
      }
    }
  }
}

/** Room for one tile, lent out and back within a call: allocating it anew for each took longer than reading it. */
const room = new ArrayBuffer(RASTER_TILE * RASTER_TILE * 4);
const lend = (type: SampleType, length: number): Samples =>
  type === "u8" ? new Uint8Array(room, 0, length) : type === "u16" ? new Uint16Array(room, 0, length) : new Float32Array(room, 0, length);

const bytesOf = (samples: Samples) => new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
