// Today without a connection: the page as it was last seen, and what it is drawn with. Nothing of it is anyone else's: it is
// emptied when somebody signs out.
const PAGES = "curve-rank-today";
const PARTS = "curve-rank-parts";
const PATIENCE = 2500;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (request.mode === "navigate" && url.pathname === "/today") event.respondWith(page(request));
  else if (url.pathname.startsWith("/static/") || url.pathname === "/palette.css") event.respondWith(part(request));
});

// A page that was opened before its worker was there asks to be kept, with what it is drawn with.
self.addEventListener("message", (event) => {
  const keep = async () => {
    const [pages, parts] = [await caches.open(PAGES), await caches.open(PARTS)];
    const page = await fetch(event.data.page, { credentials: "same-origin" });
    if (page.ok && !page.redirected) await pages.put(event.data.page, page);
    for (const one of event.data.parts) if (!(await parts.match(one))) await parts.add(one);
  };
  event.waitUntil(keep().then(() => event.source?.postMessage("kept"), () => {}));
});

async function page(request) {
  const kept = await caches.match(request, { cacheName: PAGES });
  const fresh = fetch(request).then(async (response) => {
    if (response.ok && !response.redirected) await (await caches.open(PAGES)).put(request, response.clone());
    return response;
  });
  if (!kept) return fresh.catch(lost);
  const late = new Promise((resolve) => { setTimeout(() => resolve(kept), PATIENCE); });
  return Promise.race([fresh.catch(() => kept), late]);
}

async function lost() {
  const newest = await caches.match("/today", { cacheName: PAGES });
  return newest ?? new Response("No connection, and this page has not been seen here yet.", { status: 503, headers: { "Content-Type": "text/plain" } });
}

async function part(request) {
  const kept = await caches.match(request, { cacheName: PARTS });
  if (kept) return kept;
  const response = await fetch(request);
  if (response.ok) {
    const cache = await caches.open(PARTS);
    await cache.put(request, response.clone());
    await sweep(cache, new URL(request.url).pathname);
  }
  return response;
}

// Of parts of an older version of the application nothing is kept.
async function sweep(cache, path) {
  const version = path.match(/^\/static\/([^/]+)\//)?.[1];
  if (!version) return;
  for (const one of await cache.keys()) {
    const there = new URL(one.url).pathname.match(/^\/static\/([^/]+)\//)?.[1];
    if (there && there !== version) await cache.delete(one);
  }
}
