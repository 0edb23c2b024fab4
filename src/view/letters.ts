import { create } from "zustand";

const KEPT = "marsh-letters";

/** Whether single letters and signs do something. Whoever speaks to the machine, or types by mistake, can switch them off. @see WCAG 2.2, 2.1.4 */
export const useLetters = create<{ on: boolean }>(() => ({ on: true }));

export function recallLetters(): void {
  try {
    useLetters.setState({ on: localStorage.getItem(KEPT) !== "off" });
  } catch {
    // a browser that keeps nothing begins anew
  }
}

export function switchLetters(on: boolean): void {
  useLetters.setState({ on });
  try {
    localStorage.setItem(KEPT, on ? "on" : "off");
  } catch {
    // for this time only
  }
}

/** Whether letters go to what has the keys: a field, or a choice that finds by letters. */
export const takesLetters = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest("input:not([type=range], [type=radio], [type=checkbox]), textarea, [contenteditable], [aria-haspopup=listbox], [role=listbox]") !== null;

/** Whether arrow keys go to what has the keys: a field, a row, a slider, a list or a dialog. */
export const takesArrows = (target: EventTarget | null): boolean =>
  target instanceof Element && (takesLetters(target) || target.closest("input, [role=slider], [role=row], [role=menu], [role=dialog]") !== null);

/** Whether a key is one that was switched off. */
export const isSwitchedOff = ({ key, ctrlKey, metaKey, altKey }: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey">): boolean =>
  !useLetters.getState().on && key.length === 1 && !ctrlKey && !metaKey && !altKey;
