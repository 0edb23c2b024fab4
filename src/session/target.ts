import { addRecord, removeRecord, updateRecord } from "../document/edits";
import type { TargetRecord } from "../document/records/targetTypes";
import { targetOf } from "../document/selectors";
import { message, type Telling } from "../messages/message";
import { edit, openJob } from "./openJob";
import { useSession } from "./store";

/** Made-up papers that come with Marsh, to try. */
export const PAPERS = [
  { id: "matte", file: "wrenfold-matte.icc", name: "Wrenfold Matte Rag" },
  { id: "gloss", file: "wrenfold-gloss.icc", name: "Wrenfold Reed Gloss" },
] as const;

/** As a target begins: near colours stay, the picture's black becomes the paper's, and the paper shows. */
const BEGINS = { intent: "relative", blackPoint: true, paper: true, widthMm: 400 } as const;

/** Takes a profile for what the picture is printed on; where it cannot print, that is said and nothing changes. */
export const chooseTarget = (file: Blob, fileName: string): Promise<void> => takeProfile(fileName, () => Promise.resolve(file));

/** Takes one of the papers that come with Marsh. */
export const choosePaper = ({ file }: (typeof PAPERS)[number]): Promise<void> =>
  takeProfile(file, async (signal) => {
    const response = await fetch(`/papers/${file}`, { signal });
    return response.blob();
  });

/** @param read gives the profile's file; it may take time, and belongs to the job that is open now */
async function takeProfile(fileName: string, read: (signal: AbortSignal) => Promise<Blob>): Promise<void> {
  const job = openJob();
  const { records } = useSession.getState();
  const found = await job.run("proof", message("task.reading", { name: fileName }), async (signal, onProgress) =>
    job.ask("gatherProfile", { jobId: job.id, file: await read(signal) }, { signal, onProgress }),
  );
  if (!found) return;
  const { sourceId, name } = found;
  const { intent, blackPoint, paper, widthMm } = targetOf(records) ?? BEGINS;
  const target: TargetRecord = { kind: "target", id: "target", sourceId, fileName, name, intent, blackPoint, paper, widthMm };
  job.apply(records, targetOf, addRecord(target), { stage: "proof", label: message("step.target", { name }) });
}

export const changeTarget = (change: Partial<Pick<TargetRecord, "intent" | "blackPoint" | "paper" | "widthMm">>, label: Telling): boolean =>
  edit(updateRecord<TargetRecord>("target", change), { stage: "proof", label }, { measure: false });

export const dropTarget = (): boolean => edit(removeRecord("target"), { stage: "proof", label: "step.targetDropped" }, { measure: false });
