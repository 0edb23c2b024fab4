import { adjustment } from "./adjustment/operation";
import { below } from "./below/operation";
import { fill } from "./fill/operation";
import { frame } from "./frame/operation";
import { group } from "./group/operation";
import { merge } from "./merge/operation";
import type { ContentKind, ContentOf, LayerContent } from "./records";
import { lampGlow } from "./lampGlow/operation";
import { lampLight } from "./lampLight/operation";
import { beam } from "./beam/operation";
import { bleed } from "./bleed/operation";
import { lampInWater } from "./lampInWater/operation";
import { depthOfField } from "./depthOfField/operation";
import { stillWater } from "./stillWater/operation";
import { mist } from "./mist/operation";
import { particles } from "./particles/operation";
import { otherSky } from "./otherSky/operation";
import { reflection } from "./reflection/operation";
import { relight } from "./relight/operation";
import { retouch } from "./retouch/operation";
import type { ContentOperation } from "./tools";

/** What each kind of layer makes of a rectangle. */
export const CONTENT_OPERATIONS: { [K in ContentKind]: ContentOperation<ContentOf<K>> } = {
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

export const operationOf = (content: LayerContent) => CONTENT_OPERATIONS[content.type] as ContentOperation<LayerContent>;
