import { sizeAtLevel } from "../../../core/geometry/rectangle";
import { atLevel } from "../../../core/geometry/matrix3";
import { type RasterFile } from "../../tiles/RasterStore";
import type { MergeInputs } from "./mergeTypes";

/** Samples that a coarse merge may have: about what a screen shows. */
const MOST_SAMPLES = 2_000_000;

const readOnly = () => {
  throw new TypeError("A view of another raster cannot be written.");
};

/** The display level at which a merge is made to be looked at while the exact one is on its way. */
export function coarseLevel({ width, height, frames }: MergeInputs): number {
  const coarsest = Math.min(...frames.map((f) => f.file.spec.levels)) - 1;
  const wanted = Math.ceil(Math.log2((width * height) / MOST_SAMPLES) / 2);
  return Math.max(0, Math.min(coarsest, wanted));
}

/** Placed frames at a display level, as if that were their full size. */
export function atCoarse(inputs: MergeInputs, level: number): MergeInputs {
  const size = (of: { width: number; height: number }) => sizeAtLevel(of.width, of.height, level);
  const frames = inputs.frames.map((f) => ({
    ...f,
    file: lowered(f.file, level),
    frame: { ...f.frame, ...size(f.frame) },
    inverse: atLevel(f.inverse, level),
  }));
  return { ...inputs, ...size(inputs), frames, key: [inputs.key, "at level", level] };
}

function lowered(file: RasterFile, by: number): RasterFile {
  return {
    spec: { ...file.spec, ...sizeAtLevel(file.spec.width, file.spec.height, by), levels: file.spec.levels - by },
    read: (level, ...rest) => file.read(level + by, ...rest),
    write: readOnly,
    commit: readOnly,
  };
}

/** A coarse raster as the levels from `by` on of a full one. */
export function asFinerLevels(file: RasterFile, by: number, size: { width: number; height: number }): RasterFile {
  return {
    spec: { ...file.spec, width: size.width, height: size.height, levels: file.spec.levels + by },
    read: (level, ...rest) => {
      if (level < by) throw new RangeError(`Level ${level} is finer than this merge.`);
      file.read(level - by, ...rest);
    },
    write: readOnly,
    commit: readOnly,
  };
}
