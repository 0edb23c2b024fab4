/** The server's first rooms, without the framework: what is offered, ranges of bytes, and what is refused. */
import { createHash, randomBytes } from "node:crypto";
import { existsSync, readFileSync, mkdirSync, mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { isMessage, type Message } from "../messages/message";
import { sentence } from "../messages/sentence";
import { answered, type Answer, type Headers } from "./answer";
import { rangeOf } from "./byteRange";
import { Demos, type OfferedDemo } from "./demos";

const headers =
  (of: Record<string, string> = {}): Headers =>
  (name) =>
    of[name] ?? null;
const bytesOf = async ({ body }: Answer) => new Uint8Array(await new Response(body).arrayBuffer());
const told = ({ body }: Answer) => JSON.parse(body as string) as Message;
const sha256 = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");

const A = randomBytes(70_000);
function shelf() {
  const folder = mkdtempSync(join(tmpdir(), "marsh-demos-"));
  mkdirSync(join(folder, "reeds"));
  writeFileSync(join(folder, "reeds", "a.jpg"), A);
  writeFileSync(join(folder, "reeds", "b.jpg"), "second");
  writeFileSync(join(folder, "reeds", "truth.json"), "{}");
  writeFileSync(
    join(folder, "jobs.json"),
    JSON.stringify({ jobs: [{ id: "reeds", name: "Reeds", kind: "bracket", about: "Two frames.", files: ["reeds/a.jpg", "reeds/b.jpg"] }] }),
  );
  return { folder, demos: new Demos(folder) };
}

describe("ranges of bytes, as RFC 9110 has them", () => {
  it.each([
    // the examples of 14.1.2, of 10 000 bytes
    ["bytes=0-499", { first: 0, last: 499 }],
    ["bytes=500-999", { first: 500, last: 999 }],
    ["bytes=-500", { first: 9500, last: 9999 }],
    ["bytes=9500-", { first: 9500, last: 9999 }],
    ["bytes=9999-20000", { first: 9999, last: 9999 }],
    ["bytes=-20000", { first: 0, last: 9999 }],
    ["bytes=10000-", "beyond"],
    ["bytes=-0", "beyond"],
    // several, other units and what makes no sense: the whole
    ["bytes=0-0,-1", null],
    ["bytes=500-400", null],
    ["bytes=-", null],
    ["lines=1-2", null],
    ["bytes=1.5-2", null],
    [null, null],
  ])("%s", (header, range) => expect(rangeOf(header, 10_000)).toEqual(range));

  it("whatever is sent, what comes of it lies within the file", () => {
    const text = fc.oneof(
      fc.string(),
      fc.tuple(fc.integer(), fc.integer()).map(([a, b]) => `bytes=${a}-${b}`),
      fc.stringMatching(/^bytes=[0-9]{0,20}-[0-9]{0,20}$/),
    );
    fc.assert(
      fc.property(text, fc.integer({ min: 1, max: 1e12 }), (header, bytes) => {
        const range = rangeOf(header, bytes);
        if (range === null || range === "beyond") return true;
        return range.first >= 0 && range.first <= range.last && range.last < bytes;
      }),
    );
  });
});

it("demo jobs are offered with the sizes and checksums of their files, anew where a file changed", async () => {
  const { folder, demos } = shelf();
  const list = async () => (JSON.parse((await demos.list(headers())).body as string) as { demos: OfferedDemo[] }).demos;
  expect(await list()).toEqual([
    {
      ...{ id: "reeds", name: "Reeds", kind: "bracket", about: "Two frames." },
      files: [
        { name: "a.jpg", bytes: A.length, sha256: sha256(A) },
        { name: "b.jpg", bytes: 6, sha256: sha256(Buffer.from("second")) },
      ],
    },
  ]);
  writeFileSync(join(folder, "reeds", "b.jpg"), "another");
  expect((await list())[0].files[1]).toEqual({ name: "b.jpg", bytes: 7, sha256: sha256(Buffer.from("another")) });
});

it("a file comes whole or from where it is asked for; a range holds for the file it was begun of", async () => {
  const { demos } = shelf();
  const ask = (of: Record<string, string> = {}) => demos.file({ demo: "reeds", file: "a.jpg" }, headers(of));
  const whole = await ask();
  expect([whole.status, whole.headers["content-length"], whole.headers["accept-ranges"], sha256(await bytesOf(whole))]).toEqual([
    200,
    "70000",
    "bytes",
    sha256(A),
  ]);
  const tag = whole.headers.etag;
  const rest = await ask({ range: "bytes=60000-", "if-range": tag });
  expect([rest.status, rest.headers["content-range"], rest.headers["content-length"]]).toEqual([206, "bytes 60000-69999/70000", "10000"]);
  expect(Buffer.from(await bytesOf(rest)).equals(A.subarray(60_000))).toBe(true);
  expect((await ask({ range: "bytes=60000-", "if-range": '"another"' })).status).toBe(200);
  expect(await ask({ "if-none-match": tag })).toMatchObject({ status: 304, body: null });
  const beyond = await ask({ range: "bytes=70000-" });
  expect([beyond.status, beyond.headers["content-range"], told(beyond).code]).toEqual([416, "bytes */70000", "server.beyond"]);
});

it.each([
  ["a job that is none", { demo: "nowhere", file: "a.jpg" }, {}, 404, /no demo job “nowhere”/],
  ["a file that is not listed, though it is there", { demo: "reeds", file: "truth.json" }, {}, 404, /no file “truth.json”/],
  ["a way out of the folder", { demo: "reeds", file: "../jobs.json" }, {}, 400, /not understood/],
  ["a name of dots", { demo: "reeds", file: ".." }, {}, 404, /no file/],
  ["a job of another shape", { demo: "<script>", file: "a.jpg" }, {}, 400, /not understood/],
  ["a name that is no text", { demo: 5, file: "a.jpg" }, {}, 400, /not understood/],
  ["a page of another origin", { demo: "reeds", file: "a.jpg" }, { "sec-fetch-site": "cross-site" }, 403, /pages of Marsh alone/],
])("%s is refused with a code that has a sentence", async (_, asked, of, status, words) => {
  const answer = await shelf().demos.file(asked as { demo: string; file: string }, headers(of as unknown as Record<string, string>));
  expect([answer.status, isMessage(told(answer))]).toEqual([status, true]);
  expect(sentence(told(answer))).toMatch(words);
});

it("what fails within is answered with a sentence, and its own words stay in the server's log", async () => {
  const log = jest.spyOn(console, "error").mockImplementation(() => undefined);
  const answer = await answered(() => Promise.reject(new Error("ENOENT: /srv/marsh/demo/jobs.json")));
  expect([answer.status, answer.headers["content-type"], told(answer).code]).toEqual([500, "application/json", "server.failed"]);
  expect(answer.body).not.toMatch(/ENOENT/);
  expect(log).toHaveBeenCalledTimes(1);
  log.mockRestore();
});

it("each demo job that ships has all of its frames and a small picture", () => {
  const { jobs } = JSON.parse(readFileSync("demo/jobs.json", "utf8")) as { jobs: { id: string; files: string[] }[] };
  expect(jobs.length).toBeGreaterThan(8);
  const missing = jobs.flatMap(({ id, files }) => [...files.map((f) => `demo/${f}`), `public/previews/${id}.jpg`]).filter((f) => !existsSync(f));
  expect(missing).toEqual([]);
});
