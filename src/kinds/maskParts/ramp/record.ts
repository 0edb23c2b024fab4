import { place, type PartRecord } from "../fields";

/** Black up to the first place, white from the second; reference px. */
export interface Ramp {
  kind: "ramp";
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

export const ramp: PartRecord<Ramp> = {
  fields: { x0: place(), y0: place(), x1: place(), y1: place() },
  moved: (part, { move }) => {
    const [from, to] = [move(part.x0, part.y0), move(part.x1, part.y1)];
    return from && to ? { ...part, x0: from[0], y0: from[1], x1: to[0], y1: to[1] } : part;
  },
};
