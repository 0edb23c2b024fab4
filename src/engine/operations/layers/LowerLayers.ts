import { intersect, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import { copyShared } from "../../../core/raster/planeParts";
import { allParts, type LayerRecord } from "../../../document/records/layerTypes";
import type { Records } from "../../../document/records/types";
import { childrenOf, layerOf, strokesOf } from "../../../document/selectors";
import type { PreparedJob } from "./compose";

/** Side of a tile, samples, and how many are kept (three planes of 256 KiB each). */
const TILE = 256;
const MOST_TILES = 96;

/** Finds the lowest layers of a job that stay as they are while others change: while one is painted on, nothing below it is laid again. */
export class LowerLayers {
  private before: string[] = [];
  private latest = new SettledLayers(0);

  /** The layers, from the bottom and in no group, that are as they were the last time although others changed. */
  settled(job: PreparedJob): SettledLayers {
    const layers = childrenOf(job.records, null);
    const now = [`${job.merge.key}/${job.finest}`, ...layers.map((l) => contentOf(job.records, l))];
    let same = 0;
    while (same < now.length && now[same] === this.before[same]) same++;
    if (same === now.length && same === this.before.length) return this.latest;
    this.before = now;
    let count = Math.max(0, same - 1);
    // a layer goes with those that are clipped to it
    while (count > 0 && layers[count]?.clipped) count--;
    // a view that is still being drawn keeps the tiles it began with
    if (same === 0 || count !== this.latest.count) this.latest = new SettledLayers(count);
    return this.latest;
  }
}

/** What so many of the lowest layers make of the merge, kept by tile. */
export class SettledLayers {
  private readonly tiles = new Map<string, Float32Array[]>();

  constructor(readonly count: number) {}

  /** Planes of a rectangle put together from tiles. @param make computes a tile, which lies inside the level */
  read(job: PreparedJob, level: number, rect: Rectangle, out: Float32Array[], make: (tile: Rectangle) => Float32Array[]): void {
    const bounds = { x: 0, y: 0, ...sizeAtLevel(job.inputs.width, job.inputs.height, level) };
    for (let ty = Math.floor(rect.y / TILE); ty * TILE < rect.y + rect.height; ty++) {
      for (let tx = Math.floor(rect.x / TILE); tx * TILE < rect.x + rect.width; tx++) {
        const tile = intersect({ x: tx * TILE, y: ty * TILE, width: TILE, height: TILE }, bounds);
        const name = `${level}/${tx}/${ty}`;
        const planes = this.tiles.get(name) ?? make(tile);
        this.tiles.delete(name);
        this.tiles.set(name, planes);
        if (this.tiles.size > MOST_TILES) this.tiles.delete(this.tiles.keys().next().value!);
        planes.forEach((plane, c) => copyShared(out[c], rect, plane, tile));
      }
    }
  }
}

/** All that a layer shows depends on: itself, its strokes, what a group holds, and masks that it follows. */
export function contentOf(records: Records, layer: LayerRecord, seen = new Set<string>()): string {
  if (seen.has(layer.id)) return "";
  seen.add(layer.id);
  // a stroke only ever grows
  const strokes = strokesOf(records, layer.id).map((s) => `${s.id}:${s.points.length}`);
  const followed = allParts(layer.mask.parts).flatMap(({ part }) => (part.kind === "link" ? (layerOf(records, part.layerId) ?? []) : []));
  return [JSON.stringify(layer), ...strokes, ...[...childrenOf(records, layer.id), ...followed].map((l) => contentOf(records, l, seen))].join("|");
}
