import { painted } from "./painted/words";
import { ramp } from "./ramp/words";
import { ellipse } from "./ellipse/words";
import { polygon } from "./polygon/words";
import { light } from "./light/words";
import { hue } from "./hue/words";
import { channel } from "./channel/words";
import { depth } from "./depth/words";
import { difference } from "./difference/words";
import { sharpness } from "./sharpness/words";
import { soften } from "./soften/words";
import { link } from "./link/words";
import { cells } from "./cells/words";
import { found } from "./found/words";
import { behind } from "./behind/words";
import { cast } from "./cast/words";
import { sunk } from "./sunk/words";
import { group } from "./group/words";
import type { PartWords } from "../wording";
import type { PartKind, PartShape } from "./records";

/** What each part of a mask and its values are called. */
export const PART_WORDS: Record<PartKind, PartWords> = {
  painted,
  ramp,
  ellipse,
  polygon,
  light,
  hue,
  channel,
  depth,
  difference,
  sharpness,
  soften,
  link,
  cells,
  found,
  cast,
  sunk,
  behind,
  group,
};

/** What a part is called: by its kind, and where something was looked for by what that is. */
export const partName = (part: PartShape): string => PART_WORDS[part.kind].nameOf?.(part) ?? PART_WORDS[part.kind].name;
