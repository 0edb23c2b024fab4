import { useRef, useState } from "react";
import { horizonEnds, stanceThrough } from "../../../core/seat/upright";
import type { SurfaceKind } from "../../../core/seat/scenery";
import type { ShadowMark } from "../../../core/seat/lightFromShadows";
import type { DrawnLine, LineKind } from "../../../core/seat/stanceByLines";
import { message } from "../../../messages/message";
import type { PlateLamp, SeatRecord } from "../../../document/records/plateTypes";
import type { Records } from "../../../document/records/types";
import { documentSize, layerOf } from "../../../document/selectors";
import { changeLamp } from "../../../document/lampEdits";
import { changeSeat, plateNow, pulledHorizon } from "../../../document/seatEdits";
import type { Edit } from "../../../document/edits";
import { showLive } from "../../../session/live";
import { edit } from "../../../session/openJob";
import { markDistance } from "../../../session/haze";
import { markLamp } from "../../../session/lamps";
import { drawLines, markBall, markShadows, markSun, markSurface } from "../../../session/seating";
import { useCompose, type PlateTool } from "../../../view/composeState";
import type { PicturePointer, PictureTool } from "../../../view/pictureTool";

/** A horizon that is taken hold of within this share of the width from a side turns about the other. */
const AT_A_SIDE = 0.25;
/** What a length is taken for until it is said, metres, and the shortest line, px. */
const A_METRE = 1;
const SHORTEST = 8;

/** Tools that are given places one by one, and how many. */
const PLACES: Partial<Record<PlateTool, number>> = { shadow: 3, pair: 2, wall: 2, raised: 4, water: 4 };

/** What is being drawn: a line, or the places of something so far; and by which tool, for another begins anew. */
export interface Drawn {
  by: PlateTool;
  line: DrawnLine | null;
  places: [number, number][];
}

const NOTHING: Drawn = { by: "none", line: null, places: [] };

