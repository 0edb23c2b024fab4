/** What tabs tell each other about jobs. */
export type TabMessage = { saved: string } | { removed: string };

/** The right to change a job, which one tab has at a time. */
export interface HeldLock {
  release(): void;
}

const nameOf = (jobId: string) => `marsh-job-${jobId}`;

/** Takes the right to change a job. @returns null where another tab has it */
export async function takeLock(jobId: string): Promise<HeldLock | null> {
  if (!globalThis.navigator?.locks) return { release: () => undefined };
  return new Promise((resolve, reject) => {
    navigator.locks
      .request(nameOf(jobId), { ifAvailable: true }, (lock) => {
        if (!lock) return resolve(null);
        return new Promise<void>((release) => resolve({ release }));
      })
      .catch(reject);
  });
}

/** Waits for the right to change a job until the tab that has it lets go. @param onTaken called once with it */
export function waitForLock(jobId: string, signal: AbortSignal, onTaken: (lock: HeldLock) => void): void {
  if (!globalThis.navigator?.locks) return;
  navigator.locks
    .request(nameOf(jobId), { signal }, () => new Promise<void>((release) => onTaken({ release })))
    .catch((error: Error) => {
      if (error.name !== "AbortError") throw error;
    });
}

let channel: BroadcastChannel | null = null;
const listeners = new Set<(message: TabMessage) => void>();

function open(): BroadcastChannel | null {
  if (channel || typeof BroadcastChannel === "undefined") return channel;
  channel = new BroadcastChannel("marsh-jobs");
  channel.onmessage = ({ data }: MessageEvent<TabMessage>) => listeners.forEach((listen) => listen(data));
  return channel;
}

/** Tells the other tabs. */
export const tell = (message: TabMessage): void => open()?.postMessage(message);

/** Hears what the other tabs tell. */
export function hear(listen: (message: TabMessage) => void): void {
  open();
  listeners.add(listen);
}

/** Ends the talk between tabs, where a tab ends without its process. */
export function hangUp(): void {
  channel?.close();
  channel = null;
  listeners.clear();
}
