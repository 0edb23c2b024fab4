import { array, number, object, string } from "yup";
import type { OfferedDemo } from "../server/demos";
import { keepFile, keptFile } from "./demoCache";
import { fetchFile, type Wanted } from "./fetchFile";
import { gather, type PictureFile } from "./gathering";
import { newJob, openStoredJob, refreshJobs } from "./jobs";
import { openJob } from "./openJob";
import { notify, useSession } from "./store";

export type DemoJob = OfferedDemo;

const OFFERED = object({
  demos: array(
    object({
      id: string().required(),
      name: string().required(),
      kind: string().required(),
      about: string().required(),
      files: array(object({ name: string().required(), bytes: number().required().min(1), sha256: string().required().length(64) }))
        .required()
        .min(1),
    }),
  ).required(),
});

export async function listDemoJobs(): Promise<DemoJob[]> {
  return (await OFFERED.validate(await (await fetch("/api/demos")).json())).demos;
}

/** What a demo takes to have, bytes. */
export const sizeOfDemo = ({ files }: DemoJob): number => files.reduce((sum, f) => sum + f.bytes, 0);

/** A file is asked for by its checksum too, so that what is kept under an address is always that file. */
const wantedOf = ({ id }: DemoJob, { name, ...file }: DemoJob["files"][number]): Wanted => ({
  ...file,
  address: `/api/demos/${id}/${name}?sum=${file.sha256.slice(0, 16)}`,
});

async function haveFile(wanted: Wanted, signal: AbortSignal, onBytes: (bytes: number) => void): Promise<Blob> {
  const kept = await keptFile(wanted.address).catch(() => null);
  if (kept?.size === wanted.bytes) {
    onBytes(kept.size);
    return kept;
  }
  const file = await fetchFile(wanted, signal, onBytes);
  // it is there all the same where the browser has no room to keep it
  await keepFile(wanted.address, file).catch(() => undefined);
  return file;
}

/** Fetches a demo job's frames and gathers them into the open job. One that was stopped goes on where it was. */
export async function gatherDemo(demo: DemoJob): Promise<void> {
  const job = openJob();
  const all = sizeOfDemo(demo);
  const files = await job.run("gather", "task.fetchingDemo", async (signal, onProgress) => {
    const there = new Map<string, number>();
    // where one cannot be had, the others are of no use
    const failed = new AbortController();
    const either = AbortSignal.any([signal, failed.signal]);
    const fetched = async (file: DemoJob["files"][number]): Promise<PictureFile> => {
      const onBytes = (bytes: number) => {
        there.set(file.name, bytes);
        onProgress([...there.values()].reduce((a, b) => a + b, 0) / all, "task.fetchingDemo");
      };
      return { name: file.name, file: await haveFile(wantedOf(demo, file), either, onBytes) };
    };
    return Promise.all(demo.files.map(fetched)).finally(() => failed.abort());
  });
  if (files) await gather(files);
}

/** Makes a demo job and begins to gather its frames. */
export async function startDemo(demo: DemoJob): Promise<void> {
  await newJob(demo.name);
  void gatherDemo(demo);
}

/** Opens a demo job as it was left, or makes it. @returns whether there is one of that id */
export async function openDemo(id: string): Promise<boolean> {
  const demos = await listDemoJobs().catch(() => null);
  if (!demos) notify("going.demo");
  const demo = demos?.find((d) => d.id === id);
  if (!demo) return false;
  await refreshJobs();
  const kept = useSession.getState().jobs.find((j) => j.name === demo.name && j.removedAt === null);
  if (kept) {
    const opened = await openStoredJob(kept.id);
    // one whose frames did not come the first time
    if (opened && kept.frames === 0 && openJob().mayChange) void gatherDemo(demo);
    return opened;
  }
  await startDemo(demo);
  return true;
}
