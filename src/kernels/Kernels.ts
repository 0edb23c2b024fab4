import { Arena } from "./Arena";

/** Kernels that work on rows or samples y0 to y1 and take a scratch address last. */
export const STRIP_KERNELS = [
  "warpRows",
  "warpFloatRows",
  "warpGridRows",
  "warpFloatGridRows",
  "gainGridRows",
  "interleaveBytes",
  "interleaveSamples",
  "rgbxOfBytes",
  "rgbxOfSamples",
  "productRows",
  "convolveRows",
  "boxAcrossRows",
  "boxDownColumns",
  "guideRows",
  "guidedRows",
  "maskRows",
  "addRows",
  "lookUpSamples",
  "lookUpBytes",
  "unitBytes",
  "unitSamples",
  "applyMatrix",
  "halveRows",
  "fillRows",
  "coverNumbers",
  "halveBytes",
  "halveSamples",
  "measureCells",
  "shareRows",
  "luminanceSamples",
  "edgeRows",
  "supportedEdgeRows",
  "reduceRows",
  "accumulateBands",
  "collapseRows",
  "accumulateProduct",
  "fusionWeightRows",
  "shareWeights",
  "judgeRows",
  "mergeRadiance",
  "combineRepeats",
  "gradeSamples",
  "toneSamples",
  "localToneRows",
  "layOver",
  "multiplySamples",
  "lightSamples",
  "tableSamples",
  "logLightSamples",
  "brightenSamples",
  "oklabSamples",
  "lightOfOklab",
  "encodeRows8",
  "encodeSamples",
  "decodeSamples",
  "rootSamples",
  "squareSamples",
] as const;
/** Kernels that carry sums on from row to row: their strips are as asked for, however many threads there are, or sums would be rounded otherwise. */
export const CARRYING_KERNELS: readonly string[] = ["guideRows", "guidedRows"] satisfies StripKernel[];
export type StripKernel = (typeof STRIP_KERNELS)[number];

export type Exports = Record<StripKernel, (...args: number[]) => void> & { stampDisc: (...args: number[]) => void };

const PAGES = { initial: 1024, maximum: 16384 };
const ARENA_START = 1 << 20;
/** What a thread's kernels may write to for themselves. */
const SCRATCH_BYTES = 1 << 20;

/** Runs a strip kernel over a range; strips may go to other threads, results do not depend on how many. */
export interface StripExecutor {
  run(kernel: StripKernel, args: readonly number[], from: number, to: number, grain: number): void;
}

/** The kernels of one thread over memory that may be shared with others. */
export async function instantiate(module: WebAssembly.Module, memory: WebAssembly.Memory): Promise<Exports> {
  const abort = () => {
    throw new Error("A kernel stopped.");
  };
  return (await WebAssembly.instantiate(module, { env: { memory, abort } })).exports as unknown as Exports;
}

/** The compiled kernels with their memory. */
export class Kernels {
  readonly arena: Arena;
  readonly scratch: number;
  readonly scratchBytes = SCRATCH_BYTES;
  executor: StripExecutor;

  private constructor(
    readonly memory: WebAssembly.Memory,
    /** the compiled module, for other threads over the same memory */
    readonly module: WebAssembly.Module,
    readonly exports: Exports,
  ) {
    this.arena = new Arena(memory, ARENA_START);
    this.scratch = this.arena.allocate(SCRATCH_BYTES);
    const { scratch } = this;
    this.executor = {
      run: (kernel, args, from, to, grain) => {
        for (let y = from; y < to; y += grain) exports[kernel](...args, y, Math.min(to, y + grain), scratch);
      },
    };
  }

  /** @param wasm public/wasm/kernels.wasm @throws Error where SIMD or shared memory is missing */
  static async create(wasm: BufferSource): Promise<Kernels> {
    const memory = new WebAssembly.Memory({ ...PAGES, shared: true });
    const module = await WebAssembly.compile(wasm);
    return new Kernels(memory, module, await instantiate(module, memory));
  }

  run(kernel: StripKernel, args: readonly number[], from: number, to: number, grain = 64): void {
    if (to > from) this.executor.run(kernel, args, from, to, grain);
  }

  stampDisc(acc: number, w: number, h: number, cx: number, cy: number, radius: number, hard: number, flow: number): void {
    this.exports.stampDisc(acc, w, h, cx, cy, radius, hard, flow);
  }

  f32(at: number, length: number): Float32Array {
    return new Float32Array(this.memory.buffer, at, length);
  }

  f64(at: number, length: number): Float64Array {
    return new Float64Array(this.memory.buffer, at, length);
  }

  u16(at: number, length: number): Uint16Array {
    return new Uint16Array(this.memory.buffer, at, length);
  }

  u8(at: number, length: number): Uint8Array {
    return new Uint8Array(this.memory.buffer, at, length);
  }

  u32(at: number, length: number): Uint32Array {
    return new Uint32Array(this.memory.buffer, at, length);
  }

  /** Allocates for the length of a call and releases all of it afterwards, also after an error. */
  withScope<T>(work: (scope: Scope) => T): T {
    const scope = new Scope(this);
    try {
      const result = work(scope);
      if (result instanceof Promise) throw new TypeError("withScope expects synchronous work; use a Scope of your own.");
      return result;
    } finally {
      scope.release();
    }
  }
}

/** A group of allocations that end together. */
export class Scope {
  private readonly held: number[] = [];
  constructor(readonly kernels: Kernels) {}

  bytes(length: number): number {
    const at = this.kernels.arena.allocate(length);
    this.held.push(at);
    return at;
  }

  floats(length: number): number {
    return this.bytes(length * 4);
  }

  matrix(values: ArrayLike<number>): number {
    const at = this.bytes(values.length * 4);
    this.kernels.f32(at, values.length).set(values);
    return at;
  }

  /** A table of addresses. */
  addresses(values: readonly number[]): number {
    const at = this.bytes(values.length * 4);
    this.kernels.u32(at, values.length).set(values);
    return at;
  }

  doubles(values: readonly number[]): number {
    const at = this.bytes(values.length * 8);
    this.kernels.f64(at, values.length).set(values);
    return at;
  }

  release(): void {
    for (const at of this.held.splice(0)) this.kernels.arena.release(at);
  }
}
