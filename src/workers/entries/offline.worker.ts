/**
 * Keeps the application in the browser, so that it starts and works without a network: the page, its scripts, the kernels, and demos once they were opened. A newer one
 * is fetched beside the one at work and takes over when the person says so.
 */
declare const ASSETS: string[];
declare const VERSION: string;

const APPLICATION = `marsh-application-${VERSION}`;
const DEMOS = "marsh-demos";
const worker = globalThis as unknown as ServiceWorkerGlobalScope;

worker.addEventListener("install", (event) => {
  // past the browser's own cache, which may hold what a server of before said
  event.waitUntil(caches.open(APPLICATION).then((cache) => cache.addAll(ASSETS.map((asset) => new Request(asset, { cache: "no-cache" })))));
});

worker.addEventListener("activate", (event) => {
  const letOldGo = async () => {
    for (const name of await caches.keys()) if (name.startsWith("marsh-application-") && name !== APPLICATION) await caches.delete(name);
    await worker.clients.claim();
  };
  event.waitUntil(letOldGo());
});

worker.addEventListener("message", (event) => {
  if (event.data === "takeOver") void worker.skipWaiting();
});

worker.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== worker.location.origin) return;
  if (request.mode === "navigate") {
    // one page serves every job
    if (pathname === "/" || pathname.startsWith("/job/")) event.respondWith(kept("/", request));
  } else if (pathname.startsWith("/api/demos/") && !ASSETS.includes(pathname)) event.respondWith(keptOnceOpened(request));
  else if (ASSETS.includes(pathname)) event.respondWith(kept(pathname, request));
});

async function kept(asset: string, request: Request): Promise<Response> {
  const there = await (await caches.open(APPLICATION)).match(asset);
  if (!there) return fetch(request);
  // a worker reads what it was asked for by off its own address, which a kept answer would replace
  return request.destination === "worker" ? new Response(there.body, { status: there.status, headers: there.headers }) : there;
}

/** A file of a demo is kept by its address once it came whole; a part of one that goes on is not. */
async function keptOnceOpened(request: Request): Promise<Response> {
  const demos = await caches.open(DEMOS);
  const there = await demos.match(request.url);
  if (there) return there;
  const answer = await fetch(request);
  if (answer.status === 200) await demos.put(request.url, answer.clone());
  return answer;
}
