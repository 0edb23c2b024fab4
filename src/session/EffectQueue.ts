import type { Effect } from "../document/history";
import type { Records } from "../document/records/types";

interface Wanted {
  before: Records;
  after: Records;
  onMeasured(effect: Effect): void;
}

/** What a step did is measured when the person has been quiet for so long, ms. */
const QUIET_MS = 400;

/** Measures what steps did, one after the other and only while nothing else is wanted: each new step stops the measuring under way, which is done again later. */
export class EffectQueue {
  private readonly waiting: Wanted[] = [];
  private timer: ReturnType<typeof setTimeout> | null = null;
  private running: AbortController | null = null;
  private ended = false;

  constructor(private readonly measure: (before: Records, after: Records, signal: AbortSignal) => Promise<Effect | null>) {}

  add(before: Records, after: Records, onMeasured: (effect: Effect) => void): void {
    if (this.ended) return;
    this.waiting.push({ before, after, onMeasured });
    this.running?.abort();
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => void this.work(), QUIET_MS);
  }

  end(): void {
    this.ended = true;
    this.waiting.length = 0;
    if (this.timer) clearTimeout(this.timer);
    this.running?.abort();
  }

  private async work(): Promise<void> {
    if (this.running) return;
    while (this.waiting.length > 0 && !this.ended) {
      const wanted = this.waiting[0];
      const running = (this.running = new AbortController());
      try {
        const effect = await this.measure(wanted.before, wanted.after, running.signal);
        this.waiting.shift();
        if (effect && !this.ended) wanted.onMeasured(effect);
      } catch {
        // stopped by a newer step: later. Failed: a step without a measured effect is shown as "not measured"
        if (!running.signal.aborted) this.waiting.shift();
        else break;
      } finally {
        this.running = null;
      }
    }
    // stopped while the quiet before it was over already
    if (this.waiting.length > 0 && !this.ended) this.timer = setTimeout(() => void this.work(), QUIET_MS);
  }
}
