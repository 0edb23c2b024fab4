import { intersect, type Rectangle } from "../../../core/geometry/rectangle";

/** Side of a tile of a view, samples of its level. */
export const VIEW_TILE = 64;

/** Tiles that the screen holds of a level: the rectangle that they lie in and a key each, row by row. */
export interface HeldTiles {
  level: number;
  rect: Rectangle;
  keys: string[];
}

/** A rectangle made larger to whole tiles, as far as the picture goes. */
export function onTiles(rect: Rectangle, bounds: { width: number; height: number }): Rectangle {
  const inside = intersect(rect, { x: 0, y: 0, ...bounds });
  if (inside.width === 0 || inside.height === 0) return inside;
  const [x, y] = [Math.floor(inside.x / VIEW_TILE) * VIEW_TILE, Math.floor(inside.y / VIEW_TILE) * VIEW_TILE];
  const [right, bottom] = [inside.x + inside.width, inside.y + inside.height].map((v) => Math.ceil(v / VIEW_TILE) * VIEW_TILE);
  return intersect({ x, y, width: right - x, height: bottom - y }, { x: 0, y: 0, ...bounds });
}

/** Tiles of a rectangle that begins on the grid, row by row; those at its far borders are cut off there. */
export function tilesOf(rect: Rectangle): Rectangle[] {
  const out: Rectangle[] = [];
  for (let y = rect.y; y < rect.y + rect.height; y += VIEW_TILE) {
    for (let x = rect.x; x < rect.x + rect.width; x += VIEW_TILE) out.push(intersect({ x, y, width: VIEW_TILE, height: VIEW_TILE }, rect));
  }
  return out;
}

/** Ends the key of a tile that the screen shows coarser than it is wanted. */
const COARSER = "~";
export const coarser = (key: string): string => key + COARSER;
export const isCoarser = (key: string): boolean => key.endsWith(COARSER);

/**
 * What the screen lacks of a rectangle, as few rectangles: tiles side by side go together, and rows of the same columns too.
 * @param mayBeCoarser whether what is shown coarser will do for now
 * @returns those, and by tile the key of what is shown already, or null where it is lacking
 */
export function missingTiles(
  rect: Rectangle,
  keys: string[],
  held: HeldTiles | null,
  mayBeCoarser: boolean,
): { missing: Rectangle[]; shown: (string | null)[] } {
  const known = new Map(held ? tilesOf(held.rect).map((t, i) => [nameOf(t), held.keys[i]]) : []);
  const tiles = tilesOf(rect);
  const shown = tiles.map((tile, i) => {
    const key = known.get(nameOf(tile));
    return key === keys[i] || (mayBeCoarser && key === coarser(keys[i])) ? key : null;
  });
  const out: Rectangle[] = [];
  let run: Rectangle | null = null;
  tiles.forEach((tile, i) => {
    const goesOn: boolean = run !== null && run.y === tile.y && run.x + run.width === tile.x;
    if (shown[i] !== null) {
      run = null;
      return;
    }
    if (goesOn) run!.width += tile.width;
    else out.push((run = { ...tile }));
  });
  return { missing: joinRows(out), shown };
}

const nameOf = (t: Rectangle) => `${t.x}/${t.y}/${t.width}/${t.height}`;

/** Runs that lie right under one another and are of the same columns become one. */
function joinRows(runs: Rectangle[]): Rectangle[] {
  const out: Rectangle[] = [];
  for (const run of runs) {
    const above = out.find((r) => r.x === run.x && r.width === run.width && r.y + r.height === run.y);
    if (above) above.height += run.height;
    else out.push({ ...run });
  }
  return out;
}
