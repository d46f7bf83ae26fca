// Today without a connection: the page as it was last seen, and what it is drawn with. Nothing of it is
// anyone else's: it is emptied when somebody signs out, and when the server says that nobody is signed in any
// more; then the door is shown.
const PAGES = "curve-rank-today";
const PARTS = "curve-rank-parts";
const PATIENCE = 2500;
const UNTIL = "X-Signed-In-Until";
const DOOR = `<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Sign in · Curve Rank</title>
<style>body{font:1rem/1.5 system-ui,sans-serif;margin:3rem auto;max-width:26rem;padding:0 1rem}
a{display:inline-block;padding:.7rem 1.2rem;border:1px solid}
@media(prefers-color-scheme:dark){body{background:#16181c;color:#e8e6e1}a{color:inherit}}
</style><h1>Nobody is signed in here</h1>
<p>Today opens once you sign in, and that needs a connection.
Sets that were written down and not sent yet are still in this browser; they go once you have signed in.</p>
<p><a href="/sign-in?back=/today">Sign in</a></p></html>`;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== "GET" || url.origin !== location.origin) return;
  if (request.mode === "navigate" && url.pathname === "/today") event.respondWith(page(request));
  else if (url.pathname.startsWith("/static/") || url.pathname === "/palette.css")
    event.respondWith(part(request));
});

// A page that was opened before its worker was there asks to be kept, with what it is drawn with.
self.addEventListener("message", (event) => {
  const keep = async () => {
    const [pages, parts] = [await caches.open(PAGES), await caches.open(PARTS)];
    const page = await fetch(event.data.page, { credentials: "same-origin" });
    if (isToday(page)) await pages.put(event.data.page, page);
    for (const one of event.data.parts) if (!(await parts.match(one))) await parts.add(one);
  };
  event.waitUntil(keep().then(() => event.source?.postMessage("kept"), () => {}));
});

const isToday = (response) => response.ok && !response.redirected && response.headers.has(UNTIL);
// Who is sent to the door instead is signed in no more.
const isDoor = (response) =>
  response.status === 401 ||
  (response.redirected && /\/(sign-in|first)$/.test(new URL(response.url).pathname));

async function page(request) {
  const kept = await seen(request);
  const fresh = fetch(request).then(async (response) => {
    if (isToday(response)) await (await caches.open(PAGES)).put(request, response.clone());
    if (isDoor(response)) await caches.delete(PAGES);
    return response;
  });
  if (!kept) return fresh.catch(lost);
  const late = new Promise((resolve) => { setTimeout(() => resolve(kept), PATIENCE); });
  return Promise.race([fresh.catch(() => kept), late]);
}

// A page as it was kept, for as long as the sign-in under which it was lasts at most.
async function seen(request) {
  const kept = await caches.match(request, { cacheName: PAGES });
  const until = Date.parse(kept?.headers.get(UNTIL) ?? "");
  if (until < Date.now()) {
    await caches.delete(PAGES);
    return undefined;
  }
  return kept;
}

async function lost() {
  const newest = await seen(new Request("/today"));
  return newest ?? new Response(DOOR, { status: 503, headers: { "Content-Type": "text/html" } });
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
