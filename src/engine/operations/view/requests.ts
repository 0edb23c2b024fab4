import type { Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import type { EngineContext } from "../../EngineContext";
import type { Task } from "../../task";
import { prepareJob } from "../layers/compose";
import { readOut } from "./readout";
import { renderRect, renderView, type ViewRequest } from "./renderView";
import type { ViewSpec } from "./ViewSpec";
import type { ScreenSpace } from "./ViewSpec";

export const viewRequests = {
  /** The tiles of a view that the screen lacks. */
  renderView: (ctx: EngineContext, { records, ...request }: { records: Records } & ViewRequest, task: Task) => renderView(ctx, records, request, task),
  /** One rectangle of a view, just as large as it was asked for. */
  renderRect: (ctx: EngineContext, p: { records: Records; view: ViewSpec; level: number; rect: Rectangle; space: ScreenSpace }, task: Task) =>
    renderRect(ctx, p.records, p, task),
  readOut: async (ctx: EngineContext, p: { records: Records; x: number; y: number; radius: number }, task: Task) =>
    readOut(ctx, await prepareJob(ctx, p.records, task), p.x, p.y, p.radius),
};
