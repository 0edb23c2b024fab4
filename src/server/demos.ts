import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { readFile, stat } from "node:fs/promises";
import { join } from "node:path";
import { Readable } from "node:stream";
import { array, object, string } from "yup";
import { message } from "../messages/message";
import { answerJson, checked, refuse, refuseOthers, type Answer, type Headers } from "./answer";
import { rangeOf } from "./byteRange";

/** A file of a demo job, to be fetched by its name. */
export interface OfferedFile {
  name: string;
  bytes: number;
  sha256: string;
}

/** A demo job, with what it takes to have it. */
export interface OfferedDemo {
  id: string;
  name: string;
  kind: string;
  about: string;
  files: OfferedFile[];
}

const LIST = object({
  jobs: array(
    object({
      id: string().required(),
      name: string().required(),
      kind: string().required(),
      about: string().required(),
      files: array(string().required()).required(),
    }),
  ).required(),
});

/** A demo job as its folder lists it: files by their paths in it. */
export async function listedDemos(folder: string) {
  return (await LIST.validate(JSON.parse(await readFile(join(folder, "jobs.json"), "utf8")))).jobs;
}

/** The demo jobs of a folder. Checksums are made once for each state of a file; of those who ask nothing is kept. */
export class Demos {
  private readonly sums = new Map<string, { stamp: string; sha256: string }>();

  constructor(private readonly folder: string) {}

  /** All demo jobs with sizes and checksums. */
  async list(headers: Headers): Promise<Answer> {
    return refuseOthers(headers) ?? answerJson({ demos: await this.offered() });
  }

  /** A file of a demo job, or the range of its bytes that is asked for, so that one that broke off can go on. */
  async file(asked: { demo: string; file: string }, headers: Headers): Promise<Answer> {
    const others = refuseOthers(headers);
    if (others) return others;
    const sound = checked(NAMES, asked);
    if ("refusal" in sound) return sound.refusal;
    const { demo, file } = sound.asked;
    const listed = (await listedDemos(this.folder)).find((d) => d.id === demo);
    if (!listed) return refuse(404, message("server.noDemo", { demo }));
    // only what is listed is served, so no name leads out of the folder
    const path = listed.files.find((f) => nameOf(f) === file);
    if (!path) return refuse(404, message("server.noFile", { demo, file }));
    const { bytes, sha256 } = await this.facts(path);
    const tag = `"${sha256}"`;
    const common = { "accept-ranges": "bytes", "cache-control": "no-cache", etag: tag, "content-type": "application/octet-stream" };
    if (headers("if-none-match") === tag) return { status: 304, headers: common, body: null };
    const condition = headers("if-range");
    const range = condition === null || condition === tag ? rangeOf(headers("range"), bytes) : null;
    if (range === "beyond") return refuse(416, message("server.beyond", { bytes }), { "content-range": `bytes */${bytes}` });
    const { first, last } = range ?? { first: 0, last: bytes - 1 };
    const body = Readable.toWeb(createReadStream(join(this.folder, path), { start: first, end: last })) as ReadableStream<Uint8Array>;
    const part: Record<string, string> = range ? { "content-range": `bytes ${first}-${last}/${bytes}` } : {};
    return { status: range ? 206 : 200, headers: { ...common, ...part, "content-length": String(last - first + 1) }, body };
  }

  private async offered(): Promise<OfferedDemo[]> {
    const listed = await listedDemos(this.folder);
    return Promise.all(
      listed.map(async ({ id, name, kind, about, files }) => ({
        ...{ id, name, kind, about },
        files: await Promise.all(files.map(async (path) => ({ name: nameOf(path), ...(await this.facts(path)) }))),
      })),
    );
  }

  private async facts(path: string): Promise<{ bytes: number; sha256: string }> {
    const { size, mtimeMs } = await stat(join(this.folder, path));
    const stamp = `${size}/${mtimeMs}`;
    const known = this.sums.get(path);
    if (known?.stamp === stamp) return { bytes: size, sha256: known.sha256 };
    const hash = createHash("sha256");
    for await (const chunk of createReadStream(join(this.folder, path))) hash.update(chunk as Uint8Array);
    const sha256 = hash.digest("hex");
    this.sums.set(path, { stamp, sha256 });
    return { bytes: size, sha256 };
  }
}

const NAMES = object({
  demo: string()
    .matches(/^[a-z0-9-]{1,40}$/)
    .required(),
  file: string()
    .matches(/^[\w.-]{1,80}$/)
    .required(),
});

const nameOf = (path: string) => path.split("/").pop()!;
