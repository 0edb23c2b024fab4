import { isRepeat, seatsByItself, type MergeMethod } from "../core/merge/mergeMethods";
import type { Rectangle } from "../core/geometry/rectangle";
import type { Effect } from "../document/history";
import type { FrameParity } from "../core/measure/sets/parity";
import type { Lens } from "../core/geometry/lens";
import type { SeamFacts } from "../document/records/panoramaTypes";
import type { FramePlacement, FrameRecord, FringeFacts, MergeRecord, Records, RecoveredResponse, RegistrationRecord } from "../document/records/types";
import { setRegistration, updateRecord } from "../document/edits";
import { FRESH_MERGE, setGhosts } from "../document/mergeEdits";
import { updateLayer } from "../document/layerEdits";
import { activeFramesOf, childrenOf, exposuresOf, layerOf, mergeOf, registrationOf, responseInForce, workingSetOf } from "../document/selectors";
import type { MeasuredLateral } from "../core/measure/lateralColour";
import type { EngineContext } from "./EngineContext";
import { radianceRange, type RadianceRange } from "./operations/merge/confidence";
import { findGhosts, type FoundGhosts } from "./operations/merge/findGhosts";
import { fringeFacts } from "./operations/merge/fringe";
import { measureLateralColour } from "./operations/merge/measureLateralColour";
import { compareFrames, gatherSets, type GatheredSets } from "./operations/gather/gatherSets";
import { readCard, readFrame, type CardReading, type FrameReadouts } from "./operations/gather/frameReadouts";
import { importFrame, type ImportedFrame } from "./operations/gather/importFrame";
import type { CellMeasures } from "../core/weave/judgeRegions";
import type { WeaveRecord, WeaveRegion } from "../document/records/weaveTypes";
import { findInMerge, type FoundPart } from "./operations/masks/foundMask";
import { findDust, findTwinPatches, findTwinsOf, type DustSpot } from "./operations/retouch/cleaning";
import { auditRemnants, type RemnantAudit } from "./operations/retouch/remnants";
import type { Twin } from "../core/retouch/findTwins";
import { proposeSource } from "./operations/retouch/proposeSource";
import { maskBounds } from "./operations/retouch/retouch";
import { measureArea, proposeWeave, splitWeaveRegion, weaveBorders } from "./operations/weave/weave";
import { measureTones, type Tones } from "./operations/finish/measureTones";
import { measureEffect } from "./operations/proof/measureEffect";
import { openMergeInputs, withResponse, type MergeInputs } from "./operations/merge/mergeInputs";
import { measureNoiseGain } from "./operations/merge/noiseGain";
import { refineExposures } from "./operations/register/refineExposures";
import { recoverResponse } from "./operations/merge/recoverResponse";
import { totalShares } from "./operations/merge/shares";
import { composeRect, prepareJob, type PreparedJob } from "./operations/layers/compose";
import { proposeFinish, proposeFrame, type FinishProposals, type FrameProposal } from "./operations/finish/proposals";
import type { Finding } from "./operations/proof/finding";
import { runProof } from "./operations/proof/proof";
import { readOut, type Readout } from "./operations/view/readout";
import {
  commonArea,
  describePlacement,
  judgePlacement,
  placeByPoints,
  refinePlacement,
  snapPoint,
  type CommonArea,
  type PlacementFigures,
  type Placing,
} from "./operations/register/placements";
import { measureLadder, proposeCrop, registerFrames, type RegisterRequest } from "./operations/register/registerFrames";
import { renderView, type RenderedView, type ScreenSpace } from "./operations/view/renderView";
import type { ViewSpec } from "./operations/view/ViewSpec";
import { exportDepth } from "./operations/deliver/exportDepth";
import { exportMap, type MapKind } from "./operations/deliver/exportMap";
import { exportPicture, type ExportResult, type ExportSettings } from "./operations/deliver/exportPicture";
import { openSeams } from "./operations/panorama/openPanorama";
import {
  panoramaCrop,
  preparePanorama,
  projectionsOf,
  snapPanoramaPoint,
  type PanoramaCrop,
  type PanoramaRequest,
  type PreparedPanorama,
  type SnappedPoint,
} from "./operations/panorama/preparePanorama";
import type { Attitude } from "../core/panorama/camera";
import type { ProjectionFigures } from "../core/panorama/judgeProjections";
import { portion, SILENT, type Task } from "./task";

