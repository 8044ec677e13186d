/* Keeps the last round and each living brew's page, so that they can be read while Kyklos does not answer. Nothing of it stays once this
   device is signed out. What is typed on a kept page waits in keep.js, and is sent once. */
"use strict";
const PAGES = "kyklos-pages";
const THINGS = "kyklos-things"; // styles, scripts, fonts: their addresses carry a fingerprint
const WHEN = "X-Kept-At";
const AGAIN_MS = 10 * 60 * 1000; // a page that was kept so lately is not asked for again
const PATIENCE_MS = 15000; // then the kept page is shown

const scope = new URL(self.registration.scope).pathname;
const isKept = (path) => path === scope || /^(brews|tapped)\/\d+$/.test(path.slice(scope.length));
const clock = (at) => new Date(Number(at)).toLocaleTimeString([], { hour: "numeric", minute: "2-digit" });
const newKey = () => [...crypto.getRandomValues(new Uint8Array(12))].map((n) => n.toString(16).padStart(2, "0")).join("");
const isPage = (answer) => answer.ok && !answer.redirected && (answer.headers.get("Content-Type") || "").startsWith("text/html");
const forget = () => caches.delete(PAGES);

const keep = async (path, answer) => {
  const body = await answer.text();
  const headers = { "Content-Type": "text/html; charset=utf-8", [WHEN]: String(Date.now()) };
  await (await caches.open(PAGES)).put(path, new Response(body, { headers }));
};

/* A kept page as it is shown: it says how old it is, and each of its forms has a key of its own. */
const shown = async (kept) => {
  const words = `<div class="stop-note" role="status" data-as-of><p>As of ${clock(kept.headers.get(WHEN))}: Kyklos does not answer.
    What you type waits here, and is sent once it does.</p></div>`;
  const body = (await kept.text()).replace(/(<main\b[^>]*>)/, `$1${words}`).replace(/(name="once" value=")[^"]*/g, (_, head) => head + newKey());
  return new Response(body, { headers: { "Content-Type": "text/html; charset=utf-8" } });
};

const elsewhere = async () => {
  const pages = await caches.open(PAGES);
  const rows = [];
  for (const request of await pages.keys()) {
    const body = await (await pages.match(request)).text();
    rows.push(`<li><a href="${new URL(request.url).pathname}">${(body.match(/<title>([^<·]*)/) || ["", "A page"])[1]}</a></li>`);
  }
  const sheets = (await (await caches.open(THINGS)).keys()).map((one) => one.url).filter((url) => url.includes(".css"));
  const head = sheets.map((url) => `<link rel="stylesheet" href="${url}">`).join("");
  return new Response(
    `<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Kyklos does not answer</title>${head}
    <main class="wide"><h1>Kyklos does not answer</h1><p>What was kept on this device:</p><ul>${rows.join("") || "<li>nothing yet</li>"}</ul></main></html>`,
    { status: 503, headers: { "Content-Type": "text/html; charset=utf-8" } },
  );
};

const asked = async (request) => {
  const path = new URL(request.url).pathname;
  try {
    const answer = await fetch(request, { signal: AbortSignal.timeout(PATIENCE_MS) });
    if (answer.redirected && new URL(answer.url).pathname.endsWith("/sign-in")) await forget();
    else if (isKept(path) && !new URL(request.url).search && isPage(answer)) await keep(path, answer.clone());
    return answer;
  } catch {
    const kept = await (await caches.open(PAGES)).match(path);
    return kept ? shown(kept) : elsewhere();
  }
};

const thing = async (request) => {
  const things = await caches.open(THINGS);
  const known = await things.match(request);
  if (known) return known;
  const answer = await fetch(request);
  if (answer.ok && answer.status === 200) await things.put(request, answer.clone());
  return answer;
};

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== location.origin) return;
  if (request.method === "POST") {
    if (url.pathname.endsWith("/sign-out")) event.respondWith(forget().then(() => fetch(request)));
    return;
  }
  if (request.method !== "GET") return;
  if (url.pathname.startsWith(`${scope}static/`) && url.searchParams.has("v")) event.respondWith(thing(request));
  else if (request.mode === "navigate") event.respondWith(asked(request));
});

/* The round says which brews live, and what a page is made of. */
self.addEventListener("message", (event) => {
  const { pages = [], things = [] } = event.data || {};
  event.waitUntil((async () => {
    const store = await caches.open(THINGS);
    for (const url of things) if (!(await store.match(url))) await store.add(url).catch(() => {});
    const kept = await caches.open(PAGES);
    for (const request of await kept.keys()) {
      const { pathname } = new URL(request.url);
      if (pathname !== scope && pages.length && !pages.includes(pathname)) await kept.delete(request);
    }
    for (const path of pages.filter(isKept)) {
      const known = await kept.match(path);
      if (known && Date.now() - Number(known.headers.get(WHEN)) < AGAIN_MS) continue;
      try {
        const answer = await fetch(path, { headers: { "X-Kept-Unseen": "1" } });
        if (answer.redirected) return forget();
        if (isPage(answer)) await keep(path, answer);
      } catch {
        continue; // the next round brings it
      }
    }
  })());
});
