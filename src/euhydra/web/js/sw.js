// Keeps the pages for the garden at hand: fresh where there is a connection, as last seen where not. Who opens one
// of them gets the others kept too, for the garden's far end.

const CACHE = "euhydra-1";
const OUTDOORS = /^\/gardens\/\d+\/(keep|steps|first-run|today)$/;
const BESIDE = ["keep", "steps", "today"];
const BESIDE_AFTER_MS = 4000; // the page itself, and what it asks for, comes first
const OLD_MS = 3600_000;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { pathname, search } = new URL(request.url);
  const isPage = request.mode === "navigate" && OUTDOORS.test(pathname) && search === "";
  const isPiece = pathname.startsWith("/static/");
  if (request.method !== "GET" || !(isPage || isPiece)) return;
  event.respondWith(freshOrKept(request, isPage));
  if (isPage) event.waitUntil(keepBeside(request.url));
});

async function freshOrKept(request, isPage) {
  const cache = await caches.open(CACHE);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (error) {
    const kept = await cache.match(request, { ignoreVary: true });
    if (!kept) throw error;
    return isPage ? dated(kept) : kept;
  }
}

/** A page that is kept, with the time at which it was seen: it shows it. */
async function dated(kept) {
  const html = await kept.text();
  const { headers } = kept;
  return new Response(html.replace("<html ", `<html data-seen="${headers.get("date") ?? ""}" `), { headers });
}

async function keepBeside(url) {
  await new Promise((resolve) => setTimeout(resolve, BESIDE_AFTER_MS));
  const cache = await caches.open(CACHE);
  for (const name of BESIDE) {
    const other = new URL(name, url).href;
    const kept = await cache.match(other, { ignoreVary: true });
    if (other === url || (kept && Date.now() - Date.parse(kept.headers.get("date")) < OLD_MS)) continue;
    const answer = await fetch(other).catch(() => null);
    if (answer === null) return;
    if (answer.ok && !answer.redirected) await cache.put(other, answer);
  }
}
