import type { Lens } from "../../../core/geometry/lens";
import type { Rectangle } from "../../../core/geometry/rectangle";
import { setRegistration } from "../../../document/edits";
import type { FramePlacement, FrameRecord, Records, RegistrationRecord } from "../../../document/records/types";
import { activeFramesOf, exposuresOf, registrationOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import { portion, type Task } from "../../task";
import { openMergeInputs } from "../merge/mergeInputs";
import { commonArea, describePlacement, judgePlacement, placeByPoints, refinePlacement, snapPoint, type Placing } from "./placements";
import { refineExposures } from "./refineExposures";
import { proposeCrop, registerFrames, type RegisterRequest } from "./registerFrames";

/** A placement and the crop it leads to. */
export interface PlacementWithCrop {
  placement: FramePlacement;
  proposedCrop: Rectangle;
}

type Placed = { records: Records; frameId: string; placing: Placing };

export const registerRequests = {
  /** Registers, places the frames and measures their exposures on registered pixels. */
  register: async (
    ctx: EngineContext,
    { records, frames, request }: { records: Records; frames: FrameRecord[]; request: RegisterRequest },
    task: Task,
  ): Promise<{ registration: RegistrationRecord; measuredEv: Record<string, number> }> => {
    const found = await registerFrames(ctx, records, frames, request, portion(task, 0, 0.7));
    const placed = setRegistration(found.registration, { ...exposuresOf(records)?.measuredEv, ...found.measuredEv })(records);
    const inputs = await openMergeInputs(ctx, placed, portion(task, 0.7, 1));
    return { registration: found.registration, measuredEv: { ...found.measuredEv, ...refineExposures(ctx, inputs) } };
  },
  /** EV of frames that are placed already, from their pixels. */
  measurePlacedExposures: async (ctx: EngineContext, { records }: { records: Records }, task: Task) =>
    refineExposures(ctx, await openMergeInputs(ctx, records, task)),
  /** What a placement by hand leaves, live. */
  judgePlacement: (ctx: EngineContext, p: Placed) => judgePlacement(ctx, p.records, p.frameId, p.placing),
  /** A placement by hand, with its figures, ready for the document. */
  describePlacement: (ctx: EngineContext, p: Placed) =>
    withCrop(p.records, describePlacement(ctx, p.records, p.frameId, p.placing, "hand")) as Promise<PlacementWithCrop>,
  placeByPoints: (ctx: EngineContext, p: { records: Records; frameId: string; points: number[][]; lens: Lens | null }) =>
    withCrop(p.records, placeByPoints(ctx, p.records, p.frameId, p.points, p.lens)),
  refinePlacement: (ctx: EngineContext, p: Placed) => withCrop(p.records, refinePlacement(ctx, p.records, p.frameId, p.placing)),
  snapPoint: (ctx: EngineContext, p: Placed & { point: { x: number; y: number }; guess: { u: number; v: number } }) =>
    snapPoint(ctx, p.records, p.frameId, p.placing, p.point, p.guess),
  commonArea: (_ctx: EngineContext, p: { records: Records; ratio: number | null }) => commonArea(p.records, p.ratio),
};

async function withCrop(records: Records, making: Promise<FramePlacement | null>): Promise<PlacementWithCrop | null> {
  const placement = await making;
  const registration = registrationOf(records);
  if (!placement || !registration) return null;
  const placements = registration.placements.map((p) => (p.frameId === placement.frameId ? placement : p));
  return { placement, proposedCrop: proposeCrop(activeFramesOf(records), placements, registration.referenceId) };
}
