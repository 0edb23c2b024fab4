import { message, type Telling } from "../messages/message";
import { atATime } from "../core/numeric/atATime";
import { addFrames, newId } from "../document/edits";
import { JOB_LIMITS } from "../document/limits";
import { framesOf } from "../document/selectors";
import type { ImportedFrame } from "../engine/operations/gather/importFrame";
import { measureRoom } from "../storage/room";
import { missingSources } from "../storage/sourceStore";
import { isCancelled } from "../workers/client/EngineClient";
import { groupFrames } from "./actions";
import type { JobScope } from "./JobScope";
import { openJob } from "./openJob";
import { notify, useSession } from "./store";
import { toldOf } from "./toldOf";

const { getState: get } = useSession;

/** Room a decoded frame takes beside its file: sources, placed frames and two merges, roughly, in bytes a pixel. */
const BYTES_PER_FILE_BYTE = 40;

/** Reads picture files into the job that is open. One bad file never stops the rest; each gets its sentence. What was read until a stop is kept. */
export async function gather(files: PictureFile[]): Promise<void> {
  const job = openJob();
  if (files.length > 0) await job.during(() => gatherInto(job, files, false));
}

/** Reads pictures that are laid over what is there: none of them joins a set, and nothing that was made is lost. @returns the frames that came */
export async function gatherBeside(files: PictureFile[]): Promise<string[]> {
  const job = openJob();
  return files.length > 0 ? job.during(() => gatherInto(job, files, true)) : [];
}

/** A picture file that was chosen or dropped. @property folderId where it stays in its folder */
export interface PictureFile {
  name: string;
  file: Blob;
  folderId?: string;
}

/** Files that are read side by side: as many as there are cores, but few, for each takes its decoded size in memory. */
const filesAtATime = () => Math.max(1, Math.min(4, globalThis.navigator?.hardwareConcurrency ?? 1));

/** So many frames are kept one by one; of more, what has come is kept now and then. */
const KEPT_ONE_BY_ONE = 32;
const KEPT_EVERY_MS = 2000;

/** Frames are kept as they come, in the order of their files, so that a browser that dies loses none that was read. They are one step where nothing else is done meanwhile. */
class ArrivingFrames {
  private grow: ReturnType<JobScope["growingStep"]>;
  private frames: { frame: ImportedFrame; id: string; place: number }[] = [];
  private waiting: typeof this.frames = [];
  private keptAt = 0;
  private readonly kept: string[] = [];

  constructor(
    private readonly job: JobScope,
    private readonly beside: boolean,
  ) {
    this.grow = job.growingStep();
  }

  add(frame: ImportedFrame, place: number): void {
    this.waiting.push({ frame, id: newId("frame"), place });
    if (this.frames.length < KEPT_ONE_BY_ONE || Date.now() - this.keptAt > KEPT_EVERY_MS) this.keep();
  }

  /** Keeps what is not kept yet. @returns the frames that came */
  finish(): string[] {
    this.keep();
    return this.kept;
  }

  private keep(): void {
    if (this.waiting.length === 0) return;
    const all = [...this.frames, ...this.waiting].sort((a, b) => a.place - b.place);
    if (this.take(all)) this.frames = all;
    else {
      // something else was done: those that are there stay as they are
      this.grow = this.job.growingStep();
      this.frames = [...this.waiting].sort((a, b) => a.place - b.place);
      if (!this.take(this.frames)) return;
    }
    this.kept.push(...this.waiting.map((f) => f.id));
    this.waiting = [];
    this.keptAt = Date.now();
  }

  private take(frames: typeof this.frames): boolean {
    const change = addFrames(
      frames.map((f) => f.frame),
      frames.map((f) => f.id),
      this.beside,
    );
    return this.grow(change, { stage: "gather", label: message("step.gathered", { count: frames.length }) });
  }
}

async function gatherInto(job: JobScope, files: PictureFile[], beside: boolean): Promise<string[]> {
  const room = await measureRoom();
  const needed = files.reduce((sum, f) => sum + f.file.size, 0) * BYTES_PER_FILE_BYTE;
  if (room && room.freeBytes < needed) {
    notify(message("storage.room", { free: room.freeBytes / 1e9, needed: needed / 1e9 }));
    return [];
  }
  const space = JOB_LIMITS.frames - framesOf(get().records).length;
  if (files.length > space) notify(message("gathering.mostFrames", { most: JOB_LIMITS.frames, first: Math.max(0, space), count: files.length }));
  const reading = files.slice(0, Math.max(0, space));
  const arriving = new ArrivingFrames(job, beside);
  const known = new Set(framesOf(get().records).map((f) => f.sourceId));
  const missing = new Set(await missingSources([...known]).catch(() => []));
  let givenBack = 0;
  const finished = await job.run("gather", "task.readingFiles", async (signal, onProgress) => {
    let done = 0;
    const readOne = async ({ name, file, folderId }: PictureFile, i: number) => {
      try {
        const onFrame = (share: number, what: Telling) => onProgress((done + share) / reading.length, what);
        const frame = await job.ask("gatherFile", { jobId: job.id, fileName: name, file, folderId }, { signal, onProgress: onFrame });
        if (missing.delete(frame.sourceId)) {
          givenBack++;
          return;
        }
        if (known.has(frame.sourceId)) notify(message("gathering.again", { name }));
        known.add(frame.sourceId);
        arriving.add(frame, i);
      } catch (error) {
        if (isCancelled(error)) throw error;
        const { told, code } = toldOf(error);
        notify(message("gathering.refused", { name, why: told }), code);
      } finally {
        done++;
      }
    };
    await atATime(
      reading.map((picture, i) => () => readOne(picture, i)),
      filesAtATime(),
    );
    return true;
  });
  if (givenBack > 0) notify(message("gathering.givenBack", { count: givenBack }));
  const kept = arriving.finish();
  if (kept.length > 0 && !beside && finished && !get().busy) await groupFrames();
  return kept;
}
