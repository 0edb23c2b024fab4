/**
 * Keeps the application in the browser, so that it starts and works without a network: the page, its scripts, the kernels, the list of demos. A newer one
 * is fetched beside the one at work and takes over when the person says so. It takes in what the system's share sheet brings, too.
 */
import { NOT_KEPT, putReceived, RECEIVED_FIELD, RECEIVED_QUERY, RECEIVING } from "../../storage/receivedFiles";

declare const ASSETS: string[];
declare const VERSION: string;

const APPLICATION = `marsh-application-${VERSION}`;
/** Demos on offer: files of another version than the list names are no use. */
const OFFERS = "/api/demos";
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
  if (origin !== worker.location.origin) return;
  if (request.method === "POST" && pathname === RECEIVING) event.respondWith(receive(request));
  if (request.method !== "GET") return;
  if (request.mode === "navigate") {
    // one page serves every job
    if (pathname === "/" || pathname.startsWith("/job/")) event.respondWith(kept("/", request));
  } else if (pathname === OFFERS) event.respondWith(latest(pathname, request));
  else if (ASSETS.includes(pathname)) event.respondWith(kept(pathname, request));
});

/** Keeps what the system's share sheet brings, and opens the page that takes it. */
async function receive(request: Request): Promise<Response> {
  const kept = await request
    .formData()
    .then((form) => putReceived(form.getAll(RECEIVED_FIELD).filter((f) => f instanceof File)))
    .then(
      () => "",
      () => NOT_KEPT,
    );
  return Response.redirect(`/?${RECEIVED_QUERY}=${kept}`, 303);
}

async function kept(asset: string, request: Request): Promise<Response> {
  const there = await (await caches.open(APPLICATION)).match(asset);
  if (!there) return fetch(request);
  // a worker reads what it was asked for by off its own address, which a kept answer would replace
  return request.destination === "worker" ? new Response(there.body, { status: there.status, headers: there.headers }) : there;
}

/** As the server has it now, and as it was where there is no network. */
async function latest(asset: string, request: Request): Promise<Response> {
  return fetch(request).catch(() => kept(asset, request));
}
