import { decodeSrgb } from "../core/color/srgbCurve";
import { log2 } from "../core/numeric/elementary";

/** How a picture is shown for judging: as it is, in mono, one channel alone, its colours stronger, or its light in steps of one EV. */
export const JUDGED = ["colour", "mono", "red", "green", "blue", "chroma", "bands"] as const;
export type Judged = (typeof JUDGED)[number];

/** Bands of light, EV against white, the darkest first: from what lies below to white. Each is lighter than the one before, and of another hue than its neighbours. */
export const BANDS: readonly { fromEv: number; color: string }[] = [
  { fromEv: -Infinity, color: "#1c1426" },
  { fromEv: -8, color: "#40321a" },
  { fromEv: -7, color: "#274a55" },
  { fromEv: -6, color: "#6a3f66" },
  { fromEv: -5, color: "#5f7038" },
  { fromEv: -4, color: "#4f8298" },
  { fromEv: -3, color: "#b1748f" },
  { fromEv: -2, color: "#a9ad5c" },
  { fromEv: -1, color: "#a4cfd6" },
  { fromEv: -0.05, color: "#fff6f0" },
];

/** Steps of encoded light that bands are told in. */
const STEPS = 256;

/** The band of an encoded value, 0..1. */
export function bandOf(encoded: number): (typeof BANDS)[number] {
  const ev = log2(Math.max(1e-6, decodeSrgb(encoded)));
  return BANDS.findLast(({ fromEv }) => ev >= fromEv) ?? BANDS[0];
}

/** What a channel becomes at each step of encoded light, as a table of a filter. @param channel 0 red, 1 green, 2 blue */
export const bandTable = (channel: 0 | 1 | 2): string =>
  Array.from({ length: STEPS }, (_, i) => (parseInt(bandOf((i + 0.5) / STEPS).color.slice(1 + 2 * channel, 3 + 2 * channel), 16) / 255).toFixed(3)).join(" ");
