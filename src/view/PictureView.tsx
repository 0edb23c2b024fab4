"use client";
import { sentence } from "../messages/sentence";
import { message } from "../messages/message";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import styled from "styled-components";
import type { Records } from "../document/records/types";
import { useLive } from "../session/live";
import { SURROUNDS, tokens } from "../ui/tokens/tokens";
import { hoverEnds, hoverOver, speakOf } from "./hover";
import { BandLegend, filterOf, JudgingFilters, JudgingMenu } from "./Judging";
import { isSwitchedOff } from "./keys";
import { paintPanes } from "./paintPanes";
import { Touches, type TouchEffects } from "./Touches";
import type { PicturePointer, PictureTool } from "./pictureTool";
import { useMiddlePointer } from "./useMiddlePointer";
import { screenSpace, usePanes, type Pane } from "./usePanes";
import { fitScale, toPicture, toScreen, turned, zoomAt, type Viewport } from "./viewport";
import { useView } from "./viewState";

/** What is drawn over. */
export interface PictureShown {
  /** px of the picture to px of the view */
  toScreen(x: number, y: number): [number, number];
  scale: number;
  pane: 0 | 1;
  /** the job as it is shown, with what a control that is dragged makes of it */
  records: Records;
}

interface Props {
  panes: Pane[];
  arrangement: "single" | "split" | "side";
  size: { width: number; height: number };
  tool?: PictureTool | null;
  /** whether it shows at once what a control that is dragged would make of the job */
  live?: boolean;
  /** may be turned on the screen */
  turnable?: boolean;
  /** drawn over the picture; side by side once for each */
  overlay?: (on: PictureShown) => ReactNode;
  name: string;
}

const Frame = styled.div`
  position: relative;
  flex: 1;
  min-height: 0;
  overflow: hidden;
  touch-action: none;
  > canvas,
  > svg {
    position: absolute;
    inset: 0;
    width: 100%;
    height: 100%;
  }
  svg {
    pointer-events: none;
  }
  &:not(:focus-visible) [data-middle] {
    visibility: hidden;
  }
`;
/** The picture, and beside it what may be pressed: nothing within a picture may. */
const Around = styled.div`
  position: relative;
  flex: 1;
  min-height: 0;
  min-width: 0;
  display: flex;
`;
const Corner = styled.div`
  position: absolute;
  bottom: 6px;
  right: 8px;
  display: flex;
  align-items: center;
  gap: 6px;
`;
const Tag = styled.span`
  pointer-events: none;
  padding: 1px 6px;
  background: ${tokens.panel};
  font-family: ${tokens.condensed};
  font-size: ${tokens.size.small};
`;
const PaneTag = styled(Tag)`
  position: absolute;
  top: 8px;
`;

/** The other end of a pen, as a button and among the buttons held. @see W3C Pointer Events Level 3, section 4.1.1 */
const ERASER = 5;
const ERASER_HELD = 32;

