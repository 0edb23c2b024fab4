/** What the browser grants. */
export interface Room {
  usedBytes: number;
  freeBytes: number;
  persistent: boolean;
}

/** How much the browser still grants; asks for persistent storage. */
export async function measureRoom(): Promise<Room | null> {
  if (!globalThis.navigator?.storage?.estimate) return null;
  const persistent = (await navigator.storage.persist?.().catch(() => false)) ?? false;
  const { usage = 0, quota = 0 } = await navigator.storage.estimate();
  return { usedBytes: usage, freeBytes: Math.max(0, quota - usage), persistent };
}