/** A placement and the crop it leads to. */
export interface PlacementWithCrop {
  placement: FramePlacement;
  proposedCrop: Rectangle;
}

export interface MergeFacts {
  /** frame id → share of the picture that it gave */
  shares: Record<string, number>;
  noiseGain: MergeRecord["noiseGain"];
  /** of a radiance merge: the response that the frames show; null where it was not looked for or cannot be told */
  response: RecoveredResponse | null;
  fringe: FringeFacts | null;
  /** null where frames are meant to differ */
  ghosts: FoundGhosts | null;
  /** of a panorama, the most visible first */
  seams: SeamFacts[] | null;
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

  /** Histogram in stops and noise by tone of one frame as shot. */
  readFrame(frame: FrameRecord): Promise<FrameReadouts> {
    return readFrame(this.ctx, frame);
  }

  readCard(frame: FrameRecord, x: number, y: number, radius: number): Promise<CardReading> {
    return readCard(this.ctx, frame, x, y, radius);
  }

  /** Groups frames into sets, each with its reasons. */
  gatherSets(records: Records, frames: FrameRecord[], task: Task): Promise<GatheredSets> {
    return gatherSets(this.ctx, records, frames, task);
  }

  /** What differs between the frames of a set. */
  compareFrames(records: Records, frames: FrameRecord[], task: Task): Promise<FrameParity[]> {
    return compareFrames(this.ctx, records, frames, task);
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

  /** How the camera was turned for each frame of a panorama, with light, projection and crop. */
  preparePanorama(frames: FrameRecord[], request: PanoramaRequest, task: Task): Promise<PreparedPanorama> {
    return preparePanorama(this.ctx, frames, request, task);
  }

  /** Projections of the panorama at hand, with their figures; turned otherwise than it is, where an attitude is given. */
  compareProjections(records: Records, attitude: Attitude | null): ProjectionFigures[] {
    return projectionsOf(records, attitude);
  }

  /** The largest crop of the panorama as it is shown, and the room of each pin that stays; null where they do not fit. */
  panoramaCrop(records: Records, ratio: number | null): PanoramaCrop | null {
    return panoramaCrop(records, ratio);
  }

  /** The best match in one frame of a panorama of a place in another. */
  async snapPanoramaPoint(records: Records, aId: string, bId: string, x: number, y: number, guess: [number, number] | null): Promise<SnappedPoint | null> {
    const [a, b] = [aId, bId].map((id) => activeFramesOf(records).find((f) => f.id === id));
    return a && b ? snapPanoramaPoint(this.ctx, records, a, b, x, y, guess) : null;
  }

  /** What a placement by hand leaves, live. */
  judgePlacement(records: Records, frameId: string, placing: Placing): Promise<PlacementFigures> {
    return judgePlacement(this.ctx, records, frameId, placing);
  }

  /** A placement by hand, with its figures, ready for the document. */
  describePlacement(records: Records, frameId: string, placing: Placing, by: FramePlacement["by"]): Promise<PlacementWithCrop> {
    return this.withCrop(records, describePlacement(this.ctx, records, frameId, placing, by)) as Promise<PlacementWithCrop>;
  }

  placeByPoints(records: Records, frameId: string, points: number[][], lens: Lens | null): Promise<PlacementWithCrop | null> {
    return this.withCrop(records, placeByPoints(this.ctx, records, frameId, points, lens));
  }

  refinePlacement(records: Records, frameId: string, placing: Placing): Promise<PlacementWithCrop | null> {
    return this.withCrop(records, refinePlacement(this.ctx, records, frameId, placing));
  }

  snapPoint(records: Records, frameId: string, placing: Placing, point: { x: number; y: number }, guess: { u: number; v: number }) {
    return snapPoint(this.ctx, records, frameId, placing, point, guess);
  }

  commonArea(records: Records, ratio: number | null): CommonArea {
    return commonArea(records, ratio);
  }

  private async withCrop(records: Records, making: Promise<FramePlacement | null>): Promise<PlacementWithCrop | null> {
    const placement = await making;
    const registration = registrationOf(records);
    if (!placement || !registration) return null;
    const placements = registration.placements.map((p) => (p.frameId === placement.frameId ? placement : p));
    return { placement, proposedCrop: proposeCrop(activeFramesOf(records), placements, registration.referenceId) };
  }

  /** EV of frames that are placed already, from their pixels. */
  async measurePlacedExposures(records: Records, task: Task): Promise<Record<string, number>> {
    return refineExposures(this.ctx, await openMergeInputs(this.ctx, records, task));
  }

  /** Makes a merge and measures it. What moved is proposed, not seated. */
  async merge(drafted: Records, method: MergeMethod, task: Task): Promise<MergeFacts> {
    const opened = await openMergeInputs(this.ctx, drafted, portion(task, 0, 0.25));
    if (method === "panorama") return this.mergePanorama(drafted, opened, portion(task, 0.25, 1));
    const draft = mergeOf(drafted);
    const response = method === "radiance" && draft?.response.choice !== "assumed" ? await recoverResponse(opened, portion(task, 0.25, 0.3)) : null;
    const records = draft ? updateRecord<MergeRecord>(draft.id, { response: { ...draft.response, found: response } })(drafted) : drafted;
    const inputs = method === "radiance" ? withResponse(opened, responseInForce(records)) : opened;
    const { ghostThreshold, baseId } = draft ?? FRESH_MERGE;
    // frames focused differently disagree everywhere
    const ghosts = method === "focus" ? null : await findGhosts(this.ctx, records, inputs, ghostThreshold, baseId, portion(task, 0.3, 0.5));
    const seat = seatsByItself(method, workingSetOf(records)?.setKind ?? "separate");
    const job = await prepareJob(this.ctx, setGhosts(ghosts?.regions ?? [], seat)(records), portion(task, 0.5, 0.95), method);
    return {
      shares: await sharesOf(job, portion(task, 0.95, 0.98)),
      noiseGain: isRepeat(method) ? { measured: measureNoiseGain(this.ctx, job), ideal: Math.sqrt(job.inputs.frames.length) } : null,
      response,
      fringe: job.merge.fringe ? { ...fringeFacts(job.merge.fringe), lateral: await this.measureLateralColour(records, portion(task, 0.98, 1)) } : null,
      ghosts,
      seams: null,
    };
  }

  /** Lateral colour of the reference as shot, null where too few of its edges show it. */
  async measureLateralColour(records: Records, task: Task): Promise<MeasuredLateral | null> {
    const reference = records[registrationOf(records)?.referenceId ?? ""];
    return reference?.kind === "frame" ? measureLateralColour(this.ctx, reference.sourceId, task) : null;
  }

  private async mergePanorama(records: Records, { panorama }: MergeInputs, task: Task): Promise<MergeFacts> {
    const job = await prepareJob(this.ctx, records, portion(task, 0, 0.95), "panorama");
    const seams = panorama ? await openSeams(this.ctx, job.inputs, panorama, SILENT) : null;
    return { shares: await sharesOf(job, portion(task, 0.95, 1)), noiseGain: null, response: null, fringe: null, ghosts: null, seams: seams?.facts ?? null };
  }

  /** frame id → share of the picture that it gives as things are */
  async shares(records: Records, task: Task): Promise<Record<string, number>> {
    return sharesOf(await prepareJob(this.ctx, records, task), task);
  }

  /** How far the radiance merge in force reaches. */
  async radianceRange(records: Records, task: Task): Promise<RadianceRange> {
    return radianceRange(await prepareJob(this.ctx, records, task, "radiance"));
  }

  /** What moved between the frames, at a threshold in multiples of the noise. */
  async findGhosts(records: Records, threshold: number, task: Task): Promise<FoundGhosts> {
    const opened = await openMergeInputs(this.ctx, records, task);
    const merge = mergeOf(records);
    const inputs = merge?.method === "radiance" ? withResponse(opened, responseInForce(records)) : opened;
    return findGhosts(this.ctx, records, inputs, threshold, merge?.baseId ?? null, task);
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

  /** Regions of the scene, each with what every frame is worth there, and the frame proposed. */
  async proposeWeave(records: Records, regions: number, task: Task): Promise<WeaveRecord> {
    return proposeWeave(this.ctx, records, await openMergeInputs(this.ctx, records, task), regions, task);
  }

  async splitWeaveRegion(records: Records, weave: WeaveRecord, regionId: string, task: Task): Promise<WeaveRegion[] | null> {
    return splitWeaveRegion(this.ctx, records, await openMergeInputs(this.ctx, records, task), weave, regionId, task);
  }

  async measureArea(records: Records, runs: number[], task: Task): Promise<CellMeasures[]> {
    return measureArea(this.ctx, await openMergeInputs(this.ctx, records, task), runs, task);
  }

  async weaveBorders(records: Records, weave: WeaveRecord, task: Task): Promise<{ frameId: string; runs: number[] }[]> {
    return weaveBorders(this.ctx, await openMergeInputs(this.ctx, records, task), weave, task);
  }

  /** The area of a retouch and the source that goes best with what lies around it. */
  async retouchPlace(records: Records, layerId: string, task: Task): Promise<{ area: Rectangle; proposal: { dx: number; dy: number } | null } | null> {
    const layer = layerOf(records, layerId);
    if (!layer) return null;
    const job = await prepareJob(this.ctx, records, task);
    const area = maskBounds(this.ctx, job, layer);
    if (!area) return null;
    // the layer itself and what lies over it have no part in what it takes
    const siblings = childrenOf(records, layer.parentId);
    const over = siblings.slice(siblings.findIndex((l) => l.id === layerId));
    const below = await prepareJob(
      this.ctx,
      over.reduce((r, l) => updateLayer(l.id, { visible: false })(r), records),
      task,
    );
    const read: Parameters<typeof proposeSource>[3] = (level, rect, scope) => composeRect(this.ctx, below, level, rect, "layers", scope);
    return { area, proposal: proposeSource(this.ctx, job, layer, read) };
  }

  async findDust(records: Records, task: Task): Promise<DustSpot[]> {
    return findDust(this.ctx, await prepareJob(this.ctx, records, task), task);
  }

  async findTwinsOf(records: Records, layerId: string, task: Task): Promise<Twin[]> {
    const layer = layerOf(records, layerId);
    return layer ? findTwinsOf(this.ctx, await prepareJob(this.ctx, records, task), layer, task) : [];
  }

  async findTwins(records: Records, task: Task): Promise<Twin[]> {
    return findTwinPatches(this.ctx, await prepareJob(this.ctx, records, task), task);
  }

  async auditRemnants(records: Records, layerId: string, task: Task): Promise<RemnantAudit | null> {
    const layer = layerOf(records, layerId);
    return layer ? auditRemnants(this.ctx, await prepareJob(this.ctx, records, task), layer, task) : null;
  }

  /** How much of the picture something is that is looked for, and how sure that is, 0..1. */
  async judgeFound(records: Records, part: FoundPart, task: Task): Promise<{ share: number; confidence: number }> {
    const { share, confidence } = findInMerge(this.ctx, await prepareJob(this.ctx, records, task), part);
    return { share, confidence };
  }

  async measureTones(records: Records, task: Task): Promise<Tones> {
    return measureTones(this.ctx, await prepareJob(this.ctx, records, task), task);
  }

  measureEffect(before: Records, after: Records, task: Task): Promise<Effect | null> {
    return measureEffect(this.ctx, before, after, task);
  }

  /** The depth of a focus stack as a file. */
  exportDepth(records: Records, cropped: boolean, task: Task): Promise<Uint8Array[]> {
    return exportDepth(this.ctx, records, cropped, task);
  }

  /** A map of the merge as a PNG file. */
  exportMap(records: Records, kind: MapKind, cropped: boolean, task: Task, method?: MergeMethod): Promise<Uint8Array> {
    return exportMap(this.ctx, records, kind, cropped, task, method);
  }

  export(records: Records, settings: ExportSettings, task: Task, method?: MergeMethod): Promise<ExportResult> {
    return exportPicture(this.ctx, records, settings, task, method);
  }
}

async function sharesOf(job: PreparedJob, task: Task): Promise<Record<string, number>> {
  const totals = await totalShares(job.merge.shares, task);
  return Object.fromEntries(job.inputs.frames.map((f, i) => [f.frame.id, totals[i]]));
}
