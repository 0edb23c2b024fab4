/** Work that may be left for a while, or ended, after each step; a step tells the share that is done, 0..1. */
export type Stepwise<T> = Generator<number, T, void>;

/** Does all of it without a rest. */
export function atOnce<T>(work: Stepwise<T>): T {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
  }
}

/** Rests after each step. What a rest throws ends the work. */
export async function inSteps<T>(work: Stepwise<T>, rest: (share: number) => Promise<void>): Promise<T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    await rest(step.value);
  }
}

/** Work as a part of other work: its own share between two shares of the whole. */
export function* asPart<T>(work: Stepwise<T>, from: number, to: number): Stepwise<T> {
  for (;;) {
    const step = work.next();
    if (step.done) return step.value;
    yield from + (to - from) * step.value;
  }
}