/** The picture: drawn quickly while it changes, then exactly at the level shown; wheel zooms, drag moves, a tool may take the pointer. */
export function PictureView({ panes: asked, arrangement, size, tool, overlay, turnable, name, live }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const ringAt = useRef<SVGGElement>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  const [split, setSplit] = useState(0.5);
  const { zoom, cx, cy, turnDeg, surround, judged, jump } = useView();
  const angle = turnable ? (turnDeg * Math.PI) / 180 : 0;
  const ratio = globalThis.devicePixelRatio || 1;
  const edit = useLive((s) => (live ? s.edit : null));
  const panes = useMemo(() => (edit ? asked.map((pane) => ({ ...pane, records: edit(pane.records) })) : asked), [asked, edit]);

  const paneWidth = arrangement === "side" ? Math.floor(box.width / 2) : box.width;
  const viewport: Viewport = useMemo(() => {
    const fit = zoom === "fit";
    return {
      width: paneWidth,
      height: box.height,
      scale: fit ? fitScale(size, paneWidth, box.height) : zoom,
      cx: fit ? size.width / 2 : (cx ?? size.width / 2),
      cy: fit ? size.height / 2 : (cy ?? size.height / 2),
      angle,
    };
  }, [zoom, cx, cy, angle, size, paneWidth, box.height]);

  useLayoutEffect(() => {
    const element = frame.current!;
    const observer = new ResizeObserver(() => setBox({ width: element.clientWidth, height: element.clientHeight }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);

  useEffect(() => {
    if (jump) useView.setState({ zoom: 1 / ratio, cx: jump.x, cy: jump.y });
  }, [jump, ratio]);

  const paint = useRef(() => {});
  const { buffers, exact } = usePanes(panes, viewport, size, ratio, () => paint.current());
  useLayoutEffect(() => {
    paint.current = () => {
      if (!canvas.current || box.width === 0) return;
      const shown = panes.map((_, i) => buffers.current[i] ?? null);
      // what is judged is the picture, not what is around it
      const look = { surround: judged === "colour" ? SURROUNDS[surround] : "transparent", split, space: screenSpace() };
      paintPanes(canvas.current, { buffers: shown, arrangement, viewport, box, paneWidth, ratio, ...look });
    };
    paint.current();
  }, [panes, buffers, arrangement, viewport, box, paneWidth, ratio, surround, judged, split]);

  const place = (event: { clientX: number; clientY: number }): [number, number] => {
    const bounds = frame.current!.getBoundingClientRect();
    const x = event.clientX - bounds.left;
    return [arrangement === "side" && x > paneWidth ? x - paneWidth : x, event.clientY - bounds.top];
  };
  const picturePoint = (event: { clientX: number; clientY: number; buttons?: number; pressure?: number; pointerType?: string }): PicturePointer => {
    const [x, y] = toPicture(viewport, ...place(event));
    // pixel centres are integers
    const pane = arrangement === "side" && event.clientX - frame.current!.getBoundingClientRect().left > paneWidth ? 1 : 0;
    return {
      x: x - 0.5,
      y: y - 0.5,
      pane,
      eraser: ((event.buttons ?? 0) & ERASER_HELD) > 0,
      pressure: event.pointerType === "pen" ? Math.max(0.02, event.pressure ?? 1) : 1,
    };
  };

  const zoomTo = (next: Viewport) => useView.setState({ zoom: next.scale, cx: next.cx, cy: next.cy });
  const pan = (dx: number, dy: number) => {
    const [x, y] = turned(dx, dy, -viewport.angle);
    zoomTo({ ...viewport, cx: viewport.cx - x / viewport.scale, cy: viewport.cy - y / viewport.scale });
  };
  const canWork = tool != null && (arrangement === "single" || (arrangement === "side" && tool.beside === true));
  const fingers = useRef<TouchEffects>(null!);
  useLayoutEffect(() => {
    fingers.current = {
      begin: (at) => tool?.down(picturePoint(at)),
      work: (to) => tool?.move?.([picturePoint(to)]),
      end: () => tool?.up?.(),
      pan,
      point: (at) => {
        const p = picturePoint(at);
        hoverOver(p.x, p.y);
      },
      pinch: (clientX, clientY, dx, dy, factor) => {
        const [x, y] = turned(dx, dy, -viewport.angle);
        const moved = { ...viewport, cx: viewport.cx - x / viewport.scale, cy: viewport.cy - y / viewport.scale };
        zoomTo(zoomAt(moved, ...place({ clientX, clientY }), factor));
      },
    };
  });
  const [touches] = useState(
    () =>
      new Touches({
        begin: (at) => fingers.current.begin(at),
        work: (to) => fingers.current.work(to),
        end: () => fingers.current.end(),
        pan: (dx, dy) => fingers.current.pan(dx, dy),
        point: (at) => fingers.current.point(at),
        pinch: (...values) => fingers.current.pinch(...values),
      }),
  );

  const button = useMiddlePointer(canWork ? tool : null, { x: viewport.cx - 0.5, y: viewport.cy - 0.5 });
  const onKey = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 0.5 : 0.1;
    const [width, height] = [step * paneWidth, step * box.height];
    const act: Record<string, () => void> = {
      ArrowLeft: () => pan(width, 0),
      ArrowRight: () => pan(-width, 0),
      ArrowUp: () => pan(0, height),
      ArrowDown: () => pan(0, -height),
      "+": () => zoomTo(zoomAt(viewport, paneWidth / 2, box.height / 2, 1.25)),
      "-": () => zoomTo(zoomAt(viewport, paneWidth / 2, box.height / 2, 0.8)),
      Enter: () => speakOf(viewport.cx - 0.5, viewport.cy - 0.5),
    };
    if (event.ctrlKey || event.metaKey || event.altKey || isSwitchedOff(event)) return;
    if (!button.down(event) && !act[event.key]) return;
    event.preventDefault();
    event.stopPropagation();
    act[event.key]?.();
  };

  const onDown = (event: PointerEvent) => {
    if (event.pointerType === "pen") touches.pen(event.timeStamp);
    const pointing = event.button === 0 || event.button === ERASER;
    if (event.button > 1 && !pointing) return;
    frame.current!.setPointerCapture(event.pointerId);
    const [x, y] = place(event);
    if (arrangement === "split" && Math.abs(x - split * box.width) < (event.pointerType === "touch" ? 20 : 8)) {
      drag.current = { x: NaN, y: 0, moved: true };
      return;
    }
    if (event.pointerType === "touch") {
      touches.down(event, canWork);
      return;
    }
    if (tool && pointing && canWork) {
      tool.down(picturePoint(event));
      return;
    }
    drag.current = { x, y, moved: false };
  };
  const onMove = (event: PointerEvent) => {
    if (event.pointerType === "touch" && !drag.current) {
      touches.move(event);
      return;
    }
    if (event.pointerType === "pen") touches.pen(event.timeStamp);
    const [x, y] = place(event);
    // the ring follows without anything being rendered anew
    ringAt.current?.setAttribute("transform", `translate(${x} ${y})`);
    ringAt.current?.setAttribute("visibility", "visible");
    const p = picturePoint(event);
    hoverOver(p.x, p.y);
    if (drag.current && Number.isNaN(drag.current.x)) setSplit(Math.min(0.95, Math.max(0.05, x / box.width)));
    else if (drag.current) {
      const { x: fromX, y: fromY } = drag.current;
      drag.current = { x, y, moved: true };
      pan(x - fromX, y - fromY);
    } else if (tool?.move && event.buttons & (1 | ERASER_HELD)) {
      const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
      tool.move((events.length ? events : [event.nativeEvent]).map(picturePoint));
    }
  };
  const onUp = (event: PointerEvent) => {
    if (drag.current) drag.current = null;
    else if (event.pointerType === "touch") touches.up(event.pointerId);
    else tool?.up?.();
  };

  useEffect(() => {
    const element = frame.current!;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      zoomTo(zoomAt(viewport, ...place(event), Math.exp(-event.deltaY * 0.0015)));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  });

  const shownIn = (pane: 0 | 1): PictureShown => ({
    toScreen: (x, y) => toScreen(viewport, x, y),
    scale: viewport.scale,
    pane,
    records: (panes[pane] ?? panes[0]).records,
  });
  const ring = tool?.ring ? (tool.ring * viewport.scale) / 2 : null;
  return (
    <Around>
      <Frame
        ref={frame}
        role="img"
        aria-label={sentence(message("view/arrowsMovePlusMinus", { name }))}
        tabIndex={0}
        onKeyDown={onKey}
        onKeyUp={button.up}
        onBlur={button.release}
        // pointing at it takes the keys from a field, and does not give them to the picture, where the tools have them
        onMouseDown={(e) => {
          e.preventDefault();
          (document.activeElement as HTMLElement | null)?.blur();
        }}
        data-exact={exact}
        style={{ background: SURROUNDS[surround], cursor: tool?.cursor ?? "default" }}
        onPointerDown={onDown}
        onPointerMove={onMove}
        onPointerUp={onUp}
        onPointerCancel={onUp}
        onPointerLeave={() => {
          hoverEnds();
          ringAt.current?.setAttribute("visibility", "hidden");
        }}
      >
        {judged !== "colour" && <JudgingFilters />}
        <canvas ref={canvas} style={{ filter: filterOf(judged) }} />
        <svg aria-hidden="true">
          {arrangement === "single" && overlay?.(shownIn(0))}
          {arrangement === "side" &&
            overlay &&
            ([0, 1] as const).map((pane) => (
              <svg key={pane} x={pane * paneWidth} width={paneWidth} height={box.height} style={{ overflow: "hidden" }}>
                {overlay(shownIn(pane))}
              </svg>
            ))}
          {canWork && (
            <g data-middle fill="none" transform={`translate(${Math.round(paneWidth / 2)} ${Math.round(box.height / 2)})`}>
              {(["#000", "#fff"] as const).map((stroke, i) => (
                <path key={stroke} d="M-18 0h12M6 0h12M0 -18v12M0 6v12" stroke={stroke} strokeWidth={4 - 2 * i} />
              ))}
            </g>
          )}
          {ring !== null && (
            <g ref={ringAt} fill="none" visibility="hidden">
              <circle r={ring} stroke="#000" strokeWidth="1" />
              <circle r={Math.max(0.5, ring - 1)} stroke="#fff" strokeWidth="1" />
            </g>
          )}
        </svg>
        {arrangement !== "single" &&
          panes.map((pane, i) => (
            <PaneTag
              key={pane.label + i}
              style={{ left: i === 0 ? 8 : arrangement === "side" ? paneWidth + 8 : "auto", right: i === 1 && arrangement === "split" ? 8 : "auto" }}
            >
              {pane.label}
            </PaneTag>
          ))}
      </Frame>
      <BandLegend />
      <Corner>
        <JudgingMenu />
        <Tag data-scale>
          {exact ? sentence("view/exact") : sentence("view/coarse")} · {Math.round(viewport.scale * ratio * 100)} %
        </Tag>
      </Corner>
    </Around>
  );
}
