import { create } from "zustand";
import { MERGE_METHODS, type MergeMethod } from "../kinds/merges/records";
import { message } from "../messages/message";
import { sentence } from "../messages/sentence";
import { JUDGED, type Judged } from "./judgedAs";
import { STAGES, type Stage } from "../session/stages";

/** What a single key can do. */
export type Act = keyof typeof KEYS_AT_FIRST;

/** The key of each act as long as the person gives it no other: a letter, a capital with Shift, or a sign; "" for none. */
export const KEYS_AT_FIRST = {
  ...(Object.fromEntries(STAGES.map((stage, i) => [`go/${stage}`, String(i + 1)])) as Record<`go/${Stage}`, string>),
  undo: "u",
  redo: "U",
  logbook: "l",
  foldPanels: "p",
  foldLedger: "q",
  foldBench: "i",
  wholePicture: "w",
  oneToOne: "o",
  judgeMono: "y",
  allJobs: "j",
  findAction: "a",
  keySheet: "k",
  compare: "c",
  reveal: "r",
  conceal: "n",
  maskView: "m",
  invertMask: "t",
  withoutMask: "e",
  withoutLayer: "b",
  straight: "d",
  drawBrush: "s",
  turnLeft: ",",
  turnRight: ".",
  group: "",
  compareSet: "",
  register: "",
  mergeAsProposed: "",
  ...(Object.fromEntries(MERGE_METHODS.map((method) => [`merge/${method}`, ""])) as Record<`merge/${MergeMethod}`, string>),
  ...(Object.fromEntries(JUDGED.map((judged) => [`judge/${judged}`, ""])) as Record<`judge/${Judged}`, string>),
  inspect: "",
  stop: "",
  saveCopy: "",
  openFiles: "",
};
const ACTS = Object.keys(KEYS_AT_FIRST) as Act[];

const KEPT = "marsh-keys";
/** Where it was kept that letters are switched off before keys could be given. */
const KEPT_BEFORE = "marsh-letters";

interface Keys {
  /** Whether single letters and signs do something. Whoever speaks to the machine, or types by mistake, can switch them off. @see WCAG 2.2, 2.1.4 */
  on: boolean;
  of: Record<Act, string>;
}
export const useKeys = create<Keys>(() => ({ on: true, of: KEYS_AT_FIRST }));

/** The picture has these while it is tabbed to, a button Space. */
const TAKEN = [" ", "+", "-"];

/** Whether a single key may be given to an act. */
export const canBeGiven = (key: string): boolean => key === "" || (key.length === 1 && !TAKEN.includes(key));

/** The keys once an act has been given one. An act that had it gets the other's in turn, so that none is lost. */
function given(of: Keys["of"], act: Act, key: string): Keys["of"] {
  const other = ACTS.find((a) => a !== act && key !== "" && of[a] === key);
  return { ...of, ...(other && { [other]: of[act] }), [act]: key };
}

export function recallKeys(): void {
  try {
    const kept = JSON.parse(localStorage.getItem(KEPT) ?? "null") as { on?: unknown; of?: Record<string, unknown> } | null;
    let of: Keys["of"] = KEYS_AT_FIRST;
    for (const act of ACTS) {
      const key = kept?.of?.[act];
      if (typeof key === "string" && canBeGiven(key)) of = given(of, act, key);
    }
    useKeys.setState({ on: kept ? kept.on !== false : localStorage.getItem(KEPT_BEFORE) !== "off", of });
  } catch {
    // a browser that keeps nothing begins anew
  }
}

function set(keys: Partial<Keys>): void {
  useKeys.setState(keys);
  try {
    localStorage.setItem(KEPT, JSON.stringify(useKeys.getState()));
  } catch {
    // for this time only
  }
}

export const switchKeys = (on: boolean): void => set({ on });
export const resetKeys = (): void => set({ of: KEYS_AT_FIRST });

/** Gives an act a key, "" for none. @returns the act that had it and has the other's now */
export function giveKey(act: Act, key: string): Act | null {
  const before = useKeys.getState().of;
  set({ of: given(before, act, key) });
  return ACTS.find((a) => a !== act && key !== "" && before[a] === key) ?? null;
}

/** A key as a person reads it. */
export function keyName(key: string): string {
  if (key === "") return sentence("shell/noKey");
  if (key === " ") return sentence("shell/space");
  return key === key.toLowerCase() ? key : sentence(message("shell/withShift", { key: key.toLowerCase() }));
}

/** The key of an act as a person reads it; null while it has none. */
export const useKeyName = (act: Act): string | null => useKeys(({ on, of }) => (on && of[act] !== "" ? keyName(of[act]) : null));

type Pressed = Pick<KeyboardEvent, "key" | "shiftKey" | "ctrlKey" | "metaKey" | "altKey">;

/** The single letter or sign that is pressed, a capital only with Shift, not by Caps Lock; null for other keys and combinations. */
export function signOf({ key, shiftKey, ctrlKey, metaKey, altKey }: Pressed): string | null {
  if (key.length !== 1 || ctrlKey || metaKey || altKey) return null;
  return shiftKey ? key.toUpperCase() : key.toLowerCase();
}

/** The act of a key that is pressed; null where it has none or keys are switched off. */
export function actOf(event: Pressed): Act | null {
  const { on, of } = useKeys.getState();
  const sign = on ? signOf(event) : null;
  return sign === null ? null : (ACTS.find((act) => of[act] === sign) ?? null);
}

/** Whether a key is one that was switched off. */
export const isSwitchedOff = (event: Pressed): boolean => !useKeys.getState().on && signOf(event) !== null;

/** Whether letters go to what has the keys: a field, or a choice that finds by letters. */
export const takesLetters = (target: EventTarget | null): boolean =>
  target instanceof Element &&
  target.closest("input:not([type=range], [type=radio], [type=checkbox]), textarea, [contenteditable], [aria-haspopup=listbox], [role=listbox]") !== null;

/** Whether arrow keys go to what has the keys: a field, a row, a slider, a list or a dialog. */
export const takesArrows = (target: EventTarget | null): boolean =>
  target instanceof Element && (takesLetters(target) || target.closest("input, [role=slider], [role=row], [role=menu], [role=dialog]") !== null);
