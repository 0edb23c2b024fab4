import { STAGES, type Stage } from "./stages";

/** What an address leads to: all jobs, or a job at one of its stages, as it was left where none is named. */
export type Address = { jobId: null } | { jobId: string; stage: Stage | null };

/** Ids of jobs as they are made, in this browser or in the file they came from. */
const JOB = /^\/job\/([\w-]{1,100})(?:\/([a-z]*))?\/?$/;

/** @param path of an address @returns null where it leads nowhere */
export function readAddress(path: string): Address | null {
  if (path === "/" || path === "") return { jobId: null };
  const [, jobId, named] = JOB.exec(path) ?? [];
  if (!jobId) return null;
  const stage = STAGES.find((s) => s === named) ?? null;
  return named && !stage ? null : { jobId, stage };
}

export const writeAddress = (address: Address): string => (address.jobId === null ? "/" : `/job/${address.jobId}${address.stage ? `/${address.stage}` : ""}`);
