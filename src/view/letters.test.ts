/** @jest-environment jsdom */
import { isSwitchedOff, recallLetters, switchLetters, takesArrows, takesLetters, useLetters } from "./letters";

const held = new Map<string, string>();
beforeAll(() =>
  Object.defineProperty(globalThis, "localStorage", {
    configurable: true,
    value: { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v) },
  }),
);
const key = (name: string, ctrlKey = false) => ({ key: name, ctrlKey, metaKey: false, altKey: false });

it("switched off, single letters and signs do nothing; arrows, Enter and what goes with Ctrl do", () => {
  const keys = [key("w"), key("U"), key(","), key("5"), key("ArrowUp"), key("Enter"), key("z", true)];
  expect(keys.map(isSwitchedOff)).toEqual(keys.map(() => false));
  switchLetters(false);
  expect(keys.map(isSwitchedOff)).toEqual([true, true, true, true, false, false, false]);
});

it("is recalled", () => {
  useLetters.setState({ on: true });
  recallLetters();
  expect(useLetters.getState().on).toBe(false);
  switchLetters(true);
  recallLetters();
  expect(useLetters.getState().on).toBe(true);
});

it("letters and arrows go to what needs them itself", () => {
  document.body.innerHTML = `<input id="field"><textarea id="note"></textarea><input type="range" id="range"><button id="opener" aria-haspopup="listbox"></button>
    <div role="listbox"><span id="option"></span></div><div role="row"><button id="inRow"></button></div><div role="slider" id="slider"></div><button id="button"></button>`;
  const told = (ask: (target: EventTarget | null) => boolean) => [...document.querySelectorAll("[id]")].filter(ask).map((e) => e.id);
  expect(told(takesLetters)).toEqual(["field", "note", "opener", "option"]);
  expect(told(takesArrows)).toEqual(["field", "note", "range", "opener", "option", "inRow", "slider"]);
  expect([takesLetters(null), takesArrows(window)]).toEqual([false, false]);
});
