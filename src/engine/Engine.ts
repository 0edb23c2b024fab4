import type { Rectangle } from "../core/geometry/rectangle";
import type { Effect } from "../document/history";
import type { FrameRecord, MotionRegion, Records, RegistrationRecord } from "../document/records/types";
import { setRegistration } from "../document/edits";
import { exposuresOf } from "../document/selectors";
import type { EngineContext } from "./EngineContext";
import { detectMotion } from "./operations/detectMotion";
import { importFrame, type ImportedFrame } from "./operations/importFrame";
import { measureEffect } from "./operations/measureEffect";
import { countDominant, openMergeInputs } from "./operations/mergeInputs";
import { refineExposures } from "./operations/refineExposures";
import { prepareJob } from "./operations/compose";
import { proposeFinish, proposeFrame, type FinishProposals, type FrameProposal } from "./operations/proposals";
import { runProof, type Finding } from "./operations/proof";
import { readOut, type Readout } from "./operations/readout";
import { measureLadder, registerFrames, type RegisterRequest } from "./operations/registerFrames";
import { renderView, type RenderedView, type ScreenSpace, type ViewSpec } from "./operations/renderView";
import { exportPicture, type ExportResult, type ExportSettings } from "./sinks/exportPicture";
import { portion, type Task } from "./task";

export interface MergeFacts {
  /** frame id → share of the picture where it gives most */
  shares: Record<string, number>;
  motion: MotionRegion[];
}

/** All that the application can ask of the computation. One engine serves the screen, the export and the command line. */
export class Engine {
  constructor(private readonly ctx: EngineContext) {}

  importFrame(fileName: string, bytes: Uint8Array, task: Task): Promise<ImportedFrame> {
    return importFrame(this.ctx, fileName, bytes, task);
  }

  /** EV of each frame from the pixels; only differences mean something. */
  measureExposures(frames: FrameRecord[]): Promise<Record<string, number>> {
    return measureLadder(this.ctx, frames);
  }

  /** Registers, places the frames and measures their exposures on registered pixels. */
  async register(
    records: Records,
    frames: FrameRecord[],
    request: RegisterRequest,
    task: Task,
  ): Promise<{ registration: RegistrationRecord; measuredEv: Record<string, number> }> {
    const found = await registerFrames(this.ctx, records, frames, request, portion(task, 0, 0.7));
    const placed = setRegistration(found.registration, { ...exposuresOf(records)?.measuredEv, ...found.measuredEv })(records);
    const inputs = await openMergeInputs(this.ctx, placed, portion(task, 0.7, 1));
    return { registration: found.registration, measuredEv: { ...found.measuredEv, ...refineExposures(this.ctx, inputs) } };
  }

  /** EV of frames that are placed already, from their pixels. */
  async measurePlacedExposures(records: Records, task: Task): Promise<Record<string, number>> {
    return refineExposures(this.ctx, await openMergeInputs(this.ctx, records, task));
  }

  async merge(records: Records, method: "radiance" | "fusion", task: Task): Promise<MergeFacts> {
    const job = await prepareJob(this.ctx, records, task, method);
    const counts = countDominant(job.merge.dominant, job.inputs.frames.length);
    return { shares: Object.fromEntries(job.inputs.frames.map((f, i) => [f.frame.id, counts[i]])), motion: detectMotion(this.ctx, job) };
  }

  renderView(records: Records, view: ViewSpec, level: number, rect: Rectangle, space: ScreenSpace, task: Task): Promise<RenderedView> {
    return renderView(this.ctx, records, view, level, rect, space, task);
  }

  async readOut(records: Records, x: number, y: number, radius: number, task: Task): Promise<Readout> {
    return readOut(this.ctx, await prepareJob(this.ctx, records, task), x, y, radius);
  }

  async proposeFrame(records: Records, region: Rectangle, task: Task): Promise<FrameProposal | null> {
    return proposeFrame(this.ctx, await prepareJob(this.ctx, records, task), region);
  }

  async proposeFinish(records: Records, task: Task): Promise<FinishProposals> {
    return proposeFinish(this.ctx, await prepareJob(this.ctx, records, task));
  }

  proof(records: Records, task: Task): Promise<Finding[]> {
    return runProof(this.ctx, records, task);
  }

  measureEffect(before: Records, after: Records, task: Task): Promise<Effect | null> {
    return measureEffect(this.ctx, before, after, task);
  }

  export(records: Records, settings: ExportSettings, task: Task, method?: "radiance" | "fusion"): Promise<ExportResult> {
    return exportPicture(this.ctx, records, settings, task, method);
  }
}
