/** @jest-environment jsdom */
import { actOf, canBeGiven, giveKey, isSwitchedOff, KEYS_AT_FIRST, recallKeys, resetKeys, switchKeys, takesArrows, takesLetters, useKeys } from "./keys";

const held = new Map<string, string>();
beforeAll(() =>
  Object.defineProperty(globalThis, "localStorage", {
    configurable: true,
    value: { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v) },
  }),
);
beforeEach(() => {
  switchKeys(true);
  resetKeys();
});
const key = (name: string, held: { ctrlKey?: true; shiftKey?: true } = {}) => ({
  key: name,
  ctrlKey: false,
  metaKey: false,
  altKey: false,
  shiftKey: false,
  ...held,
});

it("switched off, single letters and signs do nothing; arrows, Enter and what goes with Ctrl do", () => {
  const keys = [key("w"), key("U"), key(","), key("5"), key("ArrowUp"), key("Enter"), key("z", { ctrlKey: true })];
  expect(keys.map(isSwitchedOff)).toEqual(keys.map(() => false));
  expect(actOf(key("w"))).toBe("wholePicture");
  switchKeys(false);
  expect(keys.map(isSwitchedOff)).toEqual([true, true, true, true, false, false, false]);
  expect(actOf(key("w"))).toBeNull();
});

it("a capital is meant with Shift only, whatever Caps Lock does to the letter", () => {
  expect([key("u"), key("U"), key("U", { shiftKey: true }), key("u", { shiftKey: true }), key("u", { ctrlKey: true })].map(actOf)).toEqual([
    "undo",
    "undo",
    "redo",
    "redo",
    null,
  ]);
});

it("an act is given another key, and whose it was gets the other's: no act is lost, no key has two", () => {
  expect(giveKey("logbook", "z")).toBeNull();
  expect([actOf(key("z")), actOf(key("l"))]).toEqual(["logbook", null]);
  expect(giveKey("logbook", "u")).toBe("undo");
  expect([actOf(key("u")), actOf(key("z"))]).toEqual(["logbook", "undo"]);
  // one that had none takes it away
  expect(giveKey("register", "w")).toBe("wholePicture");
  expect(useKeys.getState().of.wholePicture).toBe("");
  expect(giveKey("register", "")).toBeNull();
  expect(useKeys.getState().of.register).toBe("");
  expect([" ", "+", "-", "Enter", "x", "ß", ";", ""].map(canBeGiven)).toEqual([false, false, false, false, true, true, true, true]);
});

it("keys are recalled, also after acts were added, and never two the same", () => {
  giveKey("logbook", "u");
  giveKey("reveal", "#");
  switchKeys(false);
  const { of } = useKeys.getState();
  useKeys.setState({ on: true, of: KEYS_AT_FIRST });
  recallKeys();
  expect(useKeys.getState()).toEqual({ on: false, of });
  const keptAs = (kept: unknown) => {
    held.set("marsh-keys", typeof kept === "string" ? kept : JSON.stringify(kept));
    recallKeys();
    return useKeys.getState();
  };
  expect(keptAs({ on: true, of: { logbook: "x", gone: "y", undo: 5, redo: "long", compare: " " } })).toEqual({
    on: true,
    of: { ...KEYS_AT_FIRST, logbook: "x" },
  });
  const given = Object.values(keptAs({ of: { logbook: "x", undo: "x", redo: "c" } }).of).filter(Boolean);
  expect(new Set(given).size).toBe(given.length);
  useKeys.setState({ on: true, of: KEYS_AT_FIRST });
  for (const damaged of ["{", "[]", "7", '{"of":null}']) expect(keptAs(damaged).of).toEqual(KEYS_AT_FIRST);
});

it("who had switched letters off before keys could be given has them off still", () => {
  held.clear();
  held.set("marsh-letters", "off");
  recallKeys();
  expect(useKeys.getState().on).toBe(false);
  switchKeys(true);
  recallKeys();
  expect(useKeys.getState().on).toBe(true);
});

it("no two acts have one key to begin with", () => {
  const keys = Object.values(KEYS_AT_FIRST).filter(Boolean);
  expect(new Set(keys).size).toBe(keys.length);
});

it("letters and arrows go to what needs them itself", () => {
  document.body.innerHTML = `<input id="field"><textarea id="note"></textarea><input type="range" id="range"><button id="opener" aria-haspopup="listbox"></button>
    <div role="listbox"><span id="option"></span></div><div role="row"><button id="inRow"></button></div><div role="slider" id="slider"></div><button id="button"></button>`;
  const told = (ask: (target: EventTarget | null) => boolean) => [...document.querySelectorAll("[id]")].filter(ask).map((e) => e.id);
  expect(told(takesLetters)).toEqual(["field", "note", "opener", "option"]);
  expect(told(takesArrows)).toEqual(["field", "note", "range", "opener", "option", "inRow", "slider"]);
  expect([takesLetters(null), takesArrows(window)]).toEqual([false, false]);
});
