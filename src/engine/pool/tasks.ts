import type { QuarterTurns } from "../../core/raster/orientation";
import type { Codecs } from "../../formats/codecs";
import { judgeFit, type Fit, type FitFigures } from "../../core/register/judgeFit";
import { RegionMask, type Region } from "../../core/register/regions";
import type { PairOptions, PairRegistration } from "../../core/register/pair";
import { registerPair } from "../../core/register/registerPair";
import type { GreyPyramid } from "../../core/register/greyPyramid";
import type { GreyLevel } from "../../core/register/refine";
import { findPlate, type FoundPlate } from "../../core/seat/findPlate";
import type { Rectangle } from "../../core/geometry/rectangle";
import { GroundCamera } from "../../core/seat/groundCamera";
import { directionOf, type ShadowMark } from "../../core/seat/lightFromShadows";
import { measureShadow, samplerOf, type ShadowFigures } from "../../core/seat/measureShadow";
import type { Stance } from "../../core/seat/upright";
import type { KnownFocal } from "../../core/seat/fitStance";
import type { Size } from "../../core/geometry/lens";
import { deflateBlock, zlibOf } from "../../formats/deflateBlock";
import { DEFLATE_LEVEL } from "../../formats/tiff/TiffWriter";
import { decodeFile, readFrameFile, type DecodedFile, type FrameFile } from "./readFrameFile";

/** What tasks find in the thread they run in. */
export interface TaskTools {
  codecs(): Promise<Codecs>;
}

/** Regions as they cross to another thread: what was marked, and the frame it was marked on. */
export interface MarkedRegions {
  regions: Region[];
  width: number;
  height: number;
}

const maskOf = (marked: MarkedRegions | null) => marked && new RegionMask(marked.regions, marked.width, marked.height);

/** Work on whole frames and blocks that any thread may do. It depends on what it is given only, so it does not matter which. */
export const TASKS = {
  /** Decodes a picture file and turns it. */
  decode: async (tools: TaskTools, p: { bytes: Uint8Array; quarterTurns: QuarterTurns }): Promise<DecodedFile> =>
    decodeFile(p.bytes, await tools.codecs(), p.quarterTurns),
  /** Decodes a picture file, turns it and measures it. */
  readFrame: async (tools: TaskTools, p: { bytes: Uint8Array; quarterTurns: QuarterTurns }): Promise<FrameFile> =>
    readFrameFile(p.bytes, await tools.codecs(), p.quarterTurns),
  registerPair: (
    _tools: TaskTools,
    p: { fixed: GreyPyramid; moving: GreyPyramid; relativeEv: number; options: Omit<PairOptions, "regions">; marked: MarkedRegions | null },
  ): PairRegistration | null => registerPair(p.fixed, p.moving, p.relativeEv, { ...p.options, regions: maskOf(p.marked) }),
  judgeFit: (_tools: TaskTools, { fit, marked }: { fit: Omit<Fit, "regions">; marked: MarkedRegions | null }): FitFigures =>
    judgeFit({ ...fit, regions: maskOf(marked) }),
  findPlate: (_tools: TaskTools, { grey, size, focal }: { grey: GreyLevel; size: Size; focal: KnownFocal | null }): FoundPlate | null =>
    findPlate(grey, size, focal),
  measureShadow: (
    _tools: TaskTools,
    p: {
      size: Size;
      stance: Stance;
      heightM: number;
      mark: ShadowMark;
      light: { azimuthDeg: number; elevationDeg: number };
      rect: Rectangle;
      planes: readonly Float32Array[];
    },
  ): ShadowFigures | null =>
    measureShadow(new GroundCamera(p.size, p.stance, p.heightM), p.mark, directionOf(p.light.azimuthDeg, p.light.elevationDeg), samplerOf(p.planes, p.rect)),
  /** A block of a Deflate stream. */
  deflate: (_tools: TaskTools, p: { bytes: Uint8Array; last: boolean }): Uint8Array => deflateBlock(p.bytes, p.last, DEFLATE_LEVEL),
  /** A zlib stream. */
  zlib: (_tools: TaskTools, p: { bytes: Uint8Array }): Uint8Array => zlibOf(p.bytes, DEFLATE_LEVEL),
};

export type Tasks = typeof TASKS;
export type TaskName = keyof Tasks;
export type TaskParams<K extends TaskName> = Parameters<Tasks[K]>[1];
export type TaskResult<K extends TaskName> = Awaited<ReturnType<Tasks[K]>>;
