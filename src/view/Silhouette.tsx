"use client";
import { useEffect, useMemo, useRef, useState } from "react";
import styled from "styled-components";
import { filledPath, type CellRuns } from "../core/masks/cellRuns";
import type { LayerRecord } from "../document/records/layerTypes";
import type { Records } from "../document/records/types";
import { documentSize, exposuresOf, framesOf, ghostsOf, layerOf, layersOf, mergeOf, panoramaOf, registrationOf, strokesOf } from "../document/selectors";
import { allParts } from "../kinds/maskParts/records";
import { ask } from "../session/openJob";
import { report } from "../session/store";
import { tokens } from "../ui/tokens/tokens";
import { isCancelled } from "../workers/client/EngineClient";

/** Samples along its longer side, and px it is shown at. */
const SAMPLES = 72;
const SHOWN = 36;
/** Cells of a grid, beside which many figures stand, px. */
const SHOWN_CELLS = 26;
/** It is drawn once the hand has rested so long, ms. */
const PAUSE_MS = 500;

const Small = styled.canvas`
  display: block;
  flex: none;
  border: 1px solid ${tokens.lineStrong};
  background: ${tokens.line};
`;

const SmallCells = styled.svg`
  display: block;
  flex: none;
  border: 1px solid ${tokens.lineStrong};
  background: #000;
`;

/** A silhouette beside what it is of. */
export const Acting = styled.div`
  display: flex;
  align-items: center;
  gap: 6px;
`;

/** Where a layer acts, or a part of its mask alone, very small: white where it reveals, black where it conceals. */
export function Silhouette({ records, layerId, partId = null }: { records: Records; layerId: string; partId?: string | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = documentSize(records);
  const changed = useSame(whatItShows(records, layerId, partId));
  const latest = useRef(records);
  useEffect(() => {
    latest.current = records;
  });
  useEffect(() => {
    const controller = new AbortController();
    const draw = () =>
      ask("maskShape", { records: latest.current, layerId, partId, side: SAMPLES }, { signal: controller.signal }).then(
        ({ width, height, values }) => {
          const target = canvas.current;
          if (!target || controller.signal.aborted) return;
          Object.assign(target, { width, height });
          const rgba = Uint8ClampedArray.from({ length: 4 * values.length }, (_, i) => (i % 4 === 3 ? 255 : values[i >> 2]));
          target.getContext("2d")?.putImageData(new ImageData(rgba, width, height), 0, 0);
        },
        (error) => isCancelled(error) || report(error),
      );
    const timer = setTimeout(() => void draw(), PAUSE_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
  }, [changed, layerId, partId]);
  if (!size) return null;
  const scale = SHOWN / Math.max(size.width, size.height);
  return <Small ref={canvas} aria-hidden style={{ width: Math.round(size.width * scale), height: Math.round(size.height * scale) }} />;
}

/** Where cells of a grid lie, very small: white where they are. */
export function CellSilhouette({ runs, columns, rows }: { runs: CellRuns; columns: number; rows: number }) {
  const path = useMemo(() => filledPath(runs), [runs]);
  const scale = SHOWN_CELLS / Math.max(columns, rows);
  return (
    <SmallCells aria-hidden viewBox={`0 0 ${columns} ${rows}`} width={Math.round(columns * scale)} height={Math.round(rows * scale)}>
      <path d={path} fill="#fff" />
    </SmallCells>
  );
}

const partOf = (layer: LayerRecord | undefined, partId: string | null) => allParts(layer?.mask.parts ?? []).find(({ part }) => part.id === partId)?.part;

/** All that a mask, or a part of it, is made of: records are never changed in place, so the same objects are the same mask. */
export function whatItShows(records: Records, layerId: string, partId: string | null): unknown[] {
  const layer = layerOf(records, layerId);
  const part = partOf(layer, partId);
  const shown = part ? [{ part, depth: 0 }] : allParts(layer?.mask.parts ?? []);
  const follows = shown.some((p) => p.part.kind === "link");
  const others = follows ? layersOf(records).flatMap((l) => [l.mask, ...strokesOf(records, l.id)]) : [];
  const strokes = strokesOf(records, layerId).filter((s) => !part || s.partId === part.id);
  // what is measured in the merge or a frame goes with how frames lie, are developed and exposed, and with what is taken where things moved
  const pictures = [mergeOf(records), registrationOf(records), panoramaOf(records), exposuresOf(records), ...ghostsOf(records), ...framesOf(records)];
  return [part ?? layer?.mask, ...strokes, ...pictures, ...others];
}

/** A list that stays the same object while what is in it does. */
function useSame(list: unknown[]): unknown[] {
  const [same, setSame] = useState(list);
  if (same !== list && (same.length !== list.length || same.some((v, i) => v !== list[i]))) {
    setSame(list);
    return list;
  }
  return same;
}
