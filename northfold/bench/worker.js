/* Keeps the open bench through a lost network: its page until somebody signs out, and what pages are made of. */
"use strict";

const PAGES = "north-fold-bench", PARTS = "north-fold-parts";
/* Without an answer for so long it counts as no network. [ms] */
const PATIENCE = 6000;
const isBench = (url) => /^\/bench\/\d+\/$/.test(url.pathname);
const isSigning = (url) => url.pathname.startsWith("/sign-in/") || url.pathname.startsWith("/sign-out/");

/* What was asked for before somebody signed out is not kept after it. */
let signed = 0;
function forget() {
  signed += 1;
  return caches.delete(PAGES);
}

async function keep(name, request, answer, asked) {
  if (!answer.ok || answer.type !== "basic" || answer.redirected) return;
  const cache = await caches.open(name);
  await cache.put(request, answer);
  if (name === PAGES && asked !== signed) await forget();
}

function inTime(request) {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(() => reject(new Error("no answer")), PATIENCE);
    fetch(request).then((answer) => { clearTimeout(timer); resolve(answer); }, (error) => { clearTimeout(timer); reject(error); });
  });
}

/* From the network, and kept; from what was kept only where there is no network. */
async function answerTo(event, name) {
  const { request } = event, asked = signed;
  try {
    const answer = await inTime(request);
    /* A page that leads elsewhere: signed out, or the make is over. Nothing of it stays. */
    if (name === PAGES && !answer.ok) await forget();
    else event.waitUntil(keep(name, request, answer.clone(), asked));
    return answer;
  } catch (error) {
    const kept = await (await caches.open(name)).match(request, { ignoreVary: true });
    if (kept) return kept;
    throw error;
  }
}

self.addEventListener("install", (event) => event.waitUntil(self.skipWaiting()));
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim()));

self.addEventListener("fetch", (event) => {
  const url = new URL(event.request.url);
  if (url.origin !== self.location.origin) return;
  if (isSigning(url)) { event.waitUntil(forget()); return; }
  if (event.request.method !== "GET") return;
  if (event.request.mode === "navigate" && isBench(url)) event.respondWith(answerTo(event, PAGES));
  else if (url.pathname.startsWith("/static/")) event.respondWith(answerTo(event, PARTS));
});

/* The page as it stands now, asked for by the bench itself after something happened there. */
self.addEventListener("message", (event) => {
  const { keep: path, made } = event.data || {}, asked = signed;
  if (!path || !isBench(new URL(path, self.location.origin))) return;
  event.waitUntil((async () => {
    const parts = await caches.open(PARTS);
    for (const part of made || []) if (!(await parts.match(part))) await parts.add(part).catch(() => {});
    const answer = await fetch(path, { redirect: "manual", credentials: "same-origin" }).catch(() => null);
    if (answer && answer.ok) await keep(PAGES, path, answer, asked);
    else if (answer) await forget();
  })());
});
