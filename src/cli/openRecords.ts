import { closeSync, openSync, readSync, statSync } from "node:fs";
import { setRegistration, unmovedRegistration } from "../document/edits";
import { freshMerge, setMerge } from "../document/mergeEdits";
import type { Records } from "../document/records/types";
import { sha256 } from "../engine/graph/keys";
import type { Task } from "../engine/task";
import type { RandomBytes } from "../formats/archive/readZip";
import { openJobFile } from "../storage/jobFile";
import type { NodeEngine } from "./createNodeEngine";
import { gatherFiles } from "./gatherFiles";

/** Opens a job file for as long as something is made of it; its sources are read when they are asked for. */
export async function withJob<T>(node: NodeEngine, path: string, work: (records: Records) => Promise<T>): Promise<T> {
  const fd = openSync(path, "r");
  try {
    const bytes: RandomBytes = {
      size: statSync(path).size,
      read: async (at, length) => {
        const out = new Uint8Array(length);
        return out.subarray(0, readSync(fd, out, 0, length, at));
      },
    };
    const opened = await openJobFile(bytes, sha256);
    for (const [id, entry] of opened.sources) node.sources.set(id, () => entry.read());
    return await work(opened.records);
  } finally {
    closeSync(fd);
  }
}

/** The same of a single picture, which is a job of one frame. Light beyond white is scene light, which is brought to a screen. @throws Error with its sentence where the picture cannot be read */
export async function withPicture<T>(node: NodeEngine, name: string, path: string, task: Task, work: (records: Records) => Promise<T>): Promise<T> {
  const gathered = await gatherFiles(node, name, [path], task);
  const [file] = gathered.files;
  if (!file.frame) throw new Error(`${path}: ${file.error}`);
  const { frame } = file;
  const merge = frame.bits === 32 ? freshMerge("radiance") : freshMerge("base", { baseId: frame.id });
  return work(setMerge(merge)(setRegistration(unmovedRegistration([frame], frame, 1), {})(gathered.records)));
}

/** Either of both, by what the file is called. */
export const withRecords = <T>(node: NodeEngine, name: string, path: string, task: Task, work: (records: Records) => Promise<T>): Promise<T> =>
  /\.marsh$/i.test(path) ? withJob(node, path, work) : withPicture(node, name, path, task, work);
