import { ToldError } from "../../messages/message";
import { CARRYING_KERNELS, STRIP_KERNELS, type Exports, type StripExecutor, type StripKernel } from "../Kernels";

/** Places in the control block, 32-bit words. */
const GENERATION = 0;
/** the generation whose strips may be taken, or 0 */
const OPEN = 1;
/** threads that looked at a generation, and those that are done with it */
const ENTERED = 2;
const EXITED = 3;
/** the next strip's first row */
const NEXT = 4;
const TO = 5;
const GRAIN = 6;
const KERNEL = 7;
const COUNT = 8;
const FAILED = 9;
const WORDS = 16;
const MOST_ARGS = 48;

/** What the threads of a pool share beside the kernels' memory. */
export const createControl = (): SharedArrayBuffer => new SharedArrayBuffer(WORDS * 4 + MOST_ARGS * 8);

const wordsOf = (control: SharedArrayBuffer) => new Int32Array(control, 0, WORDS);
const argsOf = (control: SharedArrayBuffer) => new Float64Array(control, WORDS * 4, MOST_ARGS);

/** A thread of the pool is gone, or does not answer. What was under way has to be begun again with a fresh pool. */
export class PoolBroken extends ToldError {
  override readonly name = "PoolBroken";
  constructor() {
    super("engine.poolBroken");
  }
}

/** How long the other threads may go on with their last strips, ms: far more than the largest strip takes. */
const PATIENCE_MS = 30_000;
/** Turns to wait for them before going to sleep. */
const SPINS = 2000;

/** Kernels whose strips are at least so long count samples, others rows. */
const SAMPLES = 1024;
/** Ranges shorter than these are done before another thread has woken up. */
const LEAST_SAMPLES = 24_000;
const LEAST_ROWS = 6;
/** Strips of samples begin at multiples of so many: kernels load several at once. */
const ALIGNED = 256;

/** Runs strips on the threads of a pool and on the one that asks, which waits until all are done. Which thread takes which strip does not matter to the result. */
export class StripPool implements StripExecutor {
  private readonly words: Int32Array;
  private readonly args: Float64Array;
  broken = false;

  /** @param scratch of the thread that asks */
  constructor(
    private readonly exports: Exports,
    private readonly scratch: number,
    control: SharedArrayBuffer,
    /** that take strips, this one among them */
    private readonly threads: number,
  ) {
    this.words = wordsOf(control);
    this.args = argsOf(control);
  }

  run(kernel: StripKernel, args: readonly number[], from: number, to: number, grain: number): void {
    const { words, scratch } = this;
    const call = this.exports[kernel];
    const strip = CARRYING_KERNELS.includes(kernel) ? grain : this.stripOf(to - from, grain);
    if (to - from <= strip || this.broken) {
      for (let y = from; y < to; y += grain) call(...args, y, Math.min(to, y + grain), scratch);
      return;
    }
    this.args.set(args);
    words[COUNT] = args.length;
    words[TO] = to;
    words[GRAIN] = strip;
    words[KERNEL] = STRIP_KERNELS.indexOf(kernel);
    words[FAILED] = 0;
    Atomics.store(words, NEXT, from);
    const generation = Atomics.add(words, GENERATION, 1) + 1;
    Atomics.store(words, OPEN, generation);
    Atomics.notify(words, GENERATION);
    for (let y = Atomics.add(words, NEXT, strip); y < to; y = Atomics.add(words, NEXT, strip)) call(...args, y, Math.min(to, y + strip), scratch);
    Atomics.store(words, OPEN, 0);
    this.waitForOthers();
    if (words[FAILED]) throw new Error("A kernel stopped.");
  }

  /** How much of a range one thread takes at a time, so that all have some; all of it where it is too little to be parted. */
  private stripOf(length: number, grain: number): number {
    const bySamples = grain >= SAMPLES;
    if (length < (bySamples ? LEAST_SAMPLES : LEAST_ROWS)) return length;
    const even = Math.ceil(length / (this.threads * 2));
    return Math.min(grain, bySamples ? Math.ceil(even / ALIGNED) * ALIGNED : even);
  }

  private waitForOthers(): void {
    const { words } = this;
    const since = performance.now();
    for (let turn = 0; ; turn++) {
      const done = Atomics.load(words, EXITED);
      if (done === Atomics.load(words, ENTERED)) return;
      if (turn > SPINS) Atomics.wait(words, EXITED, done, 50);
      if (turn % 64 === 0 && performance.now() - since > PATIENCE_MS) {
        this.broken = true;
        throw new PoolBroken();
      }
    }
  }
}

/** What a thread of the pool does until it is ended: waits for strips and takes them. */
export function serveStrips(exports: Exports, scratch: number, control: SharedArrayBuffer): never {
  const [words, shared] = [wordsOf(control), argsOf(control)];
  let seen = Atomics.load(words, GENERATION);
  for (;;) {
    // the next strips often follow at once
    for (let turn = 0; turn < SPINS && Atomics.load(words, GENERATION) === seen; turn++);
    Atomics.wait(words, GENERATION, seen);
    seen = Atomics.load(words, GENERATION);
    Atomics.add(words, ENTERED, 1);
    // whoever comes late must not read what may be written anew already
    if (Atomics.load(words, OPEN) === seen) {
      const args = [...shared.subarray(0, words[COUNT])];
      const [to, grain, call] = [words[TO], words[GRAIN], exports[STRIP_KERNELS[words[KERNEL]]]];
      try {
        for (let y = Atomics.add(words, NEXT, grain); y < to; y = Atomics.add(words, NEXT, grain)) call(...args, y, Math.min(to, y + grain), scratch);
      } catch {
        Atomics.store(words, FAILED, 1);
      }
    }
    Atomics.add(words, EXITED, 1);
    Atomics.notify(words, EXITED);
  }
}
