import { finite } from "../../../document/records/fields";
import { degrees } from "../../values";
import { place, type PartRecord } from "../fields";

/** White inside; radii before it is turned, degrees clockwise; reference px. */
export interface Ellipse {
  kind: "ellipse";
  cx: number;
  cy: number;
  rx: number;
  ry: number;
  angleDeg: number;
}

export const ellipse: PartRecord<Ellipse> = {
  fields: { cx: place(), cy: place(), rx: finite().min(0.5).max(1e6), ry: finite().min(0.5).max(1e6), angleDeg: finite().min(-360).max(360) },
  values: { angleDeg: degrees(0, -180, 180) },
  moved: (part, { move, scale }) => {
    const centre = move(part.cx, part.cy);
    const aside = move(part.cx + 8, part.cy);
    if (!centre || !aside) return part;
    const grown = Math.hypot(aside[0] - centre[0], aside[1] - centre[1]) / 8 || scale;
    return { ...part, cx: centre[0], cy: centre[1], rx: part.rx * grown, ry: part.ry * grown };
  },
};
