import type { KeyboardEvent } from "react";

/** Moves a choice along a table by the arrow keys. */
export function rowKeys(ids: string[], chosen: string, choose: (id: string) => void) {
  return (event: KeyboardEvent) => {
    const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
    if (!step) return;
    event.preventDefault();
    const next = ids[Math.min(ids.length - 1, Math.max(0, ids.indexOf(chosen) + step))];
    choose(next);
    (event.currentTarget.parentElement?.children[ids.indexOf(next)] as HTMLElement | undefined)?.focus();
  };
}
