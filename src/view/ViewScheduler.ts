/** Draws a target: quickly, then perhaps coarser than wanted, or exactly. @returns whether what is shown now is exact */
export type Draw<T> = (target: T, pass: "quick" | "exact", signal: AbortSignal) => Promise<boolean>;

interface Options<T> {
  draw: Draw<T>;
  onError(error: unknown): void;
  /** whether everything that is wanted is shown exactly */
  onExact(exact: boolean): void;
}

/** How long nothing new may be wanted before the exact picture is begun, ms: less than the hand notices, more than between two moves of a drag. */
export const SETTLE_MS = 90;

/**
 * What a view asks for: one request at a time, and of what is wanted while it runs only the latest. A quick picture is always shown, also when something
 * newer is wanted already, so that a drag never freezes; the exact one follows when the hand rests, and gives way at once to something newer.
 */
export class ViewScheduler<T> {
  private latest: { target: T; serial: number } | null = null;
  private serial = 0;
  /** serials of what was drawn quickly and exactly last */
  private quick = 0;
  private exact = 0;
  private running: { pass: "quick" | "exact"; controller: AbortController } | null = null;
  private settling: ReturnType<typeof setTimeout> | null = null;
  private ended = false;

  constructor(private readonly options: Options<T>) {}

  want(target: T): void {
    if (this.ended) return;
    this.latest = { target, serial: ++this.serial };
    this.options.onExact(false);
    if (this.settling) clearTimeout(this.settling);
    this.settling = null;
    if (this.running?.pass === "exact") this.running.controller.abort();
    this.next();
  }

  end(): void {
    this.ended = true;
    if (this.settling) clearTimeout(this.settling);
    this.running?.controller.abort();
  }

  private next(): void {
    if (this.running || this.settling || this.ended || !this.latest) return;
    const { serial } = this.latest;
    if (serial > this.quick) void this.draw("quick");
    else if (serial > this.exact) {
      this.settling = setTimeout(() => {
        this.settling = null;
        if (!this.running) void this.draw("exact");
      }, SETTLE_MS);
    }
  }

  private async draw(pass: "quick" | "exact"): Promise<void> {
    if (!this.latest || this.ended) return;
    const { target, serial } = this.latest;
    const running = (this.running = { pass, controller: new AbortController() });
    let failed = false;
    try {
      const exact = await this.options.draw(target, pass, running.controller.signal);
      if (!running.controller.signal.aborted) {
        this.quick = serial;
        if (exact || pass === "exact") this.exact = serial;
      }
    } catch (error) {
      failed = !running.controller.signal.aborted;
      if (failed && !this.ended) this.options.onError(error);
    }
    // what fails is not asked for again until something else is wanted
    if (failed) this.quick = this.exact = serial;
    this.running = null;
    if (this.ended) return;
    if (!failed && this.exact === this.serial) this.options.onExact(true);
    this.next();
  }
}
