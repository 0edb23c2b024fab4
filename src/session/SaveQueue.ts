import type { Step } from "../document/history";
import { StorageError, type JobEntry } from "../storage/database";
import type { PlacedStep } from "../storage/jobStore";

/** A job as it is to be stored. */
export interface Snapshot {
  entry: JobEntry;
  steps: readonly Step[];
}

interface Options {
  /** the state of now */
  snapshot(): Snapshot;
  /** @param others whether further steps lie in the storage @throws StorageError "cleared" where they do not any more */
  write(entry: JobEntry, steps: PlacedStep[], others: boolean): Promise<void>;
  /** What lay in the storage is gone; all of it is being stored again. */
  onCleared(): void;
  onState(state: "saving" | "saved" | "unsaved"): void;
  onError(error: unknown): void;
}

/** How long to wait before a save that failed is tried again, ms. */
const AGAIN_MS = 5000;

/**
 * Saves a job: one write at a time, at once where none is under way, else right after it. Only steps that are new or were changed since they were
 * stored are written, so a save costs the same however long the history is.
 */
export class SaveQueue {
  private stored: readonly Step[];
  private running: Promise<boolean> | null = null;
  private wanted = false;
  private again: ReturnType<typeof setTimeout> | null = null;
  private ended = false;

  /** @param stored the steps that lie in the storage already */
  constructor(
    private readonly options: Options,
    stored: readonly Step[],
  ) {
    this.stored = stored;
  }

  /** Something changed. */
  touch(): void {
    if (this.ended) return;
    this.wanted = true;
    this.options.onState("unsaved");
    void this.flush();
  }

  /** Waits until everything is stored. @returns whether it is */
  flush(): Promise<boolean> {
    this.running ??= this.work().finally(() => (this.running = null));
    return this.running;
  }

  /** These steps lie in the storage. */
  follow(steps: readonly Step[]): void {
    this.stored = steps;
  }

  /** Nothing is saved any more. */
  end(): void {
    this.ended = true;
    if (this.again) clearTimeout(this.again);
  }

  private async work(): Promise<boolean> {
    if (this.again) clearTimeout(this.again);
    this.again = null;
    while (this.wanted && !this.ended) {
      this.wanted = false;
      const { entry, steps } = this.options.snapshot();
      this.options.onState("saving");
      try {
        await this.options.write(entry, this.changed(steps), this.stored.length > 0);
        this.stored = steps;
      } catch (error) {
        if (error instanceof StorageError && error.reason === "cleared") {
          this.stored = [];
          this.wanted = true;
          this.options.onCleared();
          continue;
        }
        this.wanted = true;
        this.options.onState("unsaved");
        this.options.onError(error);
        if (!this.ended) this.again = setTimeout(() => void this.flush(), AGAIN_MS);
        return false;
      }
    }
    if (!this.wanted) this.options.onState("saved");
    return !this.wanted;
  }

  private changed(steps: readonly Step[]): PlacedStep[] {
    return steps.flatMap((step, place): PlacedStep[] => (step === this.stored[place] ? [] : [[place, step]]));
  }
}
