import type { Message, Telling } from "../../messages/message";
import type { StoredJob } from "../../document/parseDocument";
import type { DocumentChange } from "../../document/replica";
import type { EngineRequests, EngineParams, EngineResult } from "../../engine/requests";
import type { ImportedFrame } from "../../engine/operations/gather/importFrame";
import type { LinkedFolder } from "../../storage/database";
import type { OpenedJob } from "../../storage/jobFile";
import type { CheckedLink } from "../../storage/linkedFiles";

/** What the worker does beside the engine: it has the sources and the files. */
export interface HostRequests {
  /** @param jobId which the source is kept for @param folderId where the file stays in its folder and no copy is kept */
  gatherFile: [params: { jobId: string; fileName: string; file: Blob; folderId?: string }, result: ImportedFrame];
  /** Reads a profile of a paper or a screen and keeps it for a job. */
  gatherProfile: [params: { jobId: string; file: Blob }, result: EngineResult<"readTarget"> & { sourceId: string }];
  /** How the sources stand that were left in their folders. */
  checkLinks: [params: { sourceIds: string[] }, result: CheckedLink[]];
  /** Links sources to where a folder holds them now; gives the ids found. */
  findSources: [params: { folder: LinkedFolder; sourceIds: string[] }, result: string[]];
  /** A picture as a file. */
  deliver: [params: EngineParams<"exportPicture">, result: Omit<EngineResult<"exportPicture">, "parts"> & { file: Blob }];
  /** Something that a layer cuts out, as a file with alpha; null where it cuts nothing. */
  saveCutout: [params: EngineParams<"cutoutFile">, result: (Omit<NonNullable<EngineResult<"cutoutFile">>, "parts"> & { file: Blob }) | null];
  /** Which job intermediate pictures are made for from now on. */
  workOn: [params: { jobId: string }, result: null];
  /** What intermediate pictures take, and the most they may; null where the browser keeps none. */
  rasterUse: [params: Record<string, never>, result: { bytes: number; budget: number } | null];
  /** Lets the intermediate pictures of a job go, or all; what is needed of them is made again. */
  letRastersGo: [params: { jobId: string | null }, result: null];
  /** A job as one file, and the files of sources that are not there to be put in. */
  writeJob: [params: { job: StoredJob }, result: { file: Blob; missing: string[] }];
  /** Reads what is whole of a job file and keeps its sources for the job that it becomes. */
  openJob: [params: { file: Blob; jobId: string }, result: Omit<OpenedJob, "sources">];
}

/** Every request the worker of the engine knows. */
export type RequestName = keyof HostRequests | keyof EngineRequests;
export type Params<K extends RequestName> = K extends keyof HostRequests ? HostRequests[K][0] : K extends keyof EngineRequests ? EngineParams<K> : never;
export type Result<K extends RequestName> = K extends keyof HostRequests ? HostRequests[K][1] : K extends keyof EngineRequests ? EngineResult<K> : never;

/** A state of the document, which crosses the border by its revision only. */
export interface RevisionName {
  revision: number;
}

/** What the screen sends. Parameters that are a document are given as RevisionName. */
export type Request = { id: number; name: RequestName; params: Record<string, unknown> } | { id: number; cancel: true } | { document: DocumentChange };

/** An error as it crosses the border: its kind, what of it, and what it tells a person. */
export interface WireError {
  name: string;
  message: string;
  code?: string;
  told?: Message;
}

/** What the worker sends. */
export type Response = { id: number; progress: { share: number; what: Telling } } | { id: number; result: unknown } | { id: number; error: WireError };
