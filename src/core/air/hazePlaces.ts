import { LUMINANCE } from "../color/primaries";

/** The dark light of a place, linear red, green and blue; how far away it is, and how much it says beside others. */
export interface HazePlace {
  distanceM: number;
  light: readonly number[];
  times: number;
}

/** A picture at a coarse level: linear red, green and blue. */
export interface SeenLight {
  width: number;
  height: number;
  planes: readonly ArrayLike<number>[];
}

/** What counts as dark of a place: the middle of so much of its darkest, for the very darkest is noise. */
const DARK = 0.04;
/** Side of a place, of the width; how much alike distances within it are, times; and where in it they are looked at. */
const PLACE = 1 / 37;
const ALIKE = 1.25;
/** A place that was marked is as wide, of others. */
const MARKED = 1 / 3;
const LOOKS = [0, 0.25, 0.5, 0.75, 1];
/** Share of places along the horizon that show most of the air's own light. */
const HAZIEST = 0.2;
const FEWEST = 5;

const luminance = (light: readonly number[]): number => LUMINANCE.reduce((sum, w, c) => sum + w * light[c], 0);

const placeSide = (width: number): number => Math.max(4, Math.round(PLACE * width));

/** The dark light of some samples; null where there are none. */
function darkOf({ planes }: SeenLight, at: readonly number[]): number[] | null {
  if (at.length === 0) return null;
  const lights = at.map((i) => LUMINANCE[0] * planes[0][i] + LUMINANCE[1] * planes[1][i] + LUMINANCE[2] * planes[2][i]);
  const order = [...at.keys()].sort((a, b) => lights[a] - lights[b]).slice(0, Math.max(4, Math.round(DARK * at.length)));
  return planes.map((plane) => {
    const values = order.map((k) => plane[at[k]]).sort((a, b) => a - b);
    return values[values.length >> 1];
  });
}

/** Samples of a square, as far as it is in the picture. */
function squareAt({ width, height }: SeenLight, x0: number, y0: number, side: number): number[] {
  const at: number[] = [];
  for (let y = Math.max(0, y0); y < Math.min(height, y0 + side); y++) for (let x = Math.max(0, x0); x < Math.min(width, x0 + side); x++) at.push(y * width + x);
  return at;
}

/** The dark right at a place that somebody marked: what stands beside it may be nearer. */
export const darkAround = (seen: SeenLight, x: number, y: number): number[] | null => {
  const side = Math.max(3, Math.round(MARKED * placeSide(seen.width)));
  return darkOf(seen, squareAt(seen, Math.round(x - side / 2), Math.round(y - side / 2), side));
};

/** Places all over a picture, each of which is equally far away all over. @param distanceAt metres; null where that is not known, or in the sky */
export function placesByDistance(seen: SeenLight, distanceAt: (x: number, y: number) => number | null): HazePlace[] {
  const side = placeSide(seen.width);
  const places: HazePlace[] = [];
  for (let y = 0; y + side <= seen.height; y += side) {
    for (let x = 0; x + side <= seen.width; x += side) {
      const told = LOOKS.flatMap((v) => LOOKS.map((u) => distanceAt(x + u * (side - 1), y + v * (side - 1)) ?? Infinity)).sort((a, b) => a - b);
      // near the horizon ground is told too roughly, and what stands on it hides it
      if (told[told.length - 1] < Infinity && told[told.length - 1] <= ALIKE * told[0])
        places.push({ distanceM: told[told.length >> 1], light: darkOf(seen, squareAt(seen, x, y, side))!, times: 1 });
    }
  }
  return places;
}

/**
 * What shows where one sees farthest: the lightest of what is dark along the horizon; null where too little of that is in the picture.
 * @param horizonAt its row in a column @param unsure how far off that may be, rows: sky alone tells nothing, so that of rows as likely the darkest is taken
 */
export function horizonLight(seen: SeenLight, horizonAt: (x: number) => number, unsure = 0): number[] | null {
  const side = Math.max(3, placeSide(seen.width) >> 1);
  const dark: number[][] = [];
  for (let x = 0; x + side <= seen.width; x += Math.ceil(side / 2)) {
    const told = [0, -unsure, unsure].flatMap((off) => {
      const y = Math.round(horizonAt(x + side / 2) + off) - (side >> 1);
      return y >= 0 && y + side <= seen.height ? [darkOf(seen, squareAt(seen, x, y, side))!] : [];
    });
    if (told.length > 0) dark.push(told.reduce((a, b) => (luminance(b) < luminance(a) ? b : a)));
  }
  if (dark.length < FEWEST) return null;
  dark.sort((a, b) => luminance(b) - luminance(a));
  const haziest = dark.slice(0, Math.ceil(HAZIEST * dark.length));
  return [0, 1, 2].map((c) => haziest.reduce((sum, v) => sum + v[c], 0) / haziest.length);
}
