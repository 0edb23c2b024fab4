/** Where files that the system's share sheet brought wait for the page. */
const NAME = "marsh-received";
/** Where the system sends them, as the manifest names it. */
export const RECEIVING = "/receive";
/** The field of the form they come in. */
export const RECEIVED_FIELD = "files";
/** Where the page is then opened, to take them. */
export const RECEIVED_QUERY = "received";
/** What the query then says where there was no room for all of them. */
export const NOT_KEPT = "some";

/** @param time tells files of one sheet from those of another */
export async function putReceived(files: File[], time = Date.now()): Promise<void> {
  const cache = await caches.open(NAME);
  for (const [i, file] of files.entries()) await cache.put(`/received/${time}/${i}/${encodeURIComponent(file.name)}`, new Response(file));
}

/** The files that wait, in the order they came; they wait no longer. */
export async function takeReceived(): Promise<File[]> {
  if (typeof caches === "undefined") return [];
  const cache = await caches.open(NAME);
  const files: File[] = [];
  for (const request of await cache.keys()) {
    const answer = await cache.match(request);
    const name = decodeURIComponent(new URL(request.url).pathname.split("/").at(-1)!);
    if (answer) files.push(new File([await answer.blob()], name));
    await cache.delete(request);
  }
  return files;
}