/** Pulls the horizon, draws lines, marks shadows, or moves the foot of what is chosen; one step when the pen is lifted. */
export function useSeatTool(
  records: Records,
  seat: SeatRecord | null,
  lamp: PlateLamp | null,
  isDisabled: boolean,
): { tool: PictureTool | null; drawn: Drawn } {
  const { plateTool } = useCompose();
  const [held, setHeld] = useState<Drawn>(NOTHING);
  // places come faster than what is drawn of them
  const latest = useRef<Drawn>(NOTHING);
  const drawnSoFar = () => (latest.current.by === plateTool ? latest.current : NOTHING);
  const draw = (next: Partial<Drawn>) => {
    latest.current = { ...NOTHING, by: plateTool, ...next };
    setHeld(latest.current);
  };
  const start = useRef<{
    x: number;
    y: number;
    what: "left" | "right" | "horizon" | "foot" | "line" | "ball" | "places" | "sun" | "lamp" | "distance" | "moved" | "none";
  } | null>(null);
  const live = useRef<Edit | null>(null);
  const [size, plate] = [documentSize(records), plateNow(records)];
  const isFixed = seat !== null && plateTool === "none" && layerOf(records, seat.layerId)?.locked === true;
  if (isDisabled || isFixed || !size || !plate) return { tool: null, drawn: NOTHING };
  const { stance } = plate;
  const ends = horizonEnds(stance, size);
  const show = (change: Edit) => {
    live.current = change;
    showLive(change);
  };

  const grasp = ({ x }: PicturePointer) => {
    if (plateTool === "sun" || plateTool === "ball" || plateTool === "lamp" || plateTool === "distance") return plateTool;
    if (PLACES[plateTool]) return "places";
    if (plateTool !== "none" && plateTool !== "horizon") return "line";
    if (seat && plateTool === "none") return "foot";
    if (lamp && plateTool === "none") return "moved";
    if (plateTool !== "horizon") return "none";
    const share = x / (size.width - 1);
    return share < AT_A_SIDE ? "left" : share > 1 - AT_A_SIDE ? "right" : "horizon";
  };
  const pulled = (what: "left" | "right" | "horizon", from: { x: number; y: number }, to: PicturePointer): Edit => {
    const dy = to.y - from.y;
    const [a, b] = ends;
    const left: [number, number] = [a[0], a[1] + (what === "right" ? 0 : dy)];
    const right: [number, number] = [b[0], b[1] + (what === "left" ? 0 : dy)];
    const next = stanceThrough(left, right, stance.focalPx, size);
    return pulledHorizon(next);
  };

  const tool: PictureTool = {
    cursor: plateTool === "horizon" ? "ns-resize" : plateTool === "none" ? "move" : "crosshair",
    down: (p) => {
      const what = grasp(p);
      start.current = { x: p.x, y: p.y, what };
      if (what === "foot" && seat) show(changeSeat(seat.id, { foot: { x: p.x, y: p.y } }));
      if (what === "moved" && lamp) show(changeLamp(lamp.id, { x: p.x, y: p.y }));
      if (what === "ball" || what === "lamp") draw({ places: [[p.x, p.y]] });
      if (what === "places") draw({ places: [...drawnSoFar().places, [p.x, p.y]] });
    },
    move: (list) => {
      const [from, to] = [start.current, list.at(-1)];
      if (!from || !to) return;
      if (from.what === "foot" && seat) show(changeSeat(seat.id, { foot: { x: to.x, y: to.y } }));
      else if (from.what === "moved" && lamp) show(changeLamp(lamp.id, { x: to.x, y: to.y }));
      else if (from.what === "line") draw({ line: { is: plateTool as LineKind, x0: from.x, y0: from.y, x1: to.x, y1: to.y, metres: metresOf(plateTool) } });
      else if (from.what === "ball" || from.what === "lamp")
        draw({
          places: [
            [from.x, from.y],
            [to.x, to.y],
          ],
        });
      else if (from.what === "places") draw({ places: [...drawnSoFar().places.slice(0, -1), [to.x, to.y]] });
      else if (from.what === "left" || from.what === "right" || from.what === "horizon") show(pulled(from.what, from, to));
    },
    up: () => {
      const from = start.current;
      const change = live.current;
      start.current = live.current = null;
      showLive(null);
      if (from?.what === "foot" && seat && change) {
        edit(change, { stage: "compose", label: message("step.seatMoved", { name: layerOf(records, seat.layerId)?.name ?? "" }) });
      } else if (change) edit(change, { stage: "compose", label: from?.what === "moved" ? "step.lampMoved" : "step.horizonPulled" });
      if (from?.what === "sun") markSun(from.x, from.y);
      if (from?.what === "distance") markDistance(from.x, from.y);
      const { line, places } = drawnSoFar();
      if (from?.what === "line") {
        draw({});
        if (line && Math.hypot(line.x1 - line.x0, line.y1 - line.y0) >= SHORTEST) drawLines([...plate.lines, line]);
      }
      if (from?.what === "ball") {
        draw({});
        const [middle, rim] = places;
        if (rim && Math.hypot(rim[0] - middle[0], rim[1] - middle[1]) >= SHORTEST) void markBall(middle, rim);
      }
      if (from?.what === "lamp") {
        draw({});
        const [middle, rim] = places;
        const radius = rim ? Math.hypot(rim[0] - middle[0], rim[1] - middle[1]) : 0;
        const lampId = markLamp("lamp", from.x, from.y, radius >= SHORTEST / 4 ? radius : null);
        if (lampId) useCompose.setState({ lampId, seatId: null, plateTool: "none" });
      }
      if (from?.what === "places" && places.length === PLACES[plateTool]) {
        draw({});
        if (plateTool === "shadow" || plateTool === "pair") {
          const [top, tip] = places.slice(-2);
          // without its foot a top tells with its tip only where the light may be
          const mark: ShadowMark = { foot: plateTool === "pair" ? null : places[0], top, tip };
          markShadows([...plate.shadows, mark]);
        } else markSurface(plateTool as SurfaceKind, places);
      }
    },
  };
  return { tool: plateTool === "none" && !seat && !lamp ? null : tool, drawn: held.by === plateTool ? held : NOTHING };
}

const metresOf = (tool: string): number => (tool === "length" || tool === "height" ? A_METRE : 0);
