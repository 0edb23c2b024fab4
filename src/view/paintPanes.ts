import type { TileBuffer } from "./TileBuffer";
import { toScreen, type Viewport } from "./viewport";
import type { ScreenSpace } from "../engine/operations/view/ViewSpec";

export interface Painting {
  /** of each pane, or null where nothing was drawn yet */
  buffers: (TileBuffer | null)[];
  arrangement: "single" | "split" | "side";
  viewport: Viewport;
  /** of the whole view, CSS px */
  box: { width: number; height: number };
  paneWidth: number;
  /** device px a CSS px */
  ratio: number;
  surround: string;
  /** where a split view is parted, share of its width */
  split: number;
  space: ScreenSpace;
}

/** Puts what was drawn on the screen, at the place and scale of the viewport. */
export function paintPanes(target: HTMLCanvasElement, { buffers, arrangement, viewport, box, paneWidth, ratio, surround, split, space }: Painting): void {
  const [w, h] = [Math.round(box.width * ratio), Math.round(box.height * ratio)];
  if (target.width !== w || target.height !== h) Object.assign(target, { width: w, height: h });
  const g = target.getContext("2d", { colorSpace: space });
  if (!g) return;
  g.setTransform(1, 0, 0, 1, 0, 0);
  g.clearRect(0, 0, w, h);
  g.fillStyle = surround;
  g.fillRect(0, 0, w, h);
  buffers.forEach((buffer, i) => {
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
    const oneToOne = Math.abs(drawn - 1) < 1e-6;
    g.imageSmoothingEnabled = drawn < 3 && !oneToOne;
    g.imageSmoothingQuality = "high";
    const round = oneToOne && viewport.angle === 0 ? Math.round : (v: number) => v;
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
}
