import { quantile } from "../numeric/statistics";
import type { Match } from "../register/features/matchFeatures";
import { levelOf } from "../register/greyPyramid";
import { mapAbout, measurePatch, searchPatch, type Finder } from "../register/localShifts";
import { createPhotometry } from "../register/photometry";
import type { GreyLevel } from "../register/refine";
import { between, type Camera } from "./camera";
import { ALIKE, down, MARGIN, structuredOverlap, up, type PanoramaFrame } from "./tieFrames";

/** Cells across a frame in which one place is looked at. */
const COLUMNS = 20;
/** Longest side of the level at which things that went far are looked for, and how far there, px. */
const SEARCH = { side: 320, reach: 24 };
/** Correlation from which a patch shows the same thing far off, where it may be found by chance. Common practice, no source. */
const ALIKE_FAR = 0.8;
/** Nearest other places that are asked, and how many of them must have gone the same way. */
const ASKED = { of: 5, agree: 3 };
/** By how much neighbours may differ and still have gone the same way: px, and a share of the way. */
const SAME_WAY = { px: 1.5, share: 0.2 };
/** Fewer places that went the same way, and a smaller share of all, are chance. Common practice, no source. */
const FEWEST = { places: 4, share: 0.03 };

interface Off {
  x: number;
  y: number;
  dx: number;
  dy: number;
  far: number;
}

/** How many features must have gone the same way; they are found more easily by chance than patches. Common practice, no source. */
const FEWEST_FEATURES = 8;
/** Features are found less exactly than patches, px. */
const FEATURE_PX = 3;
/** Matches farther off than this share of the frame's width are chance. Common practice, no source. */
const FARTHEST = 0.15;

/**
 * How far what is near, or moved, lies from where the turn between two frames puts it: told by features that went the same way as their neighbours, for chance goes each
 * its own way; where features are too few, by patches.
 * @param limitPx up to which a place follows the turn, px
 * @returns px of b at full size, 0 where nothing is off together
 */
export function parallaxOf(frames: PanoramaFrame[], cameras: Camera[], a: number, b: number, matches: Match[], relativeEv: number, limitPx: number): number {
  return offFeatures(matches, cameras[a], cameras[b], Math.max(FEATURE_PX, limitPx)) || offPatches(frames, cameras, a, b, relativeEv, limitPx);
}

function offFeatures(matches: Match[], a: Camera, b: Camera, limitPx: number): number {
  const off = matches.flatMap((m): Off[] => {
    const p = between(a, b, m.a.x, m.a.y);
    if (!p) return [];
    const [dx, dy] = [m.b.x - p[0], m.b.y - p[1]];
    const far = Math.hypot(dx, dy);
    return far > limitPx && far < FARTHEST * a.width ? [{ x: m.a.x, y: m.a.y, dx, dy, far }] : [];
  });
  return goneTogether(off, Math.max(FEWEST_FEATURES, FEWEST.share * matches.length));
}

/** What those went that went the same way as their neighbours, px; 0 where they are fewer than asked. */
function goneTogether(off: Off[], fewest: number): number {
  const far = off.filter((m) => goesAlong(m, off)).map((m) => m.far);
  return far.length < fewest ? 0 : quantile(far, 0.75);
}

