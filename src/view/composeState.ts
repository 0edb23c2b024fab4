import { useSession } from "../session/store";
import { create } from "zustand";
import type { SurfaceKind } from "../core/seat/scenery";
import type { LineKind } from "../core/seat/stanceByLines";
import type { CutMark } from "../kinds/contents/frame/record";
import type { LayerRecord } from "../document/records/layerTypes";
import { allParts, type MaskPart } from "../kinds/maskParts/records";
import type { Records } from "../document/records/types";
import { childrenOf, composedLayersOf, layerOf, layersOf } from "../document/selectors";

export type ComposeShown = "result" | "pattern" | "mask" | "edge" | "frame" | "lifted" | "residual";
/** What of a layer the bench shows. */
export type ComposeTab = "content" | "mask" | "layer";

/** What a drag on the plate does: nothing, pull the horizon, draw a line of some kind, or mark a shadow, the sun, something round, a lamp, a place that far away or a surface. */
export type PlateTool = "none" | "horizon" | LineKind | "shadow" | "pair" | "sun" | "ball" | "lamp" | "distance" | SurfaceKind;

interface ComposeState {
  partId: string | null;
  shown: ComposeShown;
  tab: ComposeTab;
  /** whether the pointer works on the mask; else it moves the picture */
  working: boolean;
  /** the only layer that is shown; a view, and no change of the job */
  soloId: string | null;
  /** whether the pointer pulls a frame's corners and moves it about */
  pulling: boolean;
  /** what a stroke says of a cut-out */
  marking: CutMark["what"];
  /** the weave in place of the layers, and the region worked on */
  weaving: boolean;
  regionId: string | null;
  /** the parts that may come from other frames in place of the layers, the one worked on, and what a drag draws */
  swapping: boolean;
  swapId: string | null;
  drawing: "part" | "joint";
  /** the plate and what is seated in it in place of the layers, the thing or the lamp worked on, and what a drag does to the plate */
  seating: boolean;
  seatId: string | null;
  lampId: string | null;
  plateTool: PlateTool;
  /** panels lie over the picture and go away while it is painted on */
  over: boolean;
  away: boolean;
}

/** What is being looked at in Compose; it belongs to the person, not to the job. */
export const useCompose = create<ComposeState>(() => ({
  partId: null,
  shown: "result",
  tab: "mask",
  working: true,
  soloId: null,
  pulling: false,
  marking: "keep",
  weaving: false,
  regionId: null,
  swapping: false,
  swapId: null,
  drawing: "part",
  seating: false,
  seatId: null,
  lampId: null,
  plateTool: "none",
  over: false,
  away: false,
}));

export function chooseLayer(layerId: string | null, tab?: ComposeTab): void {
  useSession.setState({ layerId });
  useCompose.setState((s) => ({ partId: null, tab: tab ?? s.tab, pulling: false }));
}

/** From what is seated back to the layers, to one of them. */
export function toLayer(layerId: string, tab: ComposeTab): void {
  useCompose.setState({ seating: false });
  chooseLayer(layerId, tab);
}

/** The layer worked on: the one chosen, else the topmost. */
export function useChosenLayer(records: Records): LayerRecord | null {
  const layerId = useSession((s) => s.layerId);
  const layers = composedLayersOf(records);
  return layersOf(records).find((l) => l.id === layerId) ?? layers[layers.length - 1] ?? null;
}

/** The part of a mask worked on: the one chosen, else the last. */
export function chosenPart(layer: LayerRecord | null, partId: string | null): MaskPart | null {
  const parts = allParts(layer?.mask.parts ?? []).map((p) => p.part);
  return parts.find((p) => p.id === partId) ?? parts[parts.length - 1] ?? null;
}

/** Whether a layer may take something out of the picture by showing something else in its place. */
export const takesAway = ({ content }: LayerRecord): boolean => content.type === "frame" || content.type === "retouch";

/** A layer as it stands in the ledger, topmost first. */
export interface LedgerRow {
  layer: LayerRecord;
  depth: number;
}

export function ledgerRows(records: Records, parentId: string | null = null, depth = 0): LedgerRow[] {
  return [...childrenOf(records, parentId)].reverse().flatMap((layer) => [{ layer, depth }, ...ledgerRows(records, layer.id, depth + 1)]);
}

/** The job as if only one layer, with the groups it is in and what is in it, lay on the merge. */
export function alone(records: Records, layerId: string): Records {
  const shown = new Set<string>();
  for (let id: string | null = layerId; id; id = layerOf(records, id)?.parentId ?? null) shown.add(id);
  const inside = (id: string): void => childrenOf(records, id).forEach((l) => (shown.add(l.id), inside(l.id)));
  inside(layerId);
  return { ...records, ...Object.fromEntries(composedLayersOf(records).flatMap((l) => (shown.has(l.id) ? [] : [[l.id, { ...l, visible: false }]]))) };
}
