import { asMessage, type Message, type Telling } from "../messages/message";
import { create } from "zustand";
import { useShallow } from "zustand/react/shallow";
import type { MergeMethod } from "../kinds/merges/records";
import type { Finding } from "../document/finding";
import { EMPTY_HISTORY, type History } from "../document/history";
import type { Records } from "../document/records/types";
import type { JobEntry } from "../storage/database";
import type { CheckedLink } from "../storage/linkedFiles";
import type { Room } from "../storage/room";
import { isCancelled } from "../workers/client/EngineClient";
import type { Stage } from "./stages";
import { toldOf } from "./toldOf";

export interface Busy {
  stage: Stage;
  what: Telling;
  share: number;
  stop: () => void;
}

/** What a person is told, which stays until it is read. */
export interface Notice {
  id: number;
  told: Message;
  /** of what went wrong */
  code?: string;
}

export type Compare = { mode: "off" | "flip" | "split" | "side"; against: string };

/** All that belongs to the open job; it goes with it. */
export interface JobState {
  jobId: string | null;
  history: History;
  records: Records;
  readOnly: boolean;
  /** what is whole of a damaged job; it can only be looked at and saved as a job file */
  damaged: boolean;
  saved: "saved" | "saving" | "unsaved";
  savedAt: string | null;
  lastCopyAt: string | null;
  stage: Stage;
  busy: Busy | null;
  /** a merge that is being made, and the records it would make */
  merging: { method: MergeMethod; records: Records } | null;
  findings: Finding[] | null;
  /** the state that was inspected last, whatever came of it: it is not inspected again by itself */
  inspected: Records | null;
  /** sources that were left in folders on disk */
  links: CheckedLink[];
  lastExportAt: string | null;
  /** the layer worked on in Compose, and the finding looked at in Proof */
  layerId: string | null;
  findingId: string | null;
  /** an address led to that finding, and it is still to be shown */
  isFindingSought: boolean;
}

export interface SessionState extends JobState {
  /** one job is closed for another that is about to be shown */
  isSwitching: boolean;
  room: Room | null;
  /** what intermediate pictures take, and the most they may, bytes */
  rasterUse: { bytes: number; budget: number } | null;
  /** threads the person chose to compute on; null: all cores */
  threads: number | null;
  notices: Notice[];
  logbookOpen: boolean;
  /** begins the newer application that was fetched; null where there is none */
  takeNewer: (() => void) | null;
  jobs: JobEntry[];
  /** bytes that the sources of each job take in the browser */
  sizes: Map<string, number>;
}

export const NO_JOB: JobState = {
  jobId: null,
  history: EMPTY_HISTORY,
  records: {},
  readOnly: false,
  damaged: false,
  saved: "saved",
  savedAt: null,
  lastCopyAt: null,
  stage: "gather",
  busy: null,
  merging: null,
  findings: null,
  inspected: null,
  links: [],
  lastExportAt: null,
  layerId: null,
  findingId: null,
  isFindingSought: false,
};

export const useSession = create<SessionState>(() => ({
  ...NO_JOB,
  room: null,
  rasterUse: null,
  threads: null,
  isSwitching: false,
  notices: [],
  logbookOpen: false,
  takeNewer: null,
  jobs: [],
  sizes: new Map(),
}));

const { getState: get, setState: set } = useSession;

const MOST_NOTICES = 5;
let noticeId = 1;
export function notify(telling: Telling, code?: string): void {
  const told = asMessage(telling);
  const same = JSON.stringify(told);
  const others = get().notices.filter((n) => JSON.stringify(n.told) !== same);
  set({ notices: [...others.slice(1 - MOST_NOTICES), { id: noticeId++, told, code }] });
}

export function dismiss(id: number): void {
  set({ notices: get().notices.filter((n) => n.id !== id) });
}

/** One sentence of whatever was thrown; a stop by the person says nothing. */
export function report(error: unknown): void {
  if (isCancelled(error)) return;
  const { told, code } = toldOf(error);
  notify(told, code);
}

/** Whether all that was done to the open job is stored, so that the page can be left without losing anything. */
export const mayBeLeft = ({ jobId, saved }: SessionState): boolean => jobId === null || saved === "saved";

/** What a component may take of the session; of what is under way only whether there is something, and in which stage. */
interface Parts extends Omit<SessionState, "busy"> {
  isBusy: boolean;
  busyStage: Stage | null;
}

/** Parts of the session by name: what takes them is drawn again when one of them changes, and for nothing else. */
export function usePartsOf<K extends keyof Parts>(...names: K[]): Pick<Parts, K> {
  return useSession(
    useShallow(({ busy, ...rest }) => {
      const parts: Parts = { ...rest, isBusy: busy !== null, busyStage: busy?.stage ?? null };
      return Object.fromEntries(names.map((name) => [name, parts[name]])) as Pick<Parts, K>;
    }),
  );
}
