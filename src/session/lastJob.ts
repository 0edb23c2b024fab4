/** Which job was shown last, so that the next start shows it again; and whether showing it came to an end, so that one that cannot be shown locks nobody out. */
const LAST = "marsh-last-job";
const TRYING = "marsh-trying-job";

function keep(key: string, id: string | null): void {
  try {
    if (id) localStorage.setItem(key, id);
    else localStorage.removeItem(key);
  } catch {
    // a browser that keeps nothing shows the list of jobs
  }
}

function kept(key: string): string | null {
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

export const remember = (id: string | null): void => keep(LAST, id);

/** The job shown last, and whether it could not be shown when it was last tried; then the next time tries again. */
export function lastJob(): { id: string; failed: boolean } | null {
  const id = kept(LAST);
  if (!id) return null;
  const failed = kept(TRYING) === id;
  keep(TRYING, failed ? null : id);
  return { id, failed };
}

/** The screen stands. */
export const wasShown = (): void => keep(TRYING, null);
