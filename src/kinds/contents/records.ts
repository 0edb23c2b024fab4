import { adjustment } from "./adjustment/record";
import { below } from "./below/record";
import type { ContentRecord } from "./fields";
import { fill } from "./fill/record";
import { frame } from "./frame/record";
import { group } from "./group/record";
import { merge } from "./merge/record";
import { lampGlow } from "./lampGlow/record";
import { lampLight } from "./lampLight/record";
import { beam } from "./beam/record";
import { bleed } from "./bleed/record";
import { lampInWater } from "./lampInWater/record";
import { depthOfField } from "./depthOfField/record";
import { stillWater } from "./stillWater/record";
import { mist } from "./mist/record";
import { particles } from "./particles/record";
import { otherSky } from "./otherSky/record";
import { reflection } from "./reflection/record";
import { relight } from "./relight/record";
import { retouch } from "./retouch/record";

/** All that a layer can show or do. */
export const CONTENT_RECORDS = {
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

export type ContentKind = keyof typeof CONTENT_RECORDS;
/** What a layer shows, or does to what lies below it. */
export type LayerContent = { [K in ContentKind]: (typeof CONTENT_RECORDS)[K] extends ContentRecord<infer C> ? C : never }[ContentKind];
export type ContentOf<K extends ContentKind> = Extract<LayerContent, { type: K }>;

export const recordOf = (content: LayerContent) => CONTENT_RECORDS[content.type] as ContentRecord<LayerContent>;
