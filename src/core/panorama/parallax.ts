import { quantile } from "../numeric/statistics";
import type { Match } from "../register/features/matchFeatures";
import { levelOf } from "../register/greyPyramid";
import { mapAbout, measurePatch, searchPatch, strongestCorner, type Finder } from "../register/localShifts";
import { createPhotometry } from "../register/photometry";
import type { GreyLevel } from "../register/refine";
import { between, inside, type Camera } from "./camera";
import type { PanoramaFrame } from "./tieFrames";

/** Cells across a frame in which one place is looked at. */
const COLUMNS = 20;
/** Longest side of the level at which things that went far are looked for, and how far there, px. */
const SEARCH = { side: 320, reach: 24 };
/** Correlation from which a patch shows the same thing: far off it may be found by chance. Common practice, no source. */
const SAME = { here: 0.75, far: 0.8 };
/** Nearest other places that are asked, and how many of them must have gone the same way. */
const ASKED = { of: 5, agree: 3 };
/** By how much neighbours may differ and still have gone the same way: px, and a share of the way. */
const ALIKE = { px: 1.5, share: 0.2 };
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
  const [fine, coarse] = [0, searchLevel(frames[a])];
  const photometry = createPhotometry(relativeEv);
  const [fixed, moving] = [levelOf(frames[a].grey, fine), levelOf(frames[b].grey, fine)];
  const [la, lb] = [frames[a].level, frames[b].level];
  const map: Finder = (x, y) => {
    const p = between(cameras[a], cameras[b], up(x, la), up(y, la));
    return p ? [down(p[0], lb), down(p[1], lb)] : [NaN, NaN];
  };
  const seen = (x: number, y: number) => {
    const p = map(x, y);
    return !Number.isNaN(p[0]) && inside(moving, p, MARGIN);
  };
  const selection = { bounds: { x: 0, y: 0, width: fixed.width, height: fixed.height }, counts: seen };
  const rows = Math.max(3, Math.round((COLUMNS * fixed.height) / fixed.width));
  const limit = limitPx / 2 ** lb;
  let places = 0;
  const off: Off[] = [];
  for (let ty = 0; ty < rows; ty++) {
    for (let tx = 0; tx < COLUMNS; tx++) {
      const edge = (t: number, side: number, of: number) => Math.floor((t * side) / of);
      const cell = {
        x0: edge(tx, fixed.width, COLUMNS),
        x1: edge(tx + 1, fixed.width, COLUMNS),
        y0: edge(ty, fixed.height, rows),
        y1: edge(ty + 1, fixed.height, rows),
      };
      if (!seen((cell.x0 + cell.x1) / 2, (cell.y0 + cell.y1) / 2)) continue;
      const place = strongestCorner(fixed, photometry.fixed, cell, selection);
      const about = place && mapAbout(map, ...place);
      if (!place || !about) continue;
      places++;
      const here = measurePatch(fixed, moving, photometry, about);
      if (here && here.correlation >= SAME.here && Math.hypot(here.dx, here.dy) <= Math.max(limit, FOLLOWS_PX)) continue;
      const went = searchFar(frames, a, b, coarse, map, place);
      if (!went) continue;
      const there = mapAbout((x, y) => shifted(map(x, y), went), ...place);
      const found = there && measurePatch(fixed, moving, photometry, there);
      if (!found || found.correlation < SAME.far) continue;
      // what is left at the place that was found is measured on the fixed side; between frames of one panorama both sides are as large
      const [dx, dy] = [went[0] + found.dx, went[1] + found.dy];
      const far = Math.hypot(dx, dy);
      if (far > limit) off.push({ x: place[0], y: place[1], dx, dy, far });
    }
  }
  return goneTogether(off, Math.max(FEWEST.places, FEWEST.share * places)) * 2 ** lb;
}

/** Px of the level within which a patch counts as where it should be, however well the fit is. */
const FOLLOWS_PX = 2;
/** Half a patch and what its interpolation reaches. */
const MARGIN = 18;
const up = (v: number, level: number) => (v + 0.5) * 2 ** level - 0.5;
const down = (v: number, level: number) => (v + 0.5) / 2 ** level - 0.5;
const shifted = ([u, v]: [number, number], [dx, dy]: [number, number]): [number, number] => [u + dx, v + dy];

function searchLevel({ grey }: PanoramaFrame): number {
  return Math.min(grey.levels.length - 1, Math.max(0, Math.ceil(Math.log2(Math.max(grey.width, grey.height) / SEARCH.side))));
}

/** Where a patch went, px of the finest level of b, by correlation at a coarse level of what the turn leads to. */
function searchFar(frames: PanoramaFrame[], a: number, b: number, level: number, map: Finder, [x, y]: [number, number]): [number, number] | null {
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
  if (found.correlation < SAME.here || Math.max(Math.abs(found.dx), Math.abs(found.dy)) >= SEARCH.reach) return null;
  return [xx * found.dx + xy * found.dy, yx * found.dx + yy * found.dy];
}

const at = ({ width, height, data }: GreyLevel, x: number, y: number) => (x < 0 || y < 0 || x >= width || y >= height ? 0 : data[y * width + x]);

function goesAlong(m: Off, off: Off[]): boolean {
  const near = off
    .filter((n) => n.x !== m.x || n.y !== m.y)
    .sort((p, q) => Math.hypot(p.x - m.x, p.y - m.y) - Math.hypot(q.x - m.x, q.y - m.y))
    .slice(0, ASKED.of);
  return near.filter((n) => Math.hypot(n.dx - m.dx, n.dy - m.dy) < ALIKE.px + ALIKE.share * m.far).length >= ASKED.agree;
}
