import { chooseThreads, chosenThreads, threadChoices } from "./threads";

const kept = new Map<string, string>();
beforeAll(() => {
  Object.defineProperty(globalThis, "localStorage", {
    configurable: true,
    value: { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v), removeItem: (k: string) => kept.delete(k) },
  });
  Object.defineProperty(globalThis, "navigator", { configurable: true, value: { hardwareConcurrency: 8 } });
});

it("offers all cores and ever half of them", () => {
  expect(threadChoices(8)).toEqual([8, 4, 2, 1]);
  expect(threadChoices(6)).toEqual([6, 3, 2, 1]);
  expect(threadChoices(1)).toEqual([1]);
});

it("keeps the choice, and takes what does not fit this machine for all cores", () => {
  expect(chosenThreads()).toBeNull();
  chooseThreads(2);
  expect(chosenThreads()).toBe(2);
  for (const damaged of ["9", "0", "-1", "1.5", "many", ""]) {
    kept.set("marsh-threads", damaged);
    expect(chosenThreads()).toBeNull();
  }
  chooseThreads(4);
  chooseThreads(null);
  expect(kept.size).toBe(0);
});
