import { lastJob, remember, wasShown } from "./lastJob";

function keeper() {
  const held = new Map<string, string>();
  return { getItem: (k: string) => held.get(k) ?? null, setItem: (k: string, v: string) => held.set(k, v), removeItem: (k: string) => held.delete(k) };
}
const put = (name: string) => Object.defineProperty(globalThis, name, { configurable: true, value: keeper() });
beforeAll(() => ["localStorage", "sessionStorage"].forEach(put));

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

it("a second tab that starts at the same moment shows the job too", () => {
  remember("b");
  expect(lastJob()).toEqual({ id: "b", failed: false });
  put("sessionStorage");
  expect(lastJob()).toEqual({ id: "b", failed: false });
});
