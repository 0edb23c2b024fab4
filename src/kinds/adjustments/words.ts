import { localTone } from "./localTone/words";
import { toneResponse } from "./toneResponse/words";
import { exposure } from "./exposure/words";
import { shade } from "./shade/words";
import { zones } from "./zones/words";
import { contrast } from "./contrast/words";
import { curve } from "./curve/words";
import { levels } from "./levels/words";
import { whiteBalance } from "./whiteBalance/words";
import { chroma } from "./chroma/words";
import { hueBand } from "./hueBand/words";
import { tint } from "./tint/words";
import { falloff } from "./falloff/words";
import { detail } from "./detail/words";
import { sharpen } from "./sharpen/words";
import { highPass } from "./highPass/words";
import { glow } from "./glow/words";
import { haze } from "./haze/words";
import { clearing } from "./clearing/words";
import { balance } from "./balance/words";
import { noise } from "./noise/words";
import { grain } from "./grain/words";
import { mixture } from "./mixture/words";
import { mono } from "./mono/words";
import { invert } from "./invert/words";
import type { Adjustment } from "./records";
import type { KindWords } from "../wording";

/** What each adjustment and its values are called. */
export const ADJUSTMENT_WORDS: Record<Adjustment, KindWords> = {
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
