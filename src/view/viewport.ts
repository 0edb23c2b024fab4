import type { Rectangle } from "../core/geometry/rectangle";

/** Where the picture stands on the screen. Scale is CSS px a picture px; the centre is in picture px (continuous, pixel i spans i to i + 1). */
export interface Viewport {
  width: number;
  height: number;
  scale: number;
  cx: number;
  cy: number;
  /** how far the picture is turned clockwise on the screen, radians */
  angle: number;
}

export function fitScale(size: { width: number; height: number }, width: number, height: number, margin = 3): number {
  return Math.max(0.001, Math.min((width - 2 * margin) / size.width, (height - 2 * margin) / size.height));
}

export function toScreen(v: Viewport, x: number, y: number): [number, number] {
  const [dx, dy] = turned(x - v.cx, y - v.cy, v.angle);
  return [dx * v.scale + v.width / 2, dy * v.scale + v.height / 2];
}

export function toPicture(v: Viewport, x: number, y: number): [number, number] {
  const [dx, dy] = turned(x - v.width / 2, y - v.height / 2, -v.angle);
  return [dx / v.scale + v.cx, dy / v.scale + v.cy];
}

/** A step on the picture as a step on the screen, and with the angle turned over the other way. */
export function turned(dx: number, dy: number, angle: number): [number, number] {
  if (angle === 0) return [dx, dy];
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  return [c * dx - s * dy, s * dx + c * dy];
}

/** Display level whose pixels are at least as fine as the screen's. */
export function levelFor(v: Viewport, size: { width: number; height: number }, ratio: number): number {
  const most = Math.max(0, Math.ceil(Math.log2(Math.max(size.width, size.height) / 256)));
  return Math.max(0, Math.min(most, Math.floor(Math.log2(1 / (v.scale * ratio)) + 1e-6)));
}

/** The part of a picture that can be seen, in px of a level. */
export function visibleRect(v: Viewport, size: { width: number; height: number }, level: number): Rectangle {
  const s = 2 ** level;
  const corners = [toPicture(v, 0, 0), toPicture(v, v.width, 0), toPicture(v, 0, v.height), toPicture(v, v.width, v.height)];
  const [xs, ys] = [corners.map((c) => c[0]), corners.map((c) => c[1])];
  const [x0, y0, x1, y1] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  const w = Math.ceil(size.width / s);
  const h = Math.ceil(size.height / s);
  const left = Math.max(0, Math.floor(x0 / s));
  const top = Math.max(0, Math.floor(y0 / s));
  return { x: left, y: top, width: Math.max(0, Math.min(w, Math.ceil(x1 / s)) - left), height: Math.max(0, Math.min(h, Math.ceil(y1 / s)) - top) };
}

export function zoomAt(v: Viewport, x: number, y: number, factor: number): Viewport {
  const [px, py] = toPicture(v, x, y);
  const scale = Math.min(16, Math.max(0.01, v.scale * factor));
  const [dx, dy] = turned(x - v.width / 2, y - v.height / 2, -v.angle);
  return { ...v, scale, cx: px - dx / scale, cy: py - dy / scale };
}
