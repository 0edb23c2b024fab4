import { useRef, useState } from "react";
import { horizonEnds, stanceThrough } from "../../../core/seat/upright";
import type { ShadowMark } from "../../../core/seat/lightFromShadows";
import type { DrawnLine, LineKind } from "../../../core/seat/stanceByLines";
import { message } from "../../../messages/message";
import type { SeatRecord } from "../../../document/records/plateTypes";
import type { Records } from "../../../document/records/types";
import { documentSize, layerOf } from "../../../document/selectors";
import { changeSeat, tellPlate } from "../../../document/seatEdits";
import type { Edit } from "../../../document/edits";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { drawLines, markShadows, plateNow } from "../../../session/seating";
import { useCompose } from "../../../view/composeState";
import type { PicturePointer, PictureTool } from "../../../view/PictureView";

/** A handle is taken hold of within this share of the picture's longer side. */
const HOLD = 0.03;
/** What a length is taken for until it is said, metres, and the shortest line, px. */
const A_METRE = 1;
const SHORTEST = 8;
/** How sure a horizon is that a hand pulled, degrees (1 standard deviation). Common practice, no source. */
const PULLED_SIGMA_DEG = 0.5;

/** What is being drawn: a line, or the places of a shadow so far. */
export interface Drawn {
  line: DrawnLine | null;
  shadow: [number, number][];
}

const NOTHING: Drawn = { line: null, shadow: [] };

/** Pulls the horizon, draws lines, marks shadows, or moves the foot of what is chosen; one step when the pen is lifted. */
export function useSeatTool(records: Records, seat: SeatRecord | null, isDisabled: boolean): { tool: PictureTool | null; drawn: Drawn } {
  const { plateTool } = useCompose();
  const [drawn, setDrawn] = useState<Drawn>(NOTHING);
  const start = useRef<{ x: number; y: number; what: "left" | "right" | "horizon" | "foot" | "line" | "shadow" | "none" } | null>(null);
  const live = useRef<Edit | null>(null);
  const [size, plate] = [documentSize(records), plateNow(records)];
  if (isDisabled || !size || !plate) return { tool: null, drawn: NOTHING };
  const { stance } = plate;
  const ends = horizonEnds(stance, size);
  const show = (change: Edit) => {
    live.current = change;
    showLive(change);
  };

  const grasp = ({ x, y }: PicturePointer) => {
    if (plateTool === "shadow") return "shadow";
    if (plateTool !== "none" && plateTool !== "horizon") return "line";
    if (seat && plateTool === "none") return "foot";
    if (plateTool !== "horizon") return "none";
    const near = HOLD * Math.max(size.width, size.height);
    const share = x / (size.width - 1);
    const line = ends[0][1] + share * (ends[1][1] - ends[0][1]);
    if (Math.abs(y - line) > 3 * near) return "horizon";
    return share < 0.25 ? "left" : share > 0.75 ? "right" : "horizon";
  };
  const pulled = (what: "left" | "right" | "horizon", from: { x: number; y: number }, to: PicturePointer): Edit => {
    const dy = to.y - from.y;
    const [a, b] = ends;
    const left: [number, number] = [a[0], a[1] + (what === "right" ? 0 : dy)];
    const right: [number, number] = [b[0], b[1] + (what === "left" ? 0 : dy)];
    const next = stanceThrough(left, right, stance.focalPx, size);
    return tellPlate({ stance: next, horizonBy: "hand", horizonSigmaDeg: PULLED_SIGMA_DEG, vanishing: [] });
  };

  const tool: PictureTool = {
    cursor: plateTool === "none" && !seat ? "default" : plateTool === "horizon" ? "ns-resize" : seat && plateTool === "none" ? "move" : "crosshair",
    down: (p) => {
      const what = grasp(p);
      start.current = { x: p.x, y: p.y, what };
      if (what === "foot" && seat) show(changeSeat(seat.id, { foot: { x: p.x, y: p.y } }));
      if (what === "shadow") setDrawn((d) => ({ line: null, shadow: [...d.shadow, [p.x, p.y]] }));
    },
    move: (list) => {
      const [from, to] = [start.current, list.at(-1)];
      if (!from || !to) return;
      if (from.what === "foot" && seat) show(changeSeat(seat.id, { foot: { x: to.x, y: to.y } }));
      else if (from.what === "line")
        setDrawn({ line: { is: plateTool as LineKind, x0: from.x, y0: from.y, x1: to.x, y1: to.y, metres: metresOf(plateTool) }, shadow: [] });
      else if (from.what === "shadow") setDrawn((d) => ({ line: null, shadow: [...d.shadow.slice(0, -1), [to.x, to.y]] }));
      else if (from.what !== "none" && from.what !== "foot") show(pulled(from.what, from, to));
    },
    up: () => {
      const from = start.current;
      const change = live.current;
      start.current = live.current = null;
      showLive(null);
      if (from?.what === "foot" && seat && change) {
        edit(change, { stage: "compose", label: message("step.seatMoved", { name: layerOf(records, seat.layerId)?.name ?? "" }) });
      } else if (change) edit(change, { stage: "compose", label: "step.horizonPulled" });
      const { line, shadow } = drawn;
      if (from?.what === "line") {
        setDrawn(NOTHING);
        if (line && Math.hypot(line.x1 - line.x0, line.y1 - line.y0) >= SHORTEST) drawLines([...plate.lines, line]);
      }
      if (from?.what === "shadow" && shadow.length === 3) {
        setDrawn(NOTHING);
        const [foot, top, tip] = shadow;
        markShadows([...plate.shadows, { foot, top, tip } satisfies ShadowMark]);
      }
    },
  };
  return { tool: plateTool === "none" && !seat ? null : tool, drawn };
}

const metresOf = (tool: string): number => (tool === "length" || tool === "height" ? A_METRE : 0);
