import { framesOf } from "../document/selectors";
import { keepFolder, pictureNames, allowFolder } from "../storage/linkedFiles";
import { gather } from "./gathering";
import { ask, openJob, runTask } from "./openJob";
import { notify, report, useSession } from "./store";

const { getState: get, setState: set } = useSession;

type Picker = { showDirectoryPicker?: (o: { mode: "read" }) => Promise<FileSystemDirectoryHandle> };

/** Whether this browser lets a person choose a folder to work from. */
export const canLinkFolders = (): boolean => "showDirectoryPicker" in window;

async function chooseFolder(): Promise<FileSystemDirectoryHandle | null> {
  try {
    return (await (window as Picker).showDirectoryPicker?.({ mode: "read" })) ?? null;
  } catch (error) {
    if ((error as Error).name !== "AbortError") report(error);
    return null;
  }
}

/** Gathers the pictures of a folder; they stay there and are linked by their checksums. */
export async function gatherFolder(): Promise<void> {
  const handle = await chooseFolder();
  if (!handle) return;
  const names = await pictureNames(handle);
  if (names.length === 0) return notify(`The folder “${handle.name}” holds no pictures that Marsh reads.`);
  const { id } = await keepFolder(openJob().id, handle);
  await gather(await Promise.all(names.map(async (name) => ({ name, file: await (await handle.getFileHandle(name)).getFile(), folderId: id }))));
  await checkFolders();
}

/** Looks whether the sources that were left in folders are still there, unchanged. */
export async function checkFolders(): Promise<void> {
  const { records } = get();
  const sourceIds = [...new Set(framesOf(records).map((f) => f.sourceId))];
  try {
    const links = await ask("checkLinks", { sourceIds });
    set({ links });
    for (const l of links) if (l.foundAs) notify(`${l.fileName} was found again as ${l.foundAs}.`);
  } catch (error) {
    report(error);
  }
}

export async function allow(folderId: string): Promise<void> {
  if (!(await allowFolder(folderId))) notify("Without the permission the frames of this folder cannot be read.");
  await checkFolders();
}

/** Looks for missing or changed sources in another folder, by their checksums. */
export async function findSources(): Promise<void> {
  const handle = await chooseFolder();
  if (!handle) return;
  const lost = get().links.filter((l) => l.state === "missing" || l.state === "changed");
  const folder = await keepFolder(openJob().id, handle);
  const found = await runTask("gather", "Looking for the files", (signal) =>
    ask("findSources", { folder, sourceIds: lost.map((l) => l.sourceId) }, { signal }),
  );
  if (!found) return;
  const count = found.length === lost.length ? "What was missing was found" : `${found.length} of ${lost.length} files were found`;
  notify(`${count} in “${handle.name}”.`);
  await checkFolders();
}
