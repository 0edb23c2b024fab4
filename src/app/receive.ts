import { sentence } from "../messages/sentence";
import { gather } from "../session/gathering";
import { newJob, openJobFiles } from "../session/jobs";
import { openJobOrNone, setStage } from "../session/openJob";

/** Takes files as they come: opens the job files, then gathers the pictures that came with them, or come alone, into the job that is open then, or into a new one. */
export async function receive(files: File[]): Promise<void> {
  const isJob = (f: File) => f.name.toLowerCase().endsWith(".marsh");
  const pictures = files.filter((f) => !isJob(f));
  await openJobFiles(files.filter(isJob));
  if (pictures.length === 0) return;
  if (!openJobOrNone()) await newJob(sentence("common/untitledJob"));
  if (!openJobOrNone()) return;
  setStage("gather");
  await gather(pictures.map((file) => ({ name: file.name, file })));
}

// held here, or it may be collected while the person still chooses
let chooser: HTMLInputElement | null = null;

/** Lets the person choose the files. */
export function chooseFiles(): void {
  const input = document.createElement("input");
  input.type = "file";
  input.multiple = true;
  input.onchange = () => void receive([...(input.files ?? [])]);
  chooser = input;
  chooser.click();
}
