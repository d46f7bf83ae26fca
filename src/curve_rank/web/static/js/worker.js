// Today without a connection: the page as it was last seen, and what it is drawn with. Nothing of it is
// anyone else's: it is emptied when somebody signs out, and when the server says that nobody is signed in any
// more; then the door is shown.
const PAGES = "curve-rank-today";
const PARTS = "curve-rank-parts";
const PATIENCE = 2500;
const TRIES = 6;
const STALE = 43200000;
const UNTIL = "X-Signed-In-Until";
const BESIDE = "/today/instead";
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
  if (request.mode === "navigate" && url.pathname === "/today") event.respondWith(page(event));
  else if (url.pathname === BESIDE) event.respondWith(beside(request));
  else if (url.pathname.startsWith("/static/") || url.pathname === "/palette.css")
    event.respondWith(part(request));
});

// A page asks to be kept, with what it is drawn with. One that came through here is kept by that, and so is
// not asked for once more.
self.addEventListener("message", (event) => {
  const keep = async () => {
    for (const one of [event.data.page, event.data.beside])
      if (!(event.data.isKept && (await seen(new Request(one))))) await keepPage(one);
    const parts = await caches.open(PARTS);
    await Promise.all(event.data.parts.map(async (one) => (await parts.match(one)) ?? parts.add(one)));
  };
  if (event.data.ahead) event.waitUntil(keepAhead(event.data.ahead));
  else event.waitUntil(keep().then(() => event.source?.postMessage("kept"), () => {}));
});

// A page that still waits for something is asked for again; only what was kept is said to be.
async function keepPage(address) {
  for (let n = 0; n < TRIES; n += 1) {
    const page = await fetch(address, { credentials: "same-origin" });
    if (isToday(page)) return (await caches.open(PAGES)).put(address, page);
    if (isDoor(page)) break;
    await new Promise((resolve) => { setTimeout(resolve, PATIENCE); });
  }
  throw new Error("no page of today");
}

const isToday = (response) => response.ok && !response.redirected && response.headers.has(UNTIL);
// Who is sent to the door instead is signed in no more.
const isDoor = (response) =>
  response.status === 401 ||
  (response.redirected && /\/(sign-in|first)$/.test(new URL(response.url).pathname));

// The next sessions, one after the other: those that are not kept, or were long ago; others are given up.
async function keepAhead(addresses) {
  const pages = await caches.open(PAGES);
  for (const one of await pages.keys()) {
    const { pathname, search } = new URL(one.url);
    if (search && !addresses.includes(pathname + search)) await pages.delete(one);
  }
  for (const address of addresses) {
    const kept = await pages.match(address);
    if (kept && Date.now() - Date.parse(kept.headers.get("Date") ?? "") < STALE) continue;
    const response = await fetch(address, { credentials: "same-origin" }).catch(() => null);
    if (!response || !isToday(response)) return;
    await pages.put(address, response);
  }
}

// The fresh page where it comes soon, else the one that was kept, which is told once the fresh one is here.
async function page(event) {
  const { request } = event;
  const kept = await seen(request);
  const before = kept?.clone();
  let isLate = false;
  const fresh = asked(request).then(async (response) => {
    const copy = response.clone();
    if (isLate && (await said(before)) !== (await said(copy)))
      (await self.clients.get(event.resultingClientId))?.postMessage("fresh");
    return response;
  });
  if (!kept) return fresh.catch(lost);
  event.waitUntil(fresh.catch(() => {}));
  const late = new Promise((resolve) => {
    setTimeout(() => { isLate = true; resolve(kept); }, PATIENCE);
  });
  return Promise.race([fresh.catch(() => kept), late]);
}

// Asked of the server, and kept; where nobody is signed in any more nothing stays.
async function asked(request) {
  const response = await fetch(request);
  if (isToday(response)) await (await caches.open(PAGES)).put(request, response.clone());
  if (isDoor(response)) await caches.delete(PAGES);
  return response;
}

// What may stand instead, beside the page of the same session.
async function beside(request) {
  try {
    return await asked(request);
  } catch {
    return (await seen(request)) ?? (await seen(new Request(BESIDE))) ?? Response.error();
  }
}

// What a page says of the session; its token and the like differ each time.
const said = async (page) => (await page.text()).match(/id="today-data">([^]*?)<\/script>/)?.[1];

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
