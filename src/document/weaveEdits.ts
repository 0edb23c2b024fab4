import { wholeFrame } from "../kinds/contents/frame/record";
import { put, updateRecord, without, type Edit } from "./edits";
import { addLayer, paintedMask, placeLayer } from "./layerEdits";
import { freshMask } from "./records/layerTypes";
import type { MaskPart } from "../kinds/maskParts/records";
import type { WeaveRecord, WeaveRegion } from "./records/weaveTypes";
import { newId } from "./edits";
import { uniteRuns } from "../core/masks/cellRuns";
import type { Aim, CellMeasures } from "../core/weave/judgeRegions";
import { rankFrames } from "../core/weave/judgeRegions";
import type { Records } from "./records/types";
import { frameNumber, layersOf, weaveOf } from "./selectors";

/** What a layer that the weave laid says of itself. */
export const WOVEN = "Laid by the weave.";

export const setWeave =
  (weave: WeaveRecord): Edit =>
  (records) =>
    put(records, weave);

const changed = (change: (weave: WeaveRecord) => WeaveRecord): Edit => {
  return (records) => {
    const weave = weaveOf(records);
    return weave ? updateRecord<WeaveRecord>(weave.id, change(weave))(records) : records;
  };
};

const changeRegion = (regionId: string, change: (region: WeaveRegion, weave: WeaveRecord) => WeaveRegion[]): Edit =>
  changed((weave) => ({ ...weave, regions: weave.regions.flatMap((r) => (r.id === regionId ? change(r, weave) : [r])) }));

/** Takes a region from a frame, or from the merge (null). */
export const chooseForRegion = (regionId: string, frameId: string | null): Edit => changeRegion(regionId, (r) => [{ ...r, choice: frameId, byHand: true }]);

export const nameRegion = (regionId: string, name: string): Edit => changeRegion(regionId, (r) => [{ ...r, name }]);

/** Frames of a region ranked for its aim, with the reason. */
export function rankedFor(records: Records, { frameIds }: WeaveRecord, aim: Aim, cells: CellMeasures[]) {
  return rankFrames(
    aim,
    cells,
    frameIds.map((id) => frameNumber(records, id)),
  );
}

/** Looks at a region for something else; its best frame is taken unless one was taken by hand. */
export function aimRegion(regionId: string, aim: Aim): Edit {
  return (records) =>
    changeRegion(regionId, (r, weave) => [{ ...r, aim, choice: r.byHand ? r.choice : weave.frameIds[rankedFor(records, weave, aim, r.cells).order[0]] }])(
      records,
    );
}

/** Takes the best frame everywhere again. */
export const takeProposals: Edit = (records) =>
  changed((weave) => ({
    ...weave,
    regions: weave.regions.map((r) => ({ ...r, byHand: false, choice: weave.frameIds[rankedFor(records, weave, r.aim, r.cells).order[0]] })),
  }))(records);

export const replaceRegion = (regionId: string, by: WeaveRegion[]): Edit => changeRegion(regionId, () => by);

/** Joins a region with another, under the name and the aim of the first. @param cells what was measured of both together */
export function joinRegions(regionId: string, otherId: string, cells: CellMeasures[]): Edit {
  return changed((weave) => {
    const other = weave.regions.find((r) => r.id === otherId);
    if (!other || regionId === otherId) return weave;
    const rest = weave.regions.filter((r) => r.id !== otherId);
    return { ...weave, regions: rest.map((r) => (r.id === regionId ? { ...r, runs: uniteRuns(r.runs, other.runs), cells } : r)) };
  });
}

/** What a frame gives. */
export interface WovenFrame {
  frameId: string;
  runs: number[];
}

/** What each frame gives by the regions alone, borders as the regions have them. */
export function chosenRuns(weave: WeaveRecord): WovenFrame[] {
  return weave.frameIds.flatMap((frameId) => {
    const taken = weave.regions.filter((r) => r.choice === frameId);
    return taken.length ? [{ frameId, runs: taken.reduce<number[]>((runs, r) => uniteRuns(runs, r.runs), []) }] : [];
  });
}

const cellsOf = (runs: number[]) => runs.reduce((sum, v, i) => (i % 3 === 2 ? sum + v - runs[i - 1] : sum), 0);
/** Width over which coarse light is mixed across a border, and within which a border follows edges, in cells. Common practice, no source. */
const SEAM_CELLS = 3;
const REFINE_CELLS = 2;

/**
 * Lays what each frame gives as ordinary layers at the bottom of the stack, the one that gives most first and whole where no place is left to the
 * merge; what the weave laid before makes room.
 */
export function layWeave(weave: WeaveRecord, frames: WovenFrame[]): Edit {
  return (records) => {
    const old = layersOf(records).filter((l) => l.note === WOVEN);
    const strokes = Object.values(records).filter((r) => r.kind === "stroke" && old.some((l) => l.id === r.layerId));
    const cleared = without(
      records,
      [...old, ...strokes].map((r) => r.id),
    );
    const order = [...frames].sort((a, b) => cellsOf(b.runs) - cellsOf(a.runs));
    const all = order.reduce((sum, f) => sum + cellsOf(f.runs), 0) >= weave.columns * weave.rows;
    let below: string | null = null;
    return order.reduce((r, { frameId, runs }, i) => {
      const id = newId("layer");
      const names = weave.regions.filter((x) => x.choice === frameId).map((x) => x.name);
      const cells: MaskPart = { id: newId("part"), combine: "add", inverted: false, featherPx: 0, kind: "cells", cellPx: weave.cellPx, runs };
      const painted = paintedMask(0).parts;
      const mask = i === 0 && all ? freshMask(1, painted) : { ...freshMask(0, [cells, ...painted]), refinePx: REFINE_CELLS * weave.cellPx };
      const layer = {
        id,
        name: `Frame ${frameNumber(records, frameId)}: ${names[0]}${names.length > 1 ? " …" : ""}`,
        note: WOVEN,
        content: wholeFrame(frameId),
        seamPx: i === 0 && all ? 0 : SEAM_CELLS * weave.cellPx,
        mask,
      };
      const laid = placeLayer(id, below, null)(addLayer(layer)(r));
      below = id;
      return laid;
    }, cleared);
  };
}
