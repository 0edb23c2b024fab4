import { lastJob, remember, wasShown } from "./lastJob";

const held = new Map<string, string>();
beforeAll(() =>
  Object.defineProperty(globalThis, "localStorage", {
    configurable: true,
    value: { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v), removeItem: (k: string) => held.delete(k) },
  }),
);

it("a job that was shown is shown again; one that never was is left alone once, then tried again", () => {
  expect(lastJob()).toBeNull();
  remember("a");
  expect(lastJob()).toEqual({ id: "a", failed: false });
  wasShown();
  expect(lastJob()).toEqual({ id: "a", failed: false });
  // the screen fell down: nobody says that it stands
  expect(lastJob()).toEqual({ id: "a", failed: true });
  expect(lastJob()).toEqual({ id: "a", failed: false });
  wasShown();
  remember(null);
  expect(lastJob()).toBeNull();
});
