import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Records } from "../document/records/types";
import type { ViewSpec } from "../engine/operations/view/ViewSpec";
import { openJobOrNone } from "../session/openJob";
import { report } from "../session/store";
import { TileBuffer } from "./TileBuffer";
import { levelFor, visibleRect, type Viewport } from "./viewport";
import { ViewScheduler } from "./ViewScheduler";
import type { ScreenSpace } from "../engine/operations/view/ViewSpec";

export interface Pane {
  view: ViewSpec;
  records: Records;
  label: string;
}

interface Target {
  panes: Pane[];
  viewport: Viewport;
  size: { width: number; height: number };
  ratio: number;
}

/** A quick picture may take so long to draw, ms; what would take longer is drawn coarser. */
const QUICK_MS = 20;
/** What a sample of an exact picture costs until it has been measured, ms. */
const FIRST_GUESS = 3e-4;
/** Pictures of fewer samples say little about the cost of one. */
const TELLING = 4_000;

/** Pictures that were looked at for so long, ms, are kept to be flipped back to at once, and so many of them. */
const RESTING_MS = 150;
const MOST_KEPT = 6;

let serials = 0;
const serial = new WeakMap<Records, number>();
/** What a pane shows. */
function keyOf({ view, records }: Pane): string {
  const known = serial.get(records) ?? ++serials;
  serial.set(records, known);
  return `${JSON.stringify(view)}#${known}`;
}

export const screenSpace = (): ScreenSpace => (globalThis.matchMedia?.("(color-gamut: p3)").matches ? "display-p3" : "srgb");

/** Draws panes through the engine. @returns what is shown of each pane, by place, and whether all of it is exact; `onDrawn` is called with each new picture */
export function usePanes(panes: Pane[], viewport: Viewport, size: { width: number; height: number }, ratio: number, onDrawn: () => void) {
  const buffers = useRef<(TileBuffer | null)[]>([]);
  const [exact, setExact] = useState(false);
  const drawn = useRef(onDrawn);
  useLayoutEffect(() => {
    drawn.current = onDrawn;
  }, [onDrawn]);
  const scheduler = useRef<ViewScheduler<Target> | null>(null);
  const cost = useRef(FIRST_GUESS);
  const pictures = useRef(new Map<string, TileBuffer>());

  const drawPane = useCallback(async (target: Target, i: number, pass: "quick" | "exact", signal: AbortSignal): Promise<boolean> => {
    const pane = target.panes[i];
    const job = openJobOrNone();
    const level = levelFor(target.viewport, target.size, target.ratio);
    const rect = visibleRect(target.viewport, target.size, level);
    if (!job || rect.width === 0 || rect.height === 0) return true;
    const before = buffers.current[i] ?? null;
    const rendered = await job.ask(
      "renderView",
      {
        records: pane.records,
        view: pane.view,
        level,
        rect,
        space: screenSpace(),
        held: before && { level: before.level, rect: before.rect, keys: before.keys },
        atMost: pass === "quick" ? Math.round(QUICK_MS / cost.current) : null,
      },
      { signal },
    );
    const samples = rendered.pieces.reduce((sum, p) => sum + p.rect.width * p.rect.height, 0);
    if (samples > TELLING) cost.current += 0.3 * (rendered.tookMs / samples - cost.current);
    // another job's picture was asked for meanwhile, or panes were put otherwise
    if (signal.aborted || rendered.rect.width === 0) return false;
    buffers.current[i] = TileBuffer.of(rendered, before, screenSpace());
    drawn.current();
    return rendered.isExact && rendered.level === level && pane.view.kind !== "coarse";
  }, []);

  const latest = useRef<Target | null>(null);
  useEffect(() => {
    let keeping: ReturnType<typeof setTimeout> | null = null;
    const keep = (shown: Pane[]) =>
      shown.forEach((pane, i) => {
        const buffer = buffers.current[i];
        if (!buffer) return;
        buffer.frozen = true;
        pictures.current.delete(keyOf(pane));
        pictures.current.set(keyOf(pane), buffer);
        for (const key of [...pictures.current.keys()].slice(0, -MOST_KEPT)) pictures.current.delete(key);
      });
    const made = new ViewScheduler<Target>({
      draw: async (target, pass, signal) => {
        let all = true;
        for (let i = 0; i < target.panes.length; i++) all = (await drawPane(target, i, pass, signal)) && all;
        buffers.current.length = target.panes.length;
        return all;
      },
      onExact: (all) => {
        setExact(all);
        if (keeping) clearTimeout(keeping);
        keeping = all && latest.current ? setTimeout(keep, RESTING_MS, latest.current.panes) : null;
      },
      onError: report,
    });
    scheduler.current = made;
    return () => {
      made.end();
      if (keeping) clearTimeout(keeping);
    };
  }, [drawPane]);

  const views = panes.map((p) => JSON.stringify(p.view)).join("|");
  const records = panes.map((p) => p.records);
  useEffect(() => {
    if (viewport.width === 0 || viewport.height === 0 || size.width === 0) return;
    const shown = panes.map((pane, i) => pictures.current.get(keyOf(pane)) ?? buffers.current[i] ?? null);
    if (shown.some((buffer, i) => buffer !== (buffers.current[i] ?? null))) {
      buffers.current = shown;
      drawn.current();
    }
    latest.current = { panes, viewport, size, ratio };
    scheduler.current?.want(latest.current);
    // panes are compared by what they show
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [views, records[0], records[1], panes.length, viewport, size.width, size.height, ratio]);
  return { buffers, exact };
}
