"use client";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState, type PointerEvent, type ReactNode } from "react";
import styled from "styled-components";
import type { Rectangle } from "../core/geometry/rectangle";
import type { Records } from "../document/records/types";
import type { ScreenSpace } from "../engine/operations/view/renderView";
import type { ViewSpec } from "../engine/operations/view/ViewSpec";
import { engine } from "../session/engine";
import { report } from "../session/session";
import { SURROUNDS, tokens } from "../ui/tokens/tokens";
import { isCancelled } from "../workers/client/EngineClient";
import { fitScale, levelFor, toPicture, toScreen, turned, visibleRect, zoomAt, type Viewport } from "./viewport";
import { useView } from "./viewState";

export interface Pane {
  view: ViewSpec;
  records: Records;
  label: string;
}

export interface PicturePointer {
  x: number;
  y: number;
  pressure: number;
  /** whether it is the other end of a pen */
  eraser: boolean;
  /** 0, or 1 for the right one of two pictures side by side */
  pane: 0 | 1;
}

/** What a tool may do on the picture; without one a drag moves the picture. */
export interface PictureTool {
  cursor: string;
  /** diameter of a ring drawn at the pointer, picture px */
  ring?: number;
  /** works side by side too */
  beside?: boolean;
  down(p: PicturePointer): void;
  move?(p: PicturePointer[]): void;
  up?(): void;
}

interface Props {
  panes: Pane[];
  arrangement: "single" | "split" | "side";
  size: { width: number; height: number };
  tool?: PictureTool | null;
  /** may be turned on the screen */
  turnable?: boolean;
  /** only this part of the picture changed with the latest records, picture px */
  dirty?: Rectangle | null;
  /** drawn over the picture; side by side once for each */
  overlay?: (toScreenPx: (x: number, y: number) => [number, number], scale: number, pane: 0 | 1) => ReactNode;
  onHover?: (x: number, y: number) => void;
  name: string;
}

