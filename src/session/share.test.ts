import { canShare, share } from "./share";
import { useSession } from "./store";

const file = new File(["x"], "creek.jpg", { type: "image/jpeg" });
const system = (made: object) => Object.defineProperty(globalThis, "navigator", { configurable: true, value: made });
const plain = globalThis.navigator;
afterAll(() => system(plain));
const told = () => useSession.getState().notices.map((n) => n.code ?? n.told);
const failing = (name: string) => ({ share: () => Promise.reject(Object.assign(new Error(name), { name })) });

it("is offered where the system takes such files only", () => {
  system({});
  expect(canShare(file)).toBe(false);
  const asked: File[][] = [];
  system({ canShare: ({ files }: { files: File[] }) => (asked.push(files), files[0].type === "image/jpeg") });
  expect([canShare(file), canShare(new File(["x"], "creek.hdr"))]).toEqual([true, false]);
  expect(asked[0]).toEqual([file]);
});

it("hands the file over; a sheet that is closed is no failure, another is told", async () => {
  const given: object[] = [];
  system({ share: async (what: object) => void given.push(what) });
  await share(file);
  expect(given).toEqual([{ files: [file] }]);
  system(failing("AbortError"));
  await share(file);
  expect(told()).toEqual([]);
  system(failing("NotAllowedError"));
  await share(file);
  expect(useSession.getState().notices).toHaveLength(1);
});
