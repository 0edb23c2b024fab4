"use client";
import { useEffect, useRef, useState } from "react";
import styled from "styled-components";
import { levelOfSide, sizeAtLevel } from "../core/geometry/rectangle";
import { updateLayer } from "../document/layerEdits";
import { freshMask, type LayerRecord } from "../document/records/layerTypes";
import type { Records } from "../document/records/types";
import { documentSize, layerOf, layersOf, mergeOf, registrationOf, strokesOf } from "../document/selectors";
import { allParts } from "../kinds/maskParts/records";
import { ask } from "../session/openJob";
import { report } from "../session/store";
import { tokens } from "../ui/tokens/tokens";
import { isCancelled } from "../workers/client/EngineClient";

/** Samples along its longer side, and px it is shown at. */
const SAMPLES = 72;
const SHOWN = 36;
/** It is drawn once the hand has rested so long, ms. */
const PAUSE_MS = 500;

const Small = styled.canvas`
  display: block;
  flex: none;
  border: 1px solid ${tokens.lineStrong};
  background: ${tokens.line};
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
    if (!size) return;
    const controller = new AbortController();
    const level = levelOfSide(size, SAMPLES);
    const rect = { x: 0, y: 0, ...sizeAtLevel(size.width, size.height, level) };
    const draw = () =>
      ask(
        "renderRect",
        { records: partAlone(latest.current, layerId, partId), view: { kind: "mask", layerId, as: "alone" }, level, rect, space: "srgb" },
        { signal: controller.signal },
      ).then(
        ({ rgba, rect: drawn }) => {
          const target = canvas.current;
          if (!target || controller.signal.aborted) return;
          Object.assign(target, { width: drawn.width, height: drawn.height });
          target.getContext("2d")?.putImageData(new ImageData(rgba, drawn.width, drawn.height), 0, 0);
        },
        (error) => isCancelled(error) || report(error),
      );
    const timer = setTimeout(() => void draw(), PAUSE_MS);
    return () => {
      clearTimeout(timer);
      controller.abort();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the size is told by what is shown
  }, [changed, layerId, partId]);
  if (!size) return null;
  const scale = SHOWN / Math.max(size.width, size.height);
  return <Small ref={canvas} aria-hidden style={{ width: Math.round(size.width * scale), height: Math.round(size.height * scale) }} />;
}

const partOf = (layer: LayerRecord | undefined, partId: string | null) => allParts(layer?.mask.parts ?? []).find(({ part }) => part.id === partId)?.part;

/** The job with a mask of one of its parts; the same where no part is asked for. */
function partAlone(records: Records, layerId: string, partId: string | null): Records {
  const part = partOf(layerOf(records, layerId), partId);
  return part ? updateLayer(layerId, { mask: freshMask(0, [{ ...part, combine: "add" }]) })(records) : records;
}

/** All that a mask, or a part of it, is made of: records are never changed in place, so the same objects are the same mask. */
export function whatItShows(records: Records, layerId: string, partId: string | null): unknown[] {
  const layer = layerOf(records, layerId);
  const part = partOf(layer, partId);
  const shown = part ? [{ part, depth: 0 }] : allParts(layer?.mask.parts ?? []);
  const follows = shown.some((p) => p.part.kind === "link");
  const others = follows ? layersOf(records).flatMap((l) => [l.mask, ...strokesOf(records, l.id)]) : [];
  const strokes = strokesOf(records, layerId).filter((s) => !part || s.partId === part.id);
  return [part ?? layer?.mask, ...strokes, mergeOf(records), registrationOf(records), ...others];
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