/** Patches that are not where they should be are looked for farther away. */
function offPatches(frames: PanoramaFrame[], cameras: Camera[], a: number, b: number, relativeEv: number, limitPx: number): number {
  const photometry = createPhotometry(relativeEv);
  const { fixed, moving, map, places } = structuredOverlap(frames, cameras, a, b, photometry.fixed, 0, COLUMNS);
  const px = 2 ** frames[b].level;
  const limit = limitPx / px;
  const coarse = searchLevel(frames[a]);
  const off = places.flatMap(([x, y]): Off[] => {
    const about = mapAbout(map, x, y);
    const here = about && measurePatch(fixed, moving, photometry, about);
    if (!about || (here && here.correlation >= ALIKE && Math.hypot(here.dx, here.dy) <= Math.max(limit, FOLLOWS_PX))) return [];
    const went = searchFar(frames, a, b, coarse, map, x, y);
    if (!went) return [];
    const there = mapAbout((p, q) => shifted(map(p, q), went), x, y);
    const found = there && measurePatch(fixed, moving, photometry, there);
    if (!found || found.correlation < ALIKE_FAR) return [];
    // what is left is measured on the fixed side; frames of one panorama show things as large
    const [dx, dy] = [went[0] + found.dx, went[1] + found.dy];
    const far = Math.hypot(dx, dy);
    return far > limit ? [{ x, y, dx, dy, far }] : [];
  });
  return goneTogether(off, Math.max(FEWEST.places, FEWEST.share * places.length)) * px;
}

/** Px of the level within which a patch counts as where it should be, however well the fit is. */
const FOLLOWS_PX = 2;
const shifted = ([u, v]: [number, number], [dx, dy]: [number, number]): [number, number] => [u + dx, v + dy];

function searchLevel({ grey }: PanoramaFrame): number {
  return Math.min(grey.levels.length - 1, Math.max(0, Math.ceil(Math.log2(Math.max(grey.width, grey.height) / SEARCH.side))));
}

/** Where a patch went, px of the finest level of b, by correlation at a coarse level of what the turn leads to. */
function searchFar(frames: PanoramaFrame[], a: number, b: number, level: number, map: Finder, x: number, y: number): [number, number] | null {
  const [fixed, moving] = [levelOf(frames[a].grey, level), levelOf(frames[b].grey, level)];
  const s = 2 ** level;
  const [cx, cy] = [Math.round(down(x, level)), Math.round(down(y, level))];
  const half = SEARCH.reach + MARGIN;
  const side = 2 * half + 1;
  const own: GreyLevel = { width: side, height: side, data: new Uint16Array(side * side) };
  const other: GreyLevel = { width: side, height: side, data: new Uint16Array(side * side) };
  const centre = map(up(cx, level), up(cy, level));
  if (Number.isNaN(centre[0])) return null;
  const [east, south] = [map(up(cx + 8, level), up(cy, level)), map(up(cx, level), up(cy + 8, level))];
  if (Number.isNaN(east[0]) || Number.isNaN(south[0])) return null;
  // over a patch the turn is as good as linear
  const [xx, xy, yx, yy] = [(east[0] - centre[0]) / 8, (south[0] - centre[0]) / 8, (east[1] - centre[1]) / 8, (south[1] - centre[1]) / 8];
  for (let v = -half; v <= half; v++) {
    for (let u = -half; u <= half; u++) {
      const k = (v + half) * side + u + half;
      own.data[k] = at(fixed, cx + u, cy + v);
      other.data[k] = at(moving, Math.round((centre[0] + xx * u + xy * v + 0.5) / s - 0.5), Math.round((centre[1] + yx * u + yy * v + 0.5) / s - 0.5));
    }
  }
  const found = searchPatch(own, other, half, half, SEARCH.reach);
  if (found.correlation < ALIKE || Math.max(Math.abs(found.dx), Math.abs(found.dy)) >= SEARCH.reach) return null;
  return [xx * found.dx + xy * found.dy, yx * found.dx + yy * found.dy];
}

const at = ({ width, height, data }: GreyLevel, x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : data[y * width + x]);

function goesAlong(m: Off, off: Off[]): boolean {
  const near = off
    .filter((n) => n.x !== m.x || n.y !== m.y)
    .sort((p, q) => Math.hypot(p.x - m.x, p.y - m.y) - Math.hypot(q.x - m.x, q.y - m.y))
    .slice(0, ASKED.of);
  return near.filter((n) => Math.hypot(n.dx - m.dx, n.dy - m.dy) < SAME_WAY.px + SAME_WAY.share * m.far).length >= ASKED.agree;
}
