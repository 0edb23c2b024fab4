import { contrast } from "./contrast/controls";
import { whiteBalance } from "./whiteBalance/controls";
import { localTone } from "./localTone/controls";
import { toneResponse } from "./toneResponse/controls";
import { zones } from "./zones/controls";
import { curve } from "./curve/controls";
import { hueBand } from "./hueBand/controls";
import { tint } from "./tint/controls";
import { highPass } from "./highPass/controls";
import { noise } from "./noise/controls";
import type { AdjustmentControls } from "./controlling";
import type { Adjustment } from "./records";
import { standard } from "./StandardControls";

/** The controls of each adjustment. */
export const ADJUSTMENT_CONTROLS: Record<Adjustment, AdjustmentControls> = {
  exposure: standard("exposure"),
  zones,
  contrast,
  curve,
  levels: standard("levels"),
  whiteBalance,
  shade: standard("shade"),
  chroma: standard("chroma"),
  hueBand,
  tint,
  falloff: standard("falloff"),
  detail: standard("detail"),
  sharpen: standard("sharpen"),
  highPass,
  glow: standard("glow"),
  haze: standard("haze"),
  clearing: standard("clearing"),
  balance: standard("balance"),
  noise,
  grain: standard("grain"),
  mixture: standard("mixture"),
  mono: standard("mono"),
  invert: standard("invert"),
  localTone,
  toneResponse,
};
