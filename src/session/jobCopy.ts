import { message } from "../messages/message";
import { DOCUMENT_VERSION } from "../document/migrations/migrations";
import { jobOf } from "../document/selectors";
import type { Records } from "../document/records/types";
import { download } from "./download";
import { named } from "./named";
import { noteCopy, openJobOrNone } from "./openJob";
import { notify, useSession } from "./store";

/** What files of a job are called, without their extension. */
export const fileBase = (records: Records): string => fileNameOf(jobOf(records)?.name ?? "");

/** A name as a file's, without an extension. */
export const fileNameOf = (name: string): string =>
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "") || "picture";

/** Saves a copy of the open job outside the browser: one file with all its sources and steps. */
export async function saveJobFile(): Promise<void> {
  const job = openJobOrNone();
  if (!job) return;
  const { history, records } = useSession.getState();
  const written = await job.run("handover", "task.writingJob", (signal, onProgress) =>
    job.ask("writeJob", { job: { version: DOCUMENT_VERSION, id: job.id, history } }, { signal, onProgress }),
  );
  if (!written) return;
  download(written.file, `${fileBase(records)}.marsh`);
  if (written.missing.length > 0) notify(message("job.copyIncomplete", { names: named(written.missing) }));
  noteCopy();
}
