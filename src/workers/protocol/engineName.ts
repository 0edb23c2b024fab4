/** What the engine's worker is called: on how many threads it computes, at most; null for all cores. */
export const engineName = (threads: number | null): string => (threads === null ? "engine" : `engine on ${threads}`);

/** @returns null for all cores */
export function threadsOfName(name: string): number | null {
  const found = /^engine on (\d+)$/.exec(name);
  return found ? Number(found[1]) : null;
}
