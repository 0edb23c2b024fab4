import { adjustment } from "./adjustment/words";
import { below } from "./below/words";
import { fill } from "./fill/words";
import { frame } from "./frame/words";
import { group } from "./group/words";
import { merge } from "./merge/words";
import type { ContentKind, ContentOf, LayerContent } from "./records";
import { lampGlow } from "./lampGlow/words";
import { lampLight } from "./lampLight/words";
import { beam } from "./beam/words";
import { bleed } from "./bleed/words";
import { lampInWater } from "./lampInWater/words";
import { depthOfField } from "./depthOfField/words";
import { stillWater } from "./stillWater/words";
import { mist } from "./mist/words";
import { particles } from "./particles/words";
import { otherSky } from "./otherSky/words";
import { reflection } from "./reflection/words";
import { relight } from "./relight/words";
import { retouch } from "./retouch/words";
import type { ContentWords } from "./wording";

/** What each kind of layer is called. */
export const CONTENT_WORDS: { [K in ContentKind]: ContentWords<ContentOf<K>> } = {
  frame,
  merge,
  below,
  adjustment,
  fill,
  retouch,
  reflection,
  lampLight,
  lampGlow,
  relight,
  otherSky,
  mist,
  particles,
  beam,
  bleed,
  lampInWater,
  depthOfField,
  stillWater,
  group,
};

export const wordsOf = (content: LayerContent) => CONTENT_WORDS[content.type] as ContentWords<LayerContent>;
