import { mayShow, wasShown } from "./showing";

function newTab(): void {
  const held = new Map<string, string>();
  const value = { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v), removeItem: (k: string) => held.delete(k) };
  Object.defineProperty(globalThis, "sessionStorage", { configurable: true, value });
}
beforeEach(newTab);

it("a job that was shown is shown again; one that never was is left alone once, then tried again", () => {
  expect(mayShow("a")).toBe(true);
  wasShown();
  expect(mayShow("a")).toBe(true);
  // the screen fell down: nobody says that it stands
  expect(mayShow("a")).toBe(false);
  expect(mayShow("a")).toBe(true);
});

it("another job, and a second tab that starts at the same moment, are shown", () => {
  expect(mayShow("a")).toBe(true);
  expect(mayShow("b")).toBe(true);
  newTab();
  expect(mayShow("b")).toBe(true);
});
