import { Refusal } from "../core/refusal";

/** First-fit allocator over the kernels' memory. Blocks are 16-byte aligned with slack behind for wide loads. */
export class Arena {
  private free: { at: number; size: number }[] = [];
  private readonly used = new Map<number, number>();
  private end: number;

  constructor(
    private readonly memory: WebAssembly.Memory,
    start: number,
  ) {
    this.end = start;
  }

  /** @returns address of at least `bytes` bytes @throws RangeError where the budget of 1 GiB is used up */
  allocate(bytes: number): number {
    const size = Math.ceil((bytes + 64) / 64) * 64;
    const index = this.free.findIndex((block) => block.size >= size);
    if (index >= 0) {
      const block = this.free[index];
      this.used.set(block.at, size);
      if (block.size === size) this.free.splice(index, 1);
      else this.free[index] = { at: block.at + size, size: block.size - size };
      return block.at;
    }
    const last = this.free[this.free.length - 1];
    const at = last && last.at + last.size === this.end ? last.at : this.end;
    const missing = at + size - this.memory.buffer.byteLength;
    if (missing > 0) {
      try {
        this.memory.grow(Math.ceil(missing / 65536));
      } catch {
        throw new Refusal("memory", "engine.memory");
      }
    }
    if (last && at === last.at) this.free.pop();
    this.used.set(at, size);
    this.end = Math.max(this.end, at + size);
    return at;
  }

  release(at: number): void {
    const size = this.used.get(at);
    if (size === undefined) throw new RangeError(`Address ${at} is not allocated.`);
    this.used.delete(at);
    const index = this.free.findIndex((block) => block.at > at);
    this.free.splice(index < 0 ? this.free.length : index, 0, { at, size });
    this.free = this.free.reduce<{ at: number; size: number }[]>((merged, block) => {
      const previous = merged[merged.length - 1];
      if (previous && previous.at + previous.size === block.at) previous.size += block.size;
      else merged.push({ ...block });
      return merged;
    }, []);
  }

  /** Bytes in use, for tests and figures. */
  get inUse(): number {
    let sum = 0;
    for (const size of this.used.values()) sum += size;
    return sum;
  }
}
