/** Whether showing a job came to an end, so that one that cannot be shown locks nobody out. */
const TRYING = "marsh-trying-job";

/** Of this tab alone: two that start at once do not take each other for a failure. */
function keep(id: string | null): void {
  try {
    if (id) sessionStorage.setItem(TRYING, id);
    else sessionStorage.removeItem(TRYING);
  } catch {
    // a browser that keeps nothing tries every time
  }
}

function tried(): string | null {
  try {
    return sessionStorage.getItem(TRYING);
  } catch {
    return null;
  }
}

/** Whether a job may be shown by itself: not where that was tried last and came to no end; then the next time tries again. */
export function mayShow(id: string): boolean {
  const failed = tried() === id;
  keep(failed ? null : id);
  return !failed;
}

/** The screen stands, or why it does not was said. */
export const wasShown = (): void => keep(null);
