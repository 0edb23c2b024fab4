import type { Lens } from "../../../core/geometry/lens";
import type { Matrix3 } from "../../../core/geometry/matrix3";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { FrameRecord } from "../../../document/records/types";
import type { InputColor } from "../../../formats/icc/readProfile";
import type { Scope } from "../../../kernels/Kernels";
import type { RasterFile } from "../../tiles/RasterStore";
import type { Planes } from "../frames/frameSamples";
import type { PanoramaParts } from "../panorama/PanoramaParts";

export interface MergeFrame {
  frame: FrameRecord;
  file: RasterFile;
  color: InputColor;
  /** reference → undistorted moving */
  inverse: Matrix3;
  lens: Lens | null;
  /** exposure against the reference as shot, EV */
  relativeEv: number;
  /** of a frame of a panorama, which covers a part of the picture only */
  projected?: ProjectedFrame;
}

/** What is known of a frame of a panorama in a rectangle of a level of the picture. */
export interface ProjectedFrame {
  /** undoes the lens's loss of light */
  shade(scope: Scope, planes: Planes, level: number, rect: Rectangle): void;
  /** 1 where the frame shows something */
  coverage(level: number, rect: Rectangle): Uint8Array;
}

export interface MergeInputs {
  width: number;
  height: number;
  frames: MergeFrame[];
  /** which of the frames the others are placed on */
  reference: number;
  /** what identifies the inputs in content keys */
  key: unknown;
  noise: { shot: number; readSquared: number };
  /** of a panorama, whose frames lie side by side */
  panorama?: PanoramaParts;
}

/** Where the result of a merge is kept. */
export interface MergeResult {
  /** what it was made from, as a content key */
  key: string;
  /** working RGB, f32, with levels */
  picture: RasterFile;
  /** u8 index into the merged frames of the one that gives most, with levels */
  dominant: RasterFile;
  /** u8, one channel a merged frame: what it gave in each cell of SHARE_CELL px, 255 all */
  shares: RasterFile;
  /** of a focus merge: index of the sharpest frame and its confidence, a sample a cell */
  depth?: RasterFile;
  /** of a radiance merge: the ΔE of coloured lines along edges and their width, a sample a cell of SHARE_CELL px */
  fringe?: RasterFile;
}