interface Buffer {
  canvas: OffscreenCanvas;
  rect: Rectangle;
  level: number;
  exact: boolean;
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
`;
const Tag = styled.span`
  position: absolute;
  bottom: 6px;
  right: 8px;
  padding: 1px 6px;
  background: ${tokens.panel};
  font-family: ${tokens.condensed};
  font-size: ${tokens.size.small};
`;
const PaneTag = styled(Tag)`
  right: auto;
  bottom: auto;
  top: 8px;
`;

/** The other end of a pen, as a button and among the buttons held. @see W3C Pointer Events Level 3, section 4.1.1 */
const ERASER = 5;
const ERASER_HELD = 32;

let identities = 0;
const identity = new WeakMap<object, number>();
const identityOf = (o: object) => identity.get(o) ?? (identity.set(o, ++identities), identities);
const keyOf = (pane: Pane) => `${JSON.stringify(pane.view)}#${identityOf(pane.records)}`;
const screenSpace = (): ScreenSpace => (globalThis.matchMedia?.("(color-gamut: p3)").matches ? "display-p3" : "srgb");

/** The picture: coarse first, then exact at the level shown; wheel zooms, drag moves, a tool may take the pointer. */
export function PictureView({ panes, arrangement, size, tool, dirty, overlay, onHover, turnable, name }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const buffers = useRef(new Map<string, Buffer>());
  const previousKeys = useRef<string[]>([]);
  const undrawn = useRef<Rectangle | null>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  const [exact, setExact] = useState(false);
  const [split, setSplit] = useState(0.5);
  const [pointer, setPointer] = useState<[number, number] | null>(null);
  const { zoom, cx, cy, turnDeg, surround, jump } = useView();
  const angle = turnable ? (turnDeg * Math.PI) / 180 : 0;
  const ratio = globalThis.devicePixelRatio || 1;

  const paneWidth = arrangement === "side" ? Math.floor(box.width / 2) : box.width;
  const viewport: Viewport = useMemo(() => {
    const fit = zoom === "fit";
    return {
      width: paneWidth,
      height: box.height,
      scale: fit ? fitScale(size, paneWidth, box.height) : zoom,
      cx: fit ? size.width / 2 : cx,
      cy: fit ? size.height / 2 : cy,
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

  const draw = useCallback(() => {
    const target = canvas.current;
    if (!target || box.width === 0) return;
    const [w, h] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
    if (target.width !== w || target.height !== h) Object.assign(target, { width: w, height: h });
    const g = target.getContext("2d", { colorSpace: screenSpace() });
    if (!g) return;
    g.setTransform(1, 0, 0, 1, 0, 0);
    g.fillStyle = SURROUNDS[surround];
    g.fillRect(0, 0, w, h);
    panes.forEach((pane, i) => {
      const buffer = buffers.current.get(keyOf(pane)) ?? (arrangement === "single" ? buffers.current.get(previousKeys.current[0]) : undefined);
      if (!buffer) return;
      g.save();
      const left = arrangement === "side" ? i * paneWidth * ratio : 0;
      g.beginPath();
      if (arrangement === "split") g.rect(i === 0 ? 0 : split * w, 0, i === 0 ? split * w : w, h);
      else g.rect(left, 0, arrangement === "side" ? paneWidth * ratio - 1 : w, h);
      g.clip();
      const s = 2 ** buffer.level;
      const [x, y] = toScreen(viewport, buffer.rect.x * s, buffer.rect.y * s);
      const drawn = viewport.scale * ratio * s;
      g.imageSmoothingEnabled = drawn < 3 && Math.abs(drawn - 1) > 1e-6;
      g.imageSmoothingQuality = "high";
      const round = Math.abs(drawn - 1) < 1e-6 && viewport.angle === 0 ? Math.round : (v: number) => v;
      g.translate(left + round(x * ratio), round(y * ratio));
      g.rotate(viewport.angle);
      g.drawImage(buffer.canvas, 0, 0, buffer.rect.width * drawn, buffer.rect.height * drawn);
      g.restore();
    });
    if (arrangement === "split") {
      g.fillStyle = "#000";
      g.fillRect(split * w - 1, 0, 1, h);
      g.fillStyle = "#fff";
      g.fillRect(split * w, 0, 1, h);
    }
  }, [panes, arrangement, box, viewport, surround, split, ratio, paneWidth]);

  useEffect(draw, [draw]);

  const paneKeys = panes.map(keyOf).join("|");
  useEffect(() => {
    if (box.width === 0 || size.width === 0) return;
    const controller = new AbortController();
    const level = levelFor(viewport, size, ratio);
    const keys = panes.map(keyOf);
    const ask = async (pane: Pane, at: number, rect: Rectangle, isExact: boolean, old?: Buffer) => {
      const rendered = await engine.call(
        "renderView",
        { records: pane.records, view: pane.view, level: at, rect, space: screenSpace() },
        { signal: controller.signal },
      );
      if (controller.signal.aborted || rendered.rect.width === 0) return;
      const key = keyOf(pane);
      const image = new ImageData(rendered.rgba, rendered.rect.width, rendered.rect.height, { colorSpace: screenSpace() });
      if (old) {
        old.canvas.getContext("2d", { colorSpace: screenSpace() })!.putImageData(image, rendered.rect.x - old.rect.x, rendered.rect.y - old.rect.y);
        buffers.current.set(key, old);
      } else {
        const own = new OffscreenCanvas(rendered.rect.width, rendered.rect.height);
        own.getContext("2d", { colorSpace: screenSpace() })!.putImageData(image, 0, 0);
        buffers.current.set(key, { canvas: own, rect: rendered.rect, level: rendered.level, exact: isExact });
      }
      for (const stale of [...buffers.current.keys()].slice(0, Math.max(0, buffers.current.size - 6))) {
        if (!keys.includes(stale) && !previousKeys.current.includes(stale)) buffers.current.delete(stale);
      }
    };
    void (async () => {
      try {
        for (const pane of panes) {
          const visible = visibleRect(viewport, size, level);
          if (visible.width === 0 || visible.height === 0) continue;
          const held = buffers.current.get(keyOf(pane));
          if (held?.exact && held.level === level && contains(held.rect, visible)) continue;
          setExact(false);
          const at = panes.indexOf(pane);
          const before = buffers.current.get(previousKeys.current[at] ?? "");
          if (dirty && sameView(previousKeys.current[at] ?? "", keyOf(pane)) && before?.exact && before.level === level && contains(before.rect, visible)) {
            // what a redraw before this one was to change, and was stopped
            const changed = undrawn.current ? around(undrawn.current, dirty) : dirty;
            undrawn.current = changed;
            await ask(pane, level, clip(scaled(changed, level), before.rect), true, before);
          } else {
            if (!held && level < 4 && visible.width * visible.height > 120_000) {
              await ask(pane, level + 2, visibleRect(viewport, size, level + 2), false);
              if (controller.signal.aborted) return;
              previousKeys.current[at] = keyOf(pane);
              draw();
            }
            await ask(pane, level, visible, true);
          }
          if (controller.signal.aborted) return;
          undrawn.current = null;
          previousKeys.current[at] = keyOf(pane);
          draw();
        }
        if (!controller.signal.aborted) setExact(panes.every((p) => p.view.kind !== "coarse"));
      } catch (error) {
        if (!isCancelled(error)) report(error);
      }
    })();
    return () => controller.abort();
    // the panes are compared by key; draw and dirty follow from them
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [paneKeys, viewport, size, ratio, box.width]);

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

  const onDown = (event: PointerEvent) => {
    const pointing = event.button === 0 || event.button === ERASER;
    if (event.button > 1 && !pointing) return;
    frame.current!.setPointerCapture(event.pointerId);
    const [x, y] = place(event);
    if (arrangement === "split" && Math.abs(x - split * box.width) < 8) {
      drag.current = { x: NaN, y: 0, moved: true };
      return;
    }
    if (tool && pointing && (arrangement === "single" || (arrangement === "side" && tool.beside))) {
      tool.down(picturePoint(event));
      return;
    }
    drag.current = { x, y, moved: false };
  };
  const onMove = (event: PointerEvent) => {
    const [x, y] = place(event);
    setPointer([x, y]);
    const p = picturePoint(event);
    onHover?.(p.x, p.y);
    if (drag.current && Number.isNaN(drag.current.x)) setSplit(Math.min(0.95, Math.max(0.05, x / box.width)));
    else if (drag.current) {
      const { x: fromX, y: fromY } = drag.current;
      drag.current = { x, y, moved: true };
      const [dx, dy] = turned(x - fromX, y - fromY, -viewport.angle);
      useView.setState({ zoom: viewport.scale, cx: viewport.cx - dx / viewport.scale, cy: viewport.cy - dy / viewport.scale });
    } else if (tool?.move && event.buttons & (1 | ERASER_HELD)) {
      const events = event.nativeEvent.getCoalescedEvents?.() ?? [];
      tool.move((events.length ? events : [event.nativeEvent]).map(picturePoint));
    }
  };
  const onUp = () => {
    if (drag.current) drag.current = null;
    else tool?.up?.();
  };

  useEffect(() => {
    const element = frame.current!;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const next = zoomAt(viewport, ...place(event), Math.exp(-event.deltaY * 0.0015));
      useView.setState({ zoom: next.scale, cx: next.cx, cy: next.cy });
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  });

  const ring = tool?.ring && pointer ? (tool.ring * viewport.scale) / 2 : null;
  return (
    <Frame
      ref={frame}
      role="img"
      aria-label={name}
      data-exact={exact}
      style={{ background: SURROUNDS[surround], cursor: tool?.cursor ?? "default" }}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={onUp}
      onPointerCancel={onUp}
      onPointerLeave={() => setPointer(null)}
    >
      <canvas ref={canvas} />
      <svg aria-hidden="true">
        {arrangement === "single" && overlay?.((x, y) => toScreen(viewport, x, y), viewport.scale, 0)}
        {arrangement === "side" &&
          overlay &&
          ([0, 1] as const).map((pane) => (
            <svg key={pane} x={pane * paneWidth} width={paneWidth} height={box.height} style={{ overflow: "hidden" }}>
              {overlay((x, y) => toScreen(viewport, x, y), viewport.scale, pane)}
            </svg>
          ))}
        {ring && (
          <g fill="none">
            <circle cx={pointer![0]} cy={pointer![1]} r={ring} stroke="#000" strokeWidth="1" />
            <circle cx={pointer![0]} cy={pointer![1]} r={Math.max(0.5, ring - 1)} stroke="#fff" strokeWidth="1" />
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
      <Tag>
        {exact ? "exact" : "coarse"} · {Math.round(viewport.scale * ratio * 100)} %
      </Tag>
    </Frame>
  );
}

/** Whether two keys show the same kind of view, perhaps of other records. */
const sameView = (a: string, b: string) => a.slice(0, a.lastIndexOf("#")) === b.slice(0, b.lastIndexOf("#"));

function contains(a: Rectangle, b: Rectangle): boolean {
  return a.x <= b.x && a.y <= b.y && a.x + a.width >= b.x + b.width && a.y + a.height >= b.y + b.height;
}

function scaled(r: Rectangle, level: number): Rectangle {
  const s = 2 ** level;
  const x = Math.floor(r.x / s) - 1;
  const y = Math.floor(r.y / s) - 1;
  return { x, y, width: Math.ceil((r.x + r.width) / s) + 2 - x, height: Math.ceil((r.y + r.height) / s) + 2 - y };
}

function around(a: Rectangle, b: Rectangle): Rectangle {
  const x = Math.min(a.x, b.x);
  const y = Math.min(a.y, b.y);
  return { x, y, width: Math.max(a.x + a.width, b.x + b.width) - x, height: Math.max(a.y + a.height, b.y + b.height) - y };
}

function clip(r: Rectangle, to: Rectangle): Rectangle {
  const x = Math.max(r.x, to.x);
  const y = Math.max(r.y, to.y);
  return { x, y, width: Math.max(1, Math.min(r.x + r.width, to.x + to.width) - x), height: Math.max(1, Math.min(r.y + r.height, to.y + to.height) - y) };
}
