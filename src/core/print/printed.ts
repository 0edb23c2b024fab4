import { differenceCiede2000, type Lab } from "../color/colorDifference";
import { adaptation, D50_XYZ, D65, WORKING_TO_XYZ, xyzOfChromaticity } from "../color/primaries";
import type { Rectangle } from "../geometry/rectangle";
import { invert, multiply, transform } from "../geometry/matrix3";

/** How colours that a paper cannot show are brought to it, by the numbers of profiles. @see ICC.1:2022, 6.2 */
export const INTENTS = ["perceptual", "relative", "saturation", "absolute"] as const;
export type Intent = (typeof INTENTS)[number];

/** XYZ under D50 → working light, and back. */
export const FROM_PAPER = multiply(invert(WORKING_TO_XYZ), adaptation(D50_XYZ, xyzOfChromaticity(D65)));
export const TO_PAPER = multiply(adaptation(xyzOfChromaticity(D65), D50_XYZ), WORKING_TO_XYZ);

/** CIE 1976 L*a*b* of XYZ under D50, as profiles have it. @see ICC.1:2022, annex A; CIE 15 */
export function paperLab(x: number, y: number, z: number): Lab {
  const [fx, fy, fz] = [x, y, z].map((v, i) => {
    const t = v / D50_XYZ[i];
    return t > 216 / 24389 ? Math.cbrt(t) : ((24389 / 27) * t + 16) / 116;
  });
  return [116 * fy - 16, 500 * (fx - fy), 200 * (fy - fz)];
}

/** L* of what prints within so much of the paper's own black is black: nobody tells them apart. Common practice, no source. */
const BLOCKED_L = 1;
/** A colour that the paper misses by more is out of its gamut, ΔE2000: less is hardly seen side by side. Common practice, no source. */
const MISSED = 2;

/** What a paper makes of a picture. */
export interface PrintFigures {
  /** share that lies outside what the paper can show, and by how much in the mean there, ΔE2000 */
  outside: number;
  missedBy: number;
  /** share that prints as the paper's black though it was lighter than black */
  blocked: number;
  /** where most of each lies, px of the picture as it is delivered; null where there is none */
  places: { outside: Rectangle | null; blocked: Rectangle | null };
  /** L* of paper and of the darkest ink on it */
  whiteL: number;
  blackL: number;
  /** the darkest neutral code of sRGB, 0..255, that prints apart from black */
  firstTone: number;
}

/** Whether a place prints as black though it is none. @param wantedL of the picture @param printedL on paper as it is */
export const isBlocked = (wantedL: number, printedL: number, blackL: number): boolean => printedL < blackL + BLOCKED_L && wantedL > BLOCKED_L;

/** A paper's darkest ink beside its white, XYZ under D50, and whether a picture's black is brought to it. */
export interface PaperBlack {
  xyz: readonly [number, number, number];
  isBroughtTo: boolean;
}

/**
 * How far a colour lies outside of a paper, ΔE2000: what is left of it when it is printed as near as can be, but for what only the depth of the paper's black makes of it.
 * @param wanted XYZ of the picture under D50 @param got XYZ of the print, relative colorimetric, the paper as white
 */
export function missedBy(wanted: readonly [number, number, number], got: readonly [number, number, number], { xyz, isBroughtTo }: PaperBlack): number {
  if (!isBroughtTo) {
    // what is darker than ink is a matter of blacks, which are told by themselves
    const [L, a, b] = paperLab(...wanted);
    return differenceCiede2000([Math.max(paperLab(...xyz)[0], L), a, b], paperLab(...got));
  }
  // black point compensation: light between black and white is scaled to lie between ink and paper
  const raised = wanted.map((v, c) => v * (1 - xyz[c] / D50_XYZ[c]) + xyz[c]) as [number, number, number];
  return differenceCiede2000(paperLab(...raised), paperLab(...got));
}

export const isOutside = (missed: number): boolean => missed > MISSED;

/** XYZ under D50 of working light, held to what lies between black and white. */
export const wantedXyz = (r: number, g: number, b: number): [number, number, number] =>
  transform(
    TO_PAPER,
    [r, g, b].map((v) => Math.min(1, Math.max(0, v))),
  );
