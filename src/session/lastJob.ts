/** Which job was shown last, so that the next start shows it again; and whether showing it came to an end, so that one that cannot be shown locks nobody out. */
const LAST = "marsh-last-job";
const TRYING = "marsh-trying-job";

type Keeper = () => Storage;
const browser: Keeper = () => localStorage;
/** Of this tab alone: two that start at once do not take each other for a failure. */
const tab: Keeper = () => sessionStorage;

function keep(keeper: Keeper, key: string, id: string | null): void {
  try {
    if (id) keeper().setItem(key, id);
    else keeper().removeItem(key);
  } catch {
    // a browser that keeps nothing shows the list of jobs
  }
}

function kept(keeper: Keeper, key: string): string | null {
  try {
    return keeper().getItem(key);
  } catch {
    return null;
  }
}

export const remember = (id: string | null): void => keep(browser, LAST, id);

/** The job shown last, and whether it could not be shown when it was last tried; then the next time tries again. */
export function lastJob(): { id: string; failed: boolean } | null {
  const id = kept(browser, LAST);
  if (!id) return null;
  const failed = kept(tab, TRYING) === id;
  keep(tab, TRYING, failed ? null : id);
  return { id, failed };
}

/** The screen stands, or why it does not was said. */
export const wasShown = (): void => keep(tab, TRYING, null);
