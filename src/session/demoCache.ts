/** Where files of demos stay once they came, for work without a network. */
const NAME = "marsh-demos";
const FOLDER = "/api/demos/";

/** A file that stayed, by its address, which names its checksum; null where it did not, or the browser keeps nothing. */
export async function keptFile(address: string): Promise<Blob | null> {
  if (typeof caches === "undefined") return null;
  const answer = await (await caches.open(NAME)).match(address);
  return (await answer?.blob()) ?? null;
}

/** Keeps a file. What its address held of another checksum goes, and what lay elsewhere in versions of before. */
export async function keepFile(address: string, file: Blob): Promise<void> {
  if (typeof caches === "undefined") return;
  const cache = await caches.open(NAME);
  const [path] = address.split("?");
  for (const request of await cache.keys()) {
    const { pathname } = new URL(request.url);
    if (pathname === path || !pathname.startsWith(FOLDER)) await cache.delete(request);
  }
  await cache.put(address, new Response(file));
}
