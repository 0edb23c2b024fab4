import { adjustment } from "./adjustment/controls";
import { below } from "./below/controls";
import type { ContentControls } from "./controlling";
import { fill } from "./fill/controls";
import { frame } from "./frame/controls";
import { group } from "./group/controls";
import { merge } from "./merge/controls";
import type { ContentKind, ContentOf, LayerContent } from "./records";
import { lampGlow } from "./lampGlow/controls";
import { lampLight } from "./lampLight/controls";
import { beam } from "./beam/controls";
import { bleed } from "./bleed/controls";
import { lampInWater } from "./lampInWater/controls";
import { depthOfField } from "./depthOfField/controls";
import { stillWater } from "./stillWater/controls";
import { mist } from "./mist/controls";
import { particles } from "./particles/controls";
import { otherSky } from "./otherSky/controls";
import { reflection } from "./reflection/controls";
import { relight } from "./relight/controls";
import { retouch } from "./retouch/controls";

/** The controls of each kind of layer, in the order they are offered. */
export const CONTENT_CONTROLS: { [K in ContentKind]: ContentControls<ContentOf<K>> } = {
  retouch,
  group,
  fill,
  below,
  merge,
  frame,
  adjustment,
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
};

export const controlsOf = (content: LayerContent) => CONTENT_CONTROLS[content.type] as ContentControls<LayerContent>;
