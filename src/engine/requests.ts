import type { EngineContext } from "./EngineContext";
import { deliverRequests } from "./operations/deliver/requests";
import { finishRequests } from "./operations/finish/requests";
import { gatherRequests } from "./operations/gather/requests";
import { maskRequests } from "./operations/masks/requests";
import { matteRequests } from "./operations/matte/requests";
import { mergeRequests } from "./operations/merge/requests";
import { matchRequests } from "./operations/match/requests";
import { lightRequests } from "./operations/light/requests";
import { panoramaRequests } from "./operations/panorama/requests";
import { printRequests } from "./operations/print/requests";
import { proofRequests } from "./operations/proof/requests";
import { registerRequests } from "./operations/register/requests";
import { retouchRequests } from "./operations/retouch/requests";
import { seatRequests } from "./operations/seat/requests";
import { swapRequests } from "./operations/swap/requests";
import { viewRequests } from "./operations/view/requests";
import { weaveRequests } from "./operations/weave/requests";
import { SILENT, type Task } from "./task";
import { Pool } from "./pool/Pool";
import { PoolBroken } from "../kernels/pool/StripPool";
import { LostRaster } from "./tiles/RasterStore";

/** All that can be asked of the computation. One engine serves the screen, the export and the command line. */
export const ENGINE_REQUESTS = {
  ...gatherRequests,
  ...registerRequests,
  ...panoramaRequests,
  ...mergeRequests,
  ...viewRequests,
  ...finishRequests,
  ...printRequests,
  ...proofRequests,
  ...weaveRequests,
  ...retouchRequests,
  ...maskRequests,
  ...matteRequests,
  ...swapRequests,
  ...seatRequests,
  ...lightRequests,
  ...matchRequests,
  ...deliverRequests,
};

export type EngineRequests = typeof ENGINE_REQUESTS;
export type EngineParams<K extends keyof EngineRequests> = Parameters<EngineRequests[K]>[1];
export type EngineResult<K extends keyof EngineRequests> = Awaited<ReturnType<EngineRequests[K]>>;

/** Asks an engine for something. */
export type Ask = <K extends keyof EngineRequests>(name: K, params: EngineParams<K>, task?: Task) => Promise<EngineResult<K>>;

/** How often what was lost is made again before the person is told. */
const TRIES = 4;

/**
 * Answers a request. What turns out to be lost on the way, an intermediate picture or a
 * thread, is replaced, and the work is begun again.
 */
export async function answer<K extends keyof EngineRequests>(ctx: EngineContext, name: K, params: EngineParams<K>, task: Task): Promise<EngineResult<K>> {
  const handler = ENGINE_REQUESTS[name] as (c: EngineContext, p: unknown, t: Task) => unknown;
  for (let tries = 1; ; tries++) {
    try {
      return (await handler(ctx, params, task)) as EngineResult<K>;
    } catch (error) {
      if (tries === TRIES) throw error;
      if (error instanceof LostRaster) await ctx.rasters.forget(error.key);
      else if (error instanceof PoolBroken && ctx.pool instanceof Pool) ctx.pool.restartStrips();
      else throw error;
    }
  }
}

export function createAsk(ctx: EngineContext): Ask {
  return (name, params, task = SILENT) => answer(ctx, name, params, task);
}
