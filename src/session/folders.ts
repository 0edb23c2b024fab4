import { message } from "../messages/message";
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
  if (names.length === 0) return notify(message("gathering.emptyFolder", { folder: handle.name }));
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
    for (const l of links) if (l.foundAs) notify(message("gathering.foundAs", { file: l.fileName, now: l.foundAs }));
  } catch (error) {
    report(error);
  }
}

export async function allow(folderId: string): Promise<void> {
  if (!(await allowFolder(folderId))) notify("gathering.noPermission");
  await checkFolders();
}

/** Looks for missing or changed sources in another folder, by their checksums. */
export async function findSources(): Promise<void> {
  const handle = await chooseFolder();
  if (!handle) return;
  const lost = get().links.filter((l) => l.state === "missing" || l.state === "changed");
  const folder = await keepFolder(openJob().id, handle);
  const found = await runTask("gather", "task.findingFiles", (signal) => ask("findSources", { folder, sourceIds: lost.map((l) => l.sourceId) }, { signal }));
  if (!found) return;
  const folderName = handle.name;
  const some = { found: found.length, lost: lost.length, folder: folderName };
  notify(found.length === lost.length ? message("gathering.allFound", { folder: folderName }) : message("gathering.someFound", some));
  await checkFolders();
}
