/** The same samples with one thread, two and eight; a thread that dies is replaced. */
import { wholeFrame } from "../kinds/contents/frame/record";
import { written } from "../messages/message";
import { FILES, worldJob } from "../../tests/support/worldJob";
import { createNodeEngine, type NodeEngine } from "../cli/createNodeEngine";
import { startNodeThread } from "../cli/nodeThreads";
import type { MergeMethod } from "../kinds/merges/records";
import type { Records } from "../document/records/types";
import { activeFramesOf, framesOf } from "../document/selectors";
import { addLayer } from "../document/layerEdits";
import { freshMask } from "../document/records/layerTypes";
import { proposeReference } from "../document/proposeReference";
import { Kernels } from "../kernels/Kernels";
import { readFileSync } from "node:fs";
import { Pool, type FromThread, type PoolThread, type ToThread } from "./pool/Pool";
import { FormatError } from "../formats/formatError";
import { CancelledError } from "./task";
import { MemoryRasterStore } from "./tiles/MemoryRasterStore";

const engines: NodeEngine[] = [];
afterAll(() => engines.forEach((e) => e.end()));
const engineOf = async (threads: number) => {
  const node = await createNodeEngine(process.cwd(), new MemoryRasterStore(), threads);
  engines.push(node);
  return node;
};

const layered = (records: Records): Records =>
  addLayer({ id: "glow", name: "Glow", content: { type: "adjustment", adjustment: "glow", values: {} } })(
    addLayer({
      id: "f",
      name: "F",
      content: wholeFrame(framesOf(records)[0].id),
      mask: freshMask(1),
      seamPx: 3,
      opacity: 0.6,
    })(records),
  );

/** What an engine makes of a job: registration, merges and the files delivered. @param brief one file only: more threads than cores take turns, which takes long */
async function everything(threads: number, brief = false) {
  const node = await engineOf(threads);
  const out: Record<string, unknown> = {};
  for (const method of (brief ? ["radiance"] : ["radiance", "fusion"]) as MergeMethod[]) {
    const records = layered(await worldJob(node, method));
    for (const format of method === "radiance" && !brief ? (["tiff16", "png16", "tiff32"] as const) : (["tiff16"] as const)) {
      const settings = { format, quality: 90, space: "srgb" as const, content: format === "tiff32" ? ("merge" as const) : ("finished" as const), crop: true };
      const { parts } = await node.ask("exportPicture", { records, settings });
      out[`${method} ${format}`] = Buffer.concat(parts).toString("base64");
    }
    if (method !== "radiance" || brief) continue;
    const frames = activeFramesOf(records);
    const request = { referenceId: proposeReference(frames).frame.id, referenceReason: written(""), model: "homography" as const };
    out.register = await node.ask("register", { records, frames, request });
    out.measures = frames.map((f) => f.measures);
  }
  return out;
}

it("gives the same files, registrations and measures, byte by byte", async () => {
  expect(FILES.length).toBeGreaterThan(3);
  const [one, two, eight] = [await everything(1), await everything(2), await everything(8, true)];
  expect(Object.keys(eight)).toEqual(["radiance tiff16"]);
  for (const [name, value] of Object.entries(one)) {
    // newly made ids differ
    const plain = (v: unknown) => JSON.stringify(v).replace(/frame-[0-9a-f-]+/g, "frame");
    expect([name, plain(two[name]) === plain(value)]).toEqual([name, true]);
    if (name in eight) expect([name, plain(eight[name]) === plain(value)]).toEqual([name, true]);
  }
}, 600_000);

it("a file that cannot be read gives the same sentence from another thread", async () => {
  const [one, two] = [await engineOf(1), await engineOf(2)];
  const bytes = new TextEncoder().encode("only words, no picture");
  const told = async (node: NodeEngine) => node.ask("importFrame", { fileName: "x", bytes }).catch((e: Error) => [e.name, e.message]);
  expect(await told(two)).toEqual(await told(one));
});

