import type { Rectangle } from "../../../core/geometry/rectangle";
import { copyShared, cutOut } from "../../../core/raster/planeParts";
import type { DerivedCache } from "../../graph/DerivedCache";

/** Side of a tile, samples. */
const TILE = 64;

/**
 * A mask that nothing painted is part of, in a rectangle: kept in tiles, so that what is looked at next, a little aside, is not made again.
 * @param key of the mask and its level @param size of the level @param make computes any rectangle of it
 */
export function stillMask(
  cache: DerivedCache,
  key: string,
  size: { width: number; height: number },
  rect: Rectangle,
  make: (part: Rectangle) => Float32Array,
): Float32Array {
  const covering = tilesOver(rect, size).map((tile) => ({
    tile,
    name: `${key}/${tile.x}/${tile.y}`,
    values: cache.get<Float32Array>(`${key}/${tile.x}/${tile.y}`),
  }));
  const missing = covering.filter((t) => !t.values);
  if (missing.length > 0) {
    const all = bounding(missing.map((t) => t.tile));
    const made = make(all);
    for (const part of missing) {
      part.values = cutOut(made, all, part.tile).slice();
      cache.set(part.name, part.values, part.values.byteLength);
    }
  }
  const out = new Float32Array(rect.width * rect.height);
  for (const { tile, values } of covering) copyShared(out, rect, values!, tile);
  return out;
}

function tilesOver({ x, y, width, height }: Rectangle, size: { width: number; height: number }): Rectangle[] {
  const out: Rectangle[] = [];
  for (let top = Math.floor(y / TILE) * TILE; top < y + height; top += TILE) {
    for (let left = Math.floor(x / TILE) * TILE; left < x + width; left += TILE) {
      out.push({ x: left, y: top, width: Math.min(TILE, size.width - left), height: Math.min(TILE, size.height - top) });
    }
  }
  return out;
}

function bounding(list: Rectangle[]): Rectangle {
  const [x, y] = [Math.min(...list.map((r) => r.x)), Math.min(...list.map((r) => r.y))];
  return { x, y, width: Math.max(...list.map((r) => r.x + r.width)) - x, height: Math.max(...list.map((r) => r.y + r.height)) - y };
}
