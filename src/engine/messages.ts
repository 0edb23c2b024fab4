import type { EngineContext } from "./EngineContext";
import { deliverMessages } from "./operations/deliver/messages";
import { finishMessages } from "./operations/finish/messages";
import { gatherMessages } from "./operations/gather/messages";
import { maskMessages } from "./operations/masks/messages";
import { mergeMessages } from "./operations/merge/messages";
import { panoramaMessages } from "./operations/panorama/messages";
import { proofMessages } from "./operations/proof/messages";
import { registerMessages } from "./operations/register/messages";
import { retouchMessages } from "./operations/retouch/messages";
import { viewMessages } from "./operations/view/messages";
import { weaveMessages } from "./operations/weave/messages";
import { SILENT, type Task } from "./task";
import { Pool } from "./pool/Pool";
import { PoolBroken } from "../kernels/pool/StripPool";
import { LostRaster } from "./tiles/RasterStore";

/** All that can be asked of the computation. One engine serves the screen, the export and the command line. */
export const ENGINE_MESSAGES = {
  ...gatherMessages,
  ...registerMessages,
  ...panoramaMessages,
  ...mergeMessages,
  ...viewMessages,
  ...finishMessages,
  ...proofMessages,
  ...weaveMessages,
  ...retouchMessages,
  ...maskMessages,
  ...deliverMessages,
};

export type EngineMessages = typeof ENGINE_MESSAGES;
export type EngineParams<K extends keyof EngineMessages> = Parameters<EngineMessages[K]>[1];
export type EngineResult<K extends keyof EngineMessages> = Awaited<ReturnType<EngineMessages[K]>>;

/** Asks an engine for something. */
export type Ask = <K extends keyof EngineMessages>(name: K, params: EngineParams<K>, task?: Task) => Promise<EngineResult<K>>;

/** How often what was lost is made again before the person is told. */
const TRIES = 4;

/**
 * Answers a message. What turns out to be lost on the way, an intermediate picture or a
 * thread, is replaced, and the work is begun again.
 */
export async function answer<K extends keyof EngineMessages>(ctx: EngineContext, name: K, params: EngineParams<K>, task: Task): Promise<EngineResult<K>> {
  const handler = ENGINE_MESSAGES[name] as (c: EngineContext, p: unknown, t: Task) => unknown;
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