describe("a thread that dies", () => {
  const kernels = () => Kernels.create(readFileSync("public/wasm/kernels.wasm"));
  /** Threads whose first `deaths` die of their first task. */
  const mortal = (deaths: number) => {
    let left = deaths;
    const started: PoolThread[] = [];
    const start = (): PoolThread => {
      const real = startNodeThread(process.cwd());
      let fail: (message: string) => void = () => undefined;
      const thread: PoolThread = {
        ...real,
        post: (message: ToThread) => {
          if (message.role === "task" && left > 0) {
            left--;
            real.end();
            setTimeout(() => fail("it ran out of memory"));
          } else real.post(message);
        },
        onMessage: (listen: (m: FromThread) => void) => real.onMessage(listen),
        onFail: (listen) => (fail = listen),
      };
      started.push(thread);
      return thread;
    };
    return { start, started };
  };

  it("is replaced, and its task is done by another", async () => {
    const { start, started } = mortal(1);
    const pool = new Pool(await kernels(), start, 2);
    const bytes = new Uint8Array(1000);
    expect((await pool.run("zlib", { bytes })).length).toBeGreaterThan(4);
    expect(started.length).toBeGreaterThan(2);
    pool.end();
  });

  it("twice of the same task gives a sentence, and the next task goes on", async () => {
    const { start } = mortal(2);
    const pool = new Pool(await kernels(), start, 2);
    await expect(pool.run("zlib", { bytes: new Uint8Array(10) })).rejects.toThrow("engine.partStopped");
    expect((await pool.run("zlib", { bytes: new Uint8Array(10) })).length).toBeGreaterThan(4);
    pool.end();
  });

  /** Threads whose first never answers. */
  const stuck = () => {
    let [started, ended] = [0, 0];
    const start = (): PoolThread => {
      const real = startNodeThread(process.cwd());
      const mute = started++ === 1;
      return {
        ...real,
        post: (message: ToThread) => (mute && message.role === "task" ? undefined : real.post(message)),
        end: () => {
          if (mute) ended++;
          real.end();
        },
      };
    };
    return { start, ended: () => ended };
  };

  it("or never comes to an end is ended when its task is stopped, and the next task goes on", async () => {
    const { start, ended } = stuck();
    const pool = new Pool(await kernels(), start, 2);
    let asked = 0;
    const stopping = pool.run("zlib", { bytes: new Uint8Array(10) }, async () => {
      if (++asked > 1) throw new CancelledError();
    });
    await expect(stopping).rejects.toThrow(CancelledError);
    const after = Promise.all([1, 2, 3].map((n) => pool.run("zlib", { bytes: new Uint8Array(n) })));
    expect(await after).toHaveLength(3);
    await new Promise((go) => setTimeout(go, 2000));
    expect(ended()).toBe(1);
    expect(await Promise.all([1, 2, 3].map((n) => pool.run("zlib", { bytes: new Uint8Array(n) })))).toHaveLength(3);
    pool.end();
  });

  it("or never comes to an end is ended at its deadline, with the sentence that was given for it", async () => {
    const { start, ended } = stuck();
    const pool = new Pool(await kernels(), start, 2);
    const deadline = { ms: 300, error: new FormatError("limit", "file.empty") };
    await expect(pool.run("zlib", { bytes: new Uint8Array(10) }, undefined, deadline)).rejects.toBe(deadline.error);
    expect(ended()).toBe(1);
    // another thread takes its place; on a busy machine it may begin slowly
    const long = { ...deadline, ms: 60_000 };
    expect((await pool.run("zlib", { bytes: new Uint8Array(10) }, undefined, long)).length).toBeGreaterThan(4);
    pool.end();
  });

  it("while it takes strips is noticed, and strips go on without it", async () => {
    const own = await kernels();
    const pool = new Pool(own, () => startNodeThread(process.cwd()), 3);
    const run = () =>
      own.withScope((scope) => {
        const at = scope.floats(200_000);
        own.f32(at, 200_000).fill(4);
        own.run("rootSamples", [at], 0, 200_000, 16384);
        return own.f32(at, 200_000).every((v) => v === 2);
      });
    expect(run()).toBe(true);
    pool.restartStrips();
    expect(run()).toBe(true);
    pool.end();
    expect(run()).toBe(true);
  });
});
