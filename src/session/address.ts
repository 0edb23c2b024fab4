import { STAGES, type Stage } from "./stages";

/** A layer or a finding that is looked at; each belongs to one stage. */
export interface Looked {
  layerId: string | null;
  findingId: string | null;
}

/** What an address leads to: all jobs, or a job at one of its stages, as it was left where none is named, and what is looked at there. */
export type Address = { jobId: null } | ({ jobId: string; stage: Stage | null } & Looked);

/** Ids of jobs as they are made, in this browser or in the file they came from. */
const JOB = /^\/job\/([\w-]{1,100})(?:\/([a-z]*))?\/?$/;
/** Ids of layers and findings. */
const ID = /^[\w:.-]{1,200}$/;

/** @param line path and query of an address; of a query only what Marsh writes counts @returns null where it leads nowhere */
export function readAddress(line: string): Address | null {
  const [path, query = ""] = line.split("?");
  if (path === "/" || path === "") return { jobId: null };
  const [, jobId, named] = JOB.exec(path) ?? [];
  if (!jobId) return null;
  const stage = STAGES.find((s) => s === named) ?? null;
  if (named && !stage) return null;
  const asked = new URLSearchParams(query);
  const idOf = (name: string, at: Stage) => {
    const id = asked.get(name);
    return id && stage === at && ID.test(id) ? id : null;
  };
  return { jobId, stage, layerId: idOf("layer", "compose"), findingId: idOf("finding", "proof") };
}

export function writeAddress(address: Address): string {
  if (address.jobId === null) return "/";
  const { jobId, stage, layerId, findingId } = address;
  const looked =
    stage === "compose" && layerId
      ? `?layer=${encodeURIComponent(layerId)}`
      : stage === "proof" && findingId
        ? `?finding=${encodeURIComponent(findingId)}`
        : "";
  return `/job/${jobId}${stage ? `/${stage}` : ""}${looked}`;
}
