import type { Attitude } from "../../../core/panorama/camera";
import type { FrameRecord, Records } from "../../../document/records/types";
import { activeFramesOf } from "../../../document/selectors";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { panoramaCrop, preparePanorama, projectionsOf, snapPanoramaPoint, type PanoramaRequest } from "./preparePanorama";

export const panoramaRequests = {
  /** How the camera was turned for each frame of a panorama, with light, projection and crop. */
  preparePanorama: (ctx: EngineContext, p: { frames: FrameRecord[]; request: PanoramaRequest }, task: Task) => preparePanorama(ctx, p.frames, p.request, task),
  /** Projections of the panorama at hand, with their figures. @param attitude turned otherwise than it is */
  compareProjections: (_ctx: EngineContext, p: { records: Records; attitude: Attitude | null }) => projectionsOf(p.records, p.attitude),
  /** The largest crop of the panorama as it is shown, and the room of each pin that stays; null where they do not fit. */
  panoramaCrop: (_ctx: EngineContext, p: { records: Records; ratio: number | null }) => panoramaCrop(p.records, p.ratio),
  /** The best match in one frame of a panorama of a place in another. */
  snapPanoramaPoint: async (
    ctx: EngineContext,
    { records, aId, bId, x, y, guess }: { records: Records; aId: string; bId: string; x: number; y: number; guess: [number, number] | null },
  ) => {
    const [a, b] = [aId, bId].map((id) => activeFramesOf(records).find((f) => f.id === id));
    return a && b ? snapPanoramaPoint(ctx, records, a, b, x, y, guess) : null;
  },
};
