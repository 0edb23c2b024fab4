import { DISPLAY_P3, REC2020, REC709, type Primaries } from "./primaries";

/** Colour spaces a picture can be delivered in; all with the sRGB curve. */
export type ExportSpace = "srgb" | "display-p3" | "rec2020";

export const SPACES: Record<ExportSpace, { name: string; primaries: Primaries }> = {
  srgb: { name: "sRGB", primaries: REC709 },
  "display-p3": { name: "Display P3", primaries: DISPLAY_P3 },
  rec2020: { name: "Rec. 2020, sRGB curve", primaries: REC2020 },
};
