import { ToldError } from "../../messages/message";
import { sizeAtLevel } from "../../core/geometry/rectangle";

export type SampleType = "u8" | "u16" | "f32";

export interface RasterSpec {
  width: number;
  height: number;
  channels: number;
  type: SampleType;
  /** display levels held, 1 for the full size only */
  levels: number;
}

export type Samples = Uint8Array | Uint16Array | Float32Array;

/** A planar raster with display levels, in memory or on disk. Reads and writes are synchronous; opening is not. */
export interface RasterFile {
  readonly spec: RasterSpec;
  /** Writes whole rows of one channel. */
  write(level: number, channel: number, y0: number, rows: Samples): void;
  /** Reads a rectangle that lies inside the level into `out` (row length = width). */
  read(level: number, channel: number, x: number, y: number, width: number, height: number, out: Samples): void;
  /** Marks the raster complete, so that it is found again after a reload. */
  commit(): Promise<void>;
}

/** Where rasters live. Keys are content hashes: the same key always means the same samples. */
export interface RasterStore {
  open(key: string): Promise<RasterFile | null>;
  create(key: string, spec: RasterSpec): Promise<RasterFile>;
  remove(key: string): Promise<void>;
}

/** A raster that was there is no more, or not whole: it was pruned, or its file was damaged. It can be made again. */
export class LostRaster extends ToldError {
  override readonly name = "LostRaster";
  constructor(readonly key: string) {
    super("storage.lostRaster");
  }
}

export const SAMPLE_BYTES: Record<SampleType, number> = { u8: 1, u16: 2, f32: 4 };

export function allocateSamples(type: SampleType, length: number): Samples {
  return type === "u8" ? new Uint8Array(length) : type === "u16" ? new Uint16Array(length) : new Float32Array(length);
}

/** Byte offset of a plane in a file that lays out levels and channels one after the other. */
export function planeOffset(spec: RasterSpec, level: number, channel: number): number {
  let offset = 0;
  for (let l = 0; l < level; l++) {
    const { width, height } = sizeAtLevel(spec.width, spec.height, l);
    offset += width * height * spec.channels;
  }
  const { width, height } = sizeAtLevel(spec.width, spec.height, level);
  return (offset + channel * width * height) * SAMPLE_BYTES[spec.type];
}

export function totalBytes(spec: RasterSpec): number {
  return planeOffset(spec, spec.levels, 0);
}
