/** Demo jobs come file by file, stay under their checksums, and say one thing where they do not come. */
import { createHash } from "node:crypto";
import { openTabs, settle } from "../../tests/support/tabs";

const tab = openTabs();
const sha256 = (text: string) => createHash("sha256").update(text).digest("hex");

/** Addresses and answers, as a browser keeps them. @see W3C Service Workers, section 5.4 */
class Kept {
  readonly answers = new Map<string, Response>();
  match = async (address: string) => this.answers.get(address)?.clone();
  put = async (address: string, answer: Response) => void this.answers.set(address, answer);
  keys = async () => [...this.answers.keys()].map((address) => ({ url: `http://localhost${address}` }));
  delete = async ({ url }: { url: string }) => this.answers.delete(url.replace("http://localhost", ""));
}

interface Shelf {
  /** by name */
  files: Record<string, string>;
  answer?: (name: string, signal: AbortSignal) => Promise<Response> | null;
}

/** A server with one demo, and what it was asked for. */
function serve(shelf: Shelf): string[] {
  const asked: string[] = [];
  const list = () => Object.entries(shelf.files).map(([name, text]) => ({ name, bytes: text.length, sha256: sha256(text) }));
  jest.spyOn(globalThis, "fetch").mockImplementation(((address: string, { signal }: RequestInit = {}) => {
    asked.push(address);
    if (address === "/api/demos")
      return Promise.resolve(Response.json({ demos: [{ id: "reeds", name: "Reeds", kind: "bracket", about: "Two frames.", files: list() }] }));
    const name = /[^/]+(?=\?)/.exec(address)![0];
    return shelf.answer?.(name, signal!) ?? Promise.resolve(new Response(shelf.files[name]));
  }) as never);
  return asked;
}

let kept: Kept;
beforeEach(() => {
  kept = new Kept();
  Object.assign(globalThis, { caches: { open: async () => kept } });
});
afterEach(() => {
  jest.restoreAllMocks();
  Reflect.deleteProperty(globalThis, "caches");
});

/** A fresh tab that opens the demo. @returns its files as they reach the engine, one after the other */
async function opened() {
  const t = await tab();
  await t.actions.openDemo("reeds");
  await settle();
  const texts: string[] = [];
  for (let asked; (asked = t.asked.find(({ name }) => name === "gatherFile"));) {
    texts.push(await (asked.params.file as Blob).text());
    await asked.fail(new Error("no picture"));
  }
  await t.open.openJobOrNone()?.flush();
  return { t, texts };
}

it("a file that came is not asked for again; one that is offered with another checksum is, and the old one goes", async () => {
  const shelf: Shelf = { files: { "a.jpg": "one", "b.jpg": "two" } };
  serve(shelf);
  const first = await opened();
  expect(first.texts).toEqual(["one", "two"]);
  await first.t.jobs.closeJob();
  expect([...kept.answers.keys()].sort()).toEqual(
    Object.entries(shelf.files).map(([name, text]) => `/api/demos/reeds/${name}?sum=${sha256(text).slice(0, 16)}`),
  );
  shelf.files["b.jpg"] = "six";
  const asked = serve(shelf);
  const { texts } = await opened();
  expect([asked.filter((a) => a.includes("jpg")).map((a) => a.split("?")[0]), texts]).toEqual([["/api/demos/reeds/b.jpg"], ["one", "six"]]);
  expect(await Promise.all([...kept.answers.values()].map((a) => a.text()))).toEqual(["one", "six"]);
});

it("a browser that keeps nothing, or has no room, has the files all the same", async () => {
  serve({ files: { "a.jpg": "one" } });
  kept.put = () => Promise.reject(new DOMException("full", "QuotaExceededError"));
  const first = await opened();
  expect(first.texts).toEqual(["one"]);
  await first.t.jobs.closeJob();
  Reflect.deleteProperty(globalThis, "caches");
  expect((await opened()).texts).toEqual(["one"]);
});

it("a stop while files come is no failure: nothing is told, and the job stays empty", async () => {
  const hanging = (_: string, signal: AbortSignal) =>
    new Promise<Response>((_go, stop) => signal.addEventListener("abort", () => stop(signal.reason as Error)));
  serve({ files: { "a.jpg": "one", "b.jpg": "two" }, answer: hanging });
  const { t } = await opened();
  t.store.useSession.getState().busy!.stop();
  await settle();
  expect([t.store.useSession.getState().busy, t.notices(), t.asked.some(({ name }) => name === "gatherFile")]).toEqual([null, [], false]);
});

it("a file that is not what was offered stops the others, and one sentence says it", async () => {
  const stopped: string[] = [];
  const answer = (name: string, signal: AbortSignal) => {
    if (name === "a.jpg") return Promise.resolve(new Response("eno"));
    return new Promise<Response>((_, stop) =>
      signal.addEventListener("abort", () => {
        stopped.push(name);
        stop(signal.reason as Error);
      }),
    );
  };
  serve({ files: { "a.jpg": "one", "b.jpg": "two" }, answer });
  const { t } = await opened();
  expect([stopped, t.notices().length, t.store.useSession.getState().busy]).toEqual([["b.jpg"], 1, null]);
});

it("where no list of demos comes that is said", async () => {
  jest.spyOn(globalThis, "fetch").mockRejectedValue(new TypeError("offline"));
  const { t } = await opened();
  expect([t.notices().length, t.store.useSession.getState().jobId]).toEqual([1, null]);
});
