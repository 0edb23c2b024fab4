import { localTone, prepareLocalTone } from "./localTone/operation";
import { toneResponse } from "./toneResponse/operation";
import { exposure } from "./exposure/operation";
import { shade } from "./shade/operation";
import { zones } from "./zones/operation";
import { contrast } from "./contrast/operation";
import { curve } from "./curve/operation";
import { levels } from "./levels/operation";
import { whiteBalance } from "./whiteBalance/operation";
import { chroma } from "./chroma/operation";
import { hueBand } from "./hueBand/operation";
import { tint } from "./tint/operation";
import { falloff } from "./falloff/operation";
import { detail } from "./detail/operation";
import { sharpen } from "./sharpen/operation";
import { highPass } from "./highPass/operation";
import { glow } from "./glow/operation";
import { haze } from "./haze/operation";
import { clearing, prepareClearing } from "./clearing/operation";
import { balance } from "./balance/operation";
import { noise } from "./noise/operation";
import { grain } from "./grain/operation";
import { mixture } from "./mixture/operation";
import { mono } from "./mono/operation";
import { invert } from "./invert/operation";
import { needsSceneLight, valuesOf, type Adjustment } from "./records";
import type { Operation, Preparation, Site } from "./tools";

/** What each adjustment does to the planes of a rectangle. */
export const ADJUSTMENT_OPERATIONS: Record<Adjustment, Operation> = {
  exposure,
  zones,
  contrast,
  curve,
  levels,
  whiteBalance,
  shade,
  chroma,
  hueBand,
  tint,
  falloff,
  detail,
  sharpen,
  highPass,
  glow,
  haze,
  clearing,
  balance,
  noise,
  grain,
  mixture,
  mono,
  invert,
  localTone,
  toneResponse,
};

/** What has to be found before some adjustments can be drawn. */
export const ADJUSTMENT_PREPARATIONS: Partial<Record<Adjustment, Preparation<object>>> = { localTone: prepareLocalTone, clearing: prepareClearing };

/** Carries an adjustment out on a rectangle, in place; values that are not given are neutral. */
export function applyAdjustment(on: Site, adjustment: Adjustment, given: Record<string, number>): void {
  if (needsSceneLight(adjustment) && !on.isSceneLight) return;
  on.scope.kernels.withScope((scope) => ADJUSTMENT_OPERATIONS[adjustment]({ ...on, scope }, valuesOf(adjustment, given)));
}
