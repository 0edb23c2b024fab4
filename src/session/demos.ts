import { Refusal } from "../core/refusal";
import { gather, type PictureFile } from "./gathering";
import { newJob, openStoredJob, refreshJobs } from "./jobs";
import { report, useSession } from "./store";

export interface DemoJob {
  id: string;
  name: string;
  kind: string;
  about: string;
  files: string[];
}

export async function listDemoJobs(): Promise<DemoJob[]> {
  return ((await (await fetch("/demo/jobs.json")).json()) as { jobs: DemoJob[] }).jobs;
}

/** Gathers a demo job's frames into the open job. */
export async function gatherDemo(demo: DemoJob): Promise<void> {
  const fetched = async (path: string): Promise<PictureFile> => {
    const answer = await fetch(`/demo/${path}`).catch(() => null);
    if (!answer?.ok) throw new Refusal("notLoaded", "going.demo");
    return { name: path.split("/").pop()!, file: await answer.blob() };
  };
  try {
    await gather(await Promise.all(demo.files.map(fetched)));
  } catch (error) {
    report(error);
  }
}

/** Makes a demo job and begins to gather its frames. */
export async function startDemo(demo: DemoJob): Promise<void> {
  await newJob(demo.name);
  void gatherDemo(demo);
}

/** Opens a demo job as it was left, or makes it. @returns whether there is one of that id */
export async function openDemo(id: string): Promise<boolean> {
  const demo = (await listDemoJobs()).find((d) => d.id === id);
  if (!demo) return false;
  await refreshJobs();
  const kept = useSession.getState().jobs.find((j) => j.name === demo.name && j.removedAt === null);
  if (kept) return openStoredJob(kept.id);
  await startDemo(demo);
  return true;
}
