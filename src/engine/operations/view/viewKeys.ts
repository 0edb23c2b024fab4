import { widen, sizeAtLevel, type Rectangle } from "../../../core/geometry/rectangle";
import type { Records } from "../../../document/records/types";
import { layerOf } from "../../../document/selectors";
import { hashOf, hashOfFixed } from "../../graph/keys";
import type { PreparedJob } from "../layers/PreparedJob";
import { maskKey, stackKeysAt } from "../layers/stackKeys";
import type { ViewSpec } from "./ViewSpec";
import type { ScreenSpace } from "./ViewSpec";

const VIEW_VERSION = 1;

/** Views of the composition, in which a place depends on little but what lies there. */
const LOCAL: ViewSpec["kind"][] = ["compose", "mask"];

/**
 * Keys of the tiles of a view: two tiles with the same key look the same. In the composition a key holds what is laid and painted at its place; other
 * views depend on all records.
 */
export function viewKeys(records: Records, job: PreparedJob | null, view: ViewSpec, space: ScreenSpace, level: number): (tile: Rectangle) => string {
  const common = [VIEW_VERSION, view, space, level, job?.merge.key, job?.finest, job?.method];
  if (!job || !LOCAL.includes(view.kind)) {
    const all = hashOf([
      common,
      Object.keys(records)
        .sort()
        .map((id) => hashOfFixed(records[id])),
    ]);
    return ({ x, y, width, height }) => [all, x, y, width, height].join(" ");
  }
  const start = hashOf(common);
  const layer = view.kind === "mask" ? layerOf(records, view.layerId) : undefined;
  const stackAt = stackKeysAt(job, level);
  const bounds = sizeAtLevel(job.inputs.width, job.inputs.height, level);
  return (tile) => {
    const mask = layer ? maskKey(job, layer, { level, rect: widen(tile, 1, bounds) }) : "";
    return [start, tile.x, tile.y, tile.width, tile.height, stackAt(tile), mask].join(" ");
  };
}
