import { painted } from "./painted/controls";
import { ramp } from "./ramp/controls";
import { ellipse } from "./ellipse/controls";
import { polygon } from "./polygon/controls";
import { light } from "./light/controls";
import { hue } from "./hue/controls";
import { channel } from "./channel/controls";
import { depth } from "./depth/controls";
import { difference } from "./difference/controls";
import { sharpness } from "./sharpness/controls";
import { soften } from "./soften/controls";
import { link } from "./link/controls";
import { cells } from "./cells/controls";
import { found } from "./found/controls";
import { behind } from "./behind/controls";
import { cast } from "./cast/controls";
import { sunk } from "./sunk/controls";
import { group } from "./group/controls";
import type { PartControls } from "./controlling";
import type { PartKind, PartOf, PartShape } from "./records";

/** How each part is begun, set and drawn. */
export const PART_CONTROLS: { [K in PartKind]: PartControls<PartOf<K>> } = {
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

export const controlsOf = (part: PartShape) => PART_CONTROLS[part.kind] as PartControls<PartShape>;
