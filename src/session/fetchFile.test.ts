/** Files that come over a line that breaks: they go on where they were, and are what was offered. */
import { createHash, randomBytes } from "node:crypto";
import { fetchFile } from "./fetchFile";

const sha256 = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");
const never = new AbortController().signal;
let serial = 0;
const wanted = (bytes: Uint8Array) => ({ address: `/api/demos/reeds/${++serial}.jpg`, bytes: bytes.length, sha256: sha256(bytes) });

/** A server whose line breaks after so many bytes, once for each; then it holds. */
function line(bytes: Uint8Array, breaks: number[], { ranges = true } = {}) {
  const asked: (string | null)[] = [];
  const serve = (_address: string, { headers = {}, signal }: { headers?: Record<string, string>; signal: AbortSignal }) => {
    if (signal.aborted) return Promise.reject(signal.reason as Error);
    asked.push(headers.range ?? null);
    const from = ranges && headers.range && headers["if-range"] === `"${sha256(bytes)}"` ? Number(/bytes=(\d+)-/.exec(headers.range)![1]) : 0;
    const until = breaks.length > 0 ? from + breaks.shift()! : bytes.length;
    let at = from;
    const body = new ReadableStream<Uint8Array>({
      pull: (controller) => {
        if (at >= Math.min(until, bytes.length)) return until < bytes.length ? controller.error(new TypeError("network error")) : controller.close();
        const next = Math.min(at + 1000, until, bytes.length);
        controller.enqueue(bytes.slice(at, next));
        at = next;
      },
    });
    return Promise.resolve(new Response(body, { status: from > 0 ? 206 : 200 }));
  };
  jest.spyOn(globalThis, "fetch").mockImplementation(serve as never);
  return asked;
}
afterEach(() => jest.restoreAllMocks());
const bytesOf = async (blob: Blob) => Buffer.from(await blob.arrayBuffer());

it("one that breaks off twice goes on from where it was, and is the same", async () => {
  const bytes = randomBytes(9500);
  const asked = line(bytes, [4000, 3000]);
  const heard: number[] = [];
  const file = await fetchFile(wanted(bytes), never, (n) => heard.push(n), 0);
  expect((await bytesOf(file)).equals(bytes)).toBe(true);
  expect(asked).toEqual([null, "bytes=4000-", "bytes=7000-"]);
  expect(heard).toEqual([...heard].sort((a, b) => a - b));
  expect(heard.at(-1)).toBe(9500);
});

it("where no ranges are served it begins anew", async () => {
  const bytes = randomBytes(5000);
  line(bytes, [2000], { ranges: false });
  expect((await bytesOf(await fetchFile(wanted(bytes), never, () => undefined, 0))).equals(bytes)).toBe(true);
});

it("a line that breaks again and again is given up with a sentence, and the next try goes on", async () => {
  const bytes = randomBytes(9000);
  const file = wanted(bytes);
  const asked = line(bytes, [1000, 1000, 1000, 1000]);
  await expect(fetchFile(file, never, () => undefined, 0)).rejects.toMatchObject({ told: { code: "going.demo" } });
  expect((await bytesOf(await fetchFile(file, never, () => undefined, 0))).equals(bytes)).toBe(true);
  expect(asked).toEqual([null, "bytes=1000-", "bytes=2000-", "bytes=3000-", "bytes=4000-"]);
});

it("a stop is a stop; what came stays for the next time", async () => {
  const bytes = randomBytes(6000);
  const file = wanted(bytes);
  const asked = line(bytes, [2000]);
  const controller = new AbortController();
  const stopped = fetchFile(file, controller.signal, (n) => n >= 2000 && controller.abort(), 0);
  await expect(stopped).rejects.toMatchObject({ name: "AbortError" });
  expect(asked).toHaveLength(1);
  await fetchFile(file, never, () => undefined, 0);
  expect(asked).toEqual([null, "bytes=2000-"]);
});

it("two that fetch the same at the same time do not mix what comes", async () => {
  const bytes = randomBytes(8000);
  const file = wanted(bytes);
  line(bytes, [3000, 2000]);
  const both = await Promise.all([1, 2].map(() => fetchFile(file, never, () => undefined, 0)));
  for (const blob of both) expect((await bytesOf(blob)).equals(bytes)).toBe(true);
});

it("what is not what was offered is refused, and not kept", async () => {
  const bytes = randomBytes(3000);
  const file = { ...wanted(bytes), sha256: sha256(Buffer.from("else")) };
  line(bytes, []);
  await expect(fetchFile(file, never, () => undefined, 0)).rejects.toMatchObject({ told: { code: "going.demo" } });
  const asked = line(bytes, []);
  await fetchFile({ ...file, sha256: sha256(bytes) }, never, () => undefined, 0);
  expect(asked).toEqual([null]);
});
