/** On how many threads the engine computes: the person's choice for this browser, for it says nothing of a job. */
const KEY = "marsh-threads";

/** Threads there could be: one a core. */
export const mostThreads = (): number => Math.max(1, globalThis.navigator?.hardwareConcurrency || 1);

/** @returns threads to compute on, null: all cores */
export function chosenThreads(): number | null {
  try {
    const value = Number(localStorage.getItem(KEY));
    return Number.isInteger(value) && value >= 1 && value < mostThreads() ? value : null;
  } catch {
    return null;
  }
}

export function chooseThreads(threads: number | null): void {
  try {
    if (threads === null) localStorage.removeItem(KEY);
    else localStorage.setItem(KEY, String(threads));
  } catch {
    // a browser that keeps nothing computes on all cores
  }
}

/** Choices offered: all cores, then ever half of them. */
export function threadChoices(most = mostThreads()): number[] {
  const out = [];
  for (let n = most; n >= 1; n = n === 1 ? 0 : Math.ceil(n / 2)) out.push(n);
  return out;
}
