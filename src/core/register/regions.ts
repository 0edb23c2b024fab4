import type { Rectangle } from "../geometry/rectangle";
import type { Selection } from "./refine";

/** A region a person marked in the reference, px at full size. */
export interface Region {
  purpose: "lineUp" | "ignore";
  shape: RegionShape;
}
export type RegionShape = { kind: "box"; rectangle: Rectangle } | { kind: "brush"; points: number[]; diameterPx: number };

const LONGEST = 1024;

/** Which places count for a registration: inside what must line up (everything, where nothing is marked), outside what is ignored. */
export class RegionMask {
  /** whether something has to line up, so that the rest is only drift */
  readonly pinned: boolean;
  /** bounds of what counts, px at full size */
  readonly bounds: Rectangle;
  private readonly cells: Uint8Array;
  private readonly columns: number;
  private readonly rows: number;
  private readonly cell: number;

  constructor(
    regions: Region[],
    private readonly width: number,
    private readonly height: number,
  ) {
    this.cell = Math.max(1, Math.ceil(Math.max(width, height) / LONGEST));
    this.columns = Math.ceil(width / this.cell);
    this.rows = Math.ceil(height / this.cell);
    const wanted = regions.filter((r) => r.purpose === "lineUp");
    this.pinned = wanted.length > 0;
    this.cells = new Uint8Array(this.columns * this.rows).fill(this.pinned ? 0 : 1);
    for (const region of wanted) this.paint(region.shape, 1);
    for (const region of regions) if (region.purpose === "ignore") this.paint(region.shape, 0);
    this.bounds = this.measureBounds();
  }

  /** Whether a place at full size counts. */
  has(x: number, y: number): boolean {
    const cx = Math.floor(x / this.cell);
    const cy = Math.floor(y / this.cell);
    return cx >= 0 && cy >= 0 && cx < this.columns && cy < this.rows && this.cells[cy * this.columns + cx] === 1;
  }

  /** Share of the frame that counts, 0..1. */
  get share(): number {
    return this.cells.reduce((sum, v) => sum + v, 0) / this.cells.length;
  }

  /** The same for the samples of a display level. */
  atLevel(level: number): Selection {
    const s = 2 ** level;
    const { bounds } = this;
    const x = Math.floor(bounds.x / s);
    const y = Math.floor(bounds.y / s);
    return {
      bounds: { x, y, width: Math.max(1, Math.ceil((bounds.x + bounds.width) / s) - x), height: Math.max(1, Math.ceil((bounds.y + bounds.height) / s) - y) },
      counts: (px, py) => this.has((px + 0.5) * s - 0.5, (py + 0.5) * s - 0.5),
    };
  }

  private paint(shape: RegionShape, value: number): void {
    const { cell, columns, rows } = this;
    const fill = (x0: number, y0: number, x1: number, y1: number, inside: (x: number, y: number) => boolean) => {
      for (let cy = Math.max(0, Math.floor(y0 / cell)); cy < Math.min(rows, Math.ceil(y1 / cell)); cy++) {
        for (let cx = Math.max(0, Math.floor(x0 / cell)); cx < Math.min(columns, Math.ceil(x1 / cell)); cx++) {
          if (inside((cx + 0.5) * cell, (cy + 0.5) * cell)) this.cells[cy * columns + cx] = value;
        }
      }
    };
    if (shape.kind === "box") {
      const { x, y, width, height } = shape.rectangle;
      fill(x, y, x + width, y + height, () => true);
      return;
    }
    const radius = shape.diameterPx / 2;
    for (let i = 0; i + 1 < shape.points.length; i += 2) {
      const [ax, ay] = [shape.points[i], shape.points[i + 1]];
      const [bx, by] = i + 3 < shape.points.length ? [shape.points[i + 2], shape.points[i + 3]] : [ax, ay];
      const length2 = Math.max(1e-9, (bx - ax) ** 2 + (by - ay) ** 2);
      fill(Math.min(ax, bx) - radius, Math.min(ay, by) - radius, Math.max(ax, bx) + radius, Math.max(ay, by) + radius, (x, y) => {
        const t = Math.max(0, Math.min(1, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length2));
        return Math.hypot(x - ax - t * (bx - ax), y - ay - t * (by - ay)) <= radius;
      });
    }
  }

  private measureBounds(): Rectangle {
    let [x0, y0, x1, y1] = [this.columns, this.rows, 0, 0];
    for (let y = 0; y < this.rows; y++) {
      for (let x = 0; x < this.columns; x++) {
        if (!this.cells[y * this.columns + x]) continue;
        x0 = Math.min(x0, x);
        x1 = Math.max(x1, x + 1);
        y0 = Math.min(y0, y);
        y1 = Math.max(y1, y + 1);
      }
    }
    const { cell } = this;
    if (x1 <= x0) return { x: 0, y: 0, width: 1, height: 1 };
    return { x: x0 * cell, y: y0 * cell, width: Math.min(this.width, x1 * cell) - x0 * cell, height: Math.min(this.height, y1 * cell) - y0 * cell };
  }
}
