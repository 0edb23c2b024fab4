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

/** Whether a key is one that was switched off. */
export const isSwitchedOff = ({ key, ctrlKey, metaKey, altKey }: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "altKey">): boolean =>
  !useLetters.getState().on && key.length === 1 && !ctrlKey && !metaKey && !altKey;
