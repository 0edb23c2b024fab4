import { putReceived, takeReceived } from "./receivedFiles";

const kept = new Map<string, Response>();
beforeAll(() => {
  const keyOf = (r: Request | string) => (typeof r === "string" ? new URL(r, "http://localhost/").href : r.url);
  const cache = {
    put: async (path: string, answer: Response) => void kept.set(keyOf(path), answer),
    keys: async () => [...kept.keys()].map((url) => ({ url })),
    match: async (r: Request) => kept.get(keyOf(r)),
    delete: async (r: Request) => kept.delete(keyOf(r)),
  };
  Object.assign(globalThis, { caches: { open: async () => cache } });
});
afterAll(() => Reflect.deleteProperty(globalThis, "caches"));

it("files of several sheets wait in the order they came, under their names, and are taken once", async () => {
  await putReceived([new File(["1"], "reeds / dusk 100%.jpg"), new File(["22"], "a.dng")], 1);
  await putReceived([new File(["333"], "a.dng")], 2);
  const taken = await takeReceived();
  expect(taken.map((f) => f.name)).toEqual(["reeds / dusk 100%.jpg", "a.dng", "a.dng"]);
  expect(await Promise.all(taken.map((f) => f.text()))).toEqual(["1", "22", "333"]);
  expect(await takeReceived()).toEqual([]);
});

it("a browser that keeps nothing brings nothing", async () => {
  const { caches } = globalThis;
  Reflect.deleteProperty(globalThis, "caches");
  expect(await takeReceived()).toEqual([]);
  Object.assign(globalThis, { caches });
});
