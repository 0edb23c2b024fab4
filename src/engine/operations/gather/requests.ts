import type { QuarterTurns } from "../../../core/raster/orientation";
import type { Rectangle } from "../../../core/geometry/rectangle";
import type { FrameRecord, Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { measureLadder } from "../register/registerFrames";
import { readCard, readFrame } from "./frameReadouts";
import { compareFrames, gatherSets } from "./gatherSets";
import { importFrame, turnFrame } from "./importFrame";
import { rankFrames } from "./rankFrames";

export const gatherRequests = {
  /** Decodes, measures and keeps one picture file. */
  importFrame: (ctx: EngineContext, p: { fileName: string; bytes: Uint8Array }, task: Task) => importFrame(ctx, p.fileName, p.bytes, task),
  /** Reads a frame turned by quarters against its file. */
  turnFrame: (ctx: EngineContext, p: { frame: FrameRecord; quarterTurns: QuarterTurns }, task: Task) => turnFrame(ctx, p.frame, p.quarterTurns, task),
  /** EV of each frame from the pixels; only differences mean something. */
  measureExposures: (ctx: EngineContext, p: { frames: FrameRecord[] }) => measureLadder(ctx, p.frames),
  /** Histogram in stops and noise by tone of one frame as shot. */
  readFrame: (ctx: EngineContext, p: { frame: FrameRecord }) => readFrame(ctx, p.frame),
  readCard: (ctx: EngineContext, p: { frame: FrameRecord; x: number; y: number; radius: number }) => readCard(ctx, p.frame, p.x, p.y, p.radius),
  /** Groups frames into sets, each with its reasons. */
  gatherSets: (ctx: EngineContext, p: { records: Records; frames: FrameRecord[] }, task: Task) => gatherSets(ctx, p.records, p.frames, task),
  /** What each of many frames shows in one place. */
  rankFrames: (ctx: EngineContext, p: { frames: FrameRecord[]; pointed: FrameRecord; place: Rectangle }, task: Task) =>
    rankFrames(ctx, p.frames, p.pointed, p.place, task),
  /** What differs between the frames of a set. */
  compareFrames: (ctx: EngineContext, p: { records: Records; frames: FrameRecord[] }, task: Task) => compareFrames(ctx, p.records, p.frames, task),
};
