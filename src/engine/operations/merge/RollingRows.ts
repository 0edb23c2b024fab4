import type { Scope } from "../../../kernels/Kernels";

/** Room for so many times the rows that come at once, so that the kept ones need not be moved up every time. */
const ROOM = 4;

/** Some rows of a tall plane of floats in kernel memory, moving down it: rows that come below push out the oldest. */
export class RollingRows {
  private readonly base: number;
  /** rows there is room for */
  private readonly room: number;
  private first = 0;
  private last = 0;

  /** @param rows most rows that come at once @param behind rows above them that stay */
  constructor(
    private readonly scope: Scope,
    private readonly width: number,
    rows: number,
    private readonly behind: number,
  ) {
    this.room = ROOM * rows + behind;
    this.base = scope.floats(width * this.room + 16);
  }

  /** The row after the last. */
  get end(): number {
    return this.last;
  }

  /** Makes room for the rows above `end`. */
  moveTo(end: number): void {
    if (end - this.first > this.room) {
      const first = Math.max(0, this.last - this.behind);
      const [from, to] = [(first - this.first) * this.width, (this.last - this.first) * this.width];
      this.scope.kernels.f32(this.base, to).copyWithin(0, from, to);
      this.first = first;
    }
    this.last = end;
  }

  /** Address of row y of the plane; it may lie outside of the memory where the row is not here. */
  at(y: number): number {
    return this.base + (y - this.first) * this.width * 4;
  }

  samples(y0: number, y1: number): Float32Array {
    return this.scope.kernels.f32(this.at(y0), (y1 - y0) * this.width);
  }
}
