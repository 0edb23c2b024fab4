import { LRUCache } from "lru-cache";
import { CancelledError } from "../task";

/** All that is derived and kept in memory may take so much. Rasters at full size lie in the store, not here. */
export const DERIVED_BYTES = 384 << 20;

/**
 * Everything derived that is kept in memory: one budget in bytes, the things used longest ago go first. A key is made of an operation, its version
 * and parameters and the keys of its inputs, so that an entry is right for as long as it is there.
 */
export class DerivedCache {
  private readonly entries: LRUCache<string, { value: unknown }>;
  private readonly pending = new Map<string, Promise<unknown>>();

  constructor(bytes = DERIVED_BYTES) {
    this.entries = new LRUCache({ maxSize: bytes });
  }

  get<T>(key: string): T | undefined {
    return this.entries.get(key)?.value as T | undefined;
  }

  /** @param bytes that the value takes; one that is larger than the whole budget is not kept */
  set(key: string, value: unknown, bytes: number): void {
    this.entries.set(key, { value }, { size: Math.max(1, Math.ceil(bytes)) });
  }

  /** The value of a key, made where it is not at hand. */
  take<T>(key: string, make: () => T, bytesOf: (value: T) => number): T {
    const known = this.entries.get(key);
    if (known) return known.value as T;
    const value = make();
    this.set(key, value, bytesOf(value));
    return value;
  }

  /** The same of what takes long: two who ask for one key at once wait for one maker, and where that was stopped by its own person, it is made again. */
  async takeLong<T>(key: string, make: () => Promise<T>, bytesOf: (value: T) => number): Promise<T> {
    return this.makeOnce(key, async () => {
      const known = this.entries.get(key);
      if (known) return known.value as T;
      const value = await make();
      this.set(key, value, bytesOf(value));
      return value;
    });
  }

  /** Runs `make` unless the same key is being made; then waits for that. Nothing is kept. */
  async makeOnce<T>(key: string, make: () => Promise<T>): Promise<T> {
    for (let running = this.pending.get(key); running; running = this.pending.get(key)) {
      try {
        return (await running) as T;
      } catch (error) {
        if (!(error instanceof CancelledError)) throw error;
      }
    }
    const making = make().finally(() => this.pending.delete(key));
    this.pending.set(key, making);
    return making;
  }

  /** Forgets everything; what is asked for next is made anew. */
  clear(): void {
    this.entries.clear();
  }

  get bytes(): number {
    return this.entries.calculatedSize;
  }
}

/** Bytes of typed arrays. */
export const bytesOf = (...arrays: ArrayBufferView[]): number => arrays.reduce((sum, a) => sum + a.byteLength, 64);
