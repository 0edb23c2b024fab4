import { painted } from "./painted/operation";
import { ramp } from "./ramp/operation";
import { ellipse } from "./ellipse/operation";
import { polygon } from "./polygon/operation";
import { light } from "./light/operation";
import { hue } from "./hue/operation";
import { channel } from "./channel/operation";
import { depth } from "./depth/operation";
import { difference } from "./difference/operation";
import { sharpness } from "./sharpness/operation";
import { soften } from "./soften/operation";
import { link } from "./link/operation";
import { cells } from "./cells/operation";
import { found } from "./found/operation";
import { behind } from "./behind/operation";
import { cast } from "./cast/operation";
import { sunk } from "./sunk/operation";
import { group } from "./group/operation";
import type { PartKind, PartOf, PartShape } from "./records";
import type { PartOperation } from "./tools";

/** What each part makes of a rectangle. */
export const PART_OPERATIONS: { [K in PartKind]: PartOperation<PartOf<K>> } = {
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

export const operationOf = (part: PartShape) => PART_OPERATIONS[part.kind] as PartOperation<PartShape>;
