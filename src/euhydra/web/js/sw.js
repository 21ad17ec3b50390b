// Keeps the pages for the garden at hand: fresh where there is a connection, as last seen where not.

const CACHE = "euhydra-1";
const OUTDOORS = /^\/gardens\/\d+\/(keep|steps|first-run|today)$/;

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { pathname, search } = new URL(request.url);
  const isPage = request.mode === "navigate" && OUTDOORS.test(pathname) && search === "";
  const isPiece = pathname.startsWith("/static/");
  if (request.method === "GET" && (isPage || isPiece)) event.respondWith(freshOrKept(request));
});

async function freshOrKept(request) {
  const cache = await caches.open(CACHE);
  try {
    const answer = await fetch(request);
    if (answer.ok) await cache.put(request, answer.clone());
    return answer;
  } catch (error) {
    const kept = await cache.match(request, { ignoreVary: true });
    if (kept) return kept;
    throw error;
  }
}
