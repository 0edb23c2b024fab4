import { outputGeometry } from "../document/outputGeometry";
import { activeFramesOf, mergeOf } from "../document/selectors";
import type { Records } from "../document/records/types";
import type { ViewSpec } from "../engine/operations/view/ViewSpec";
import { loadPicture, savePicture } from "../storage/jobStore";
import { openJobOrNone } from "./openJob";
import { useSession } from "./store";

/** Longest side of a kept picture is at most twice this, px. */
const SIDE = 240;
/** How long a job has to be left alone before its picture is made anew. */
const QUIET_MS = 2500;

/** Packs interleaved RGBA as a picture file. */
export type Packer = (rgba: Uint8ClampedArray<ArrayBuffer>, width: number, height: number) => Promise<Blob>;

/** What a job shows of itself: its picture as delivered, or the first of its frames. */
function shownOf(records: Records): { view: ViewSpec; width: number; height: number } | null {
  if (mergeOf(records)) {
    const { width, height } = outputGeometry(records).crop;
    return { view: { kind: "output" }, width, height };
  }
  const [frame] = activeFramesOf(records);
  return frame ? { view: { kind: "source", frameId: frame.id }, width: frame.width, height: frame.height } : null;
}

/** Keeps a small picture with the job that is open, made when it has been left alone for a while. @returns what ends it */
export function keepPictures(pack: Packer, quietMs = QUIET_MS): () => void {
  const { getState: get } = useSession;
  let waiting: ReturnType<typeof setTimeout> | undefined;
  let made: Records | null = null;
  const make = async () => {
    const job = openJobOrNone();
    const { records, busy } = get();
    if (!job?.mayChange || made === records) return;
    if (busy) return again();
    const shown = shownOf(records);
    if (!shown) return;
    made = records;
    const { view, width, height } = shown;
    const level = Math.max(0, Math.floor(Math.log2(Math.max(width, height) / SIDE)));
    try {
      const { rect, rgba } = await job.ask("renderRect", { records, view, level, rect: { x: 0, y: 0, width, height }, space: "srgb" });
      await savePicture(job.id, await pack(rgba, rect.width, rect.height));
    } catch {
      // the picture of before stays; what really is wrong is said where it is worked on
    }
  };
  const again = () => {
    clearTimeout(waiting);
    waiting = setTimeout(() => void make(), quietMs);
  };
  const end = useSession.subscribe((now, before) => {
    if (!now.jobId || now.records === before.records) return;
    if (now.jobId === before.jobId) return again();
    // a job that was opened has its picture, or gets its first
    const { jobId, records } = now;
    void loadPicture(jobId).then(
      (picture) => {
        if (picture && get().records === records) made = records;
        else again();
      },
      () => undefined,
    );
  });
  return () => {
    clearTimeout(waiting);
    end();
  };
}

/** The small picture of a job, where it has one. */
export const pictureOf = (jobId: string): Promise<Blob | undefined> => loadPicture(jobId);
