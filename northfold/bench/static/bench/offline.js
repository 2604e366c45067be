/* A small worker keeps this page for a lost network, where the browser lets it: over https, or on this machine. */
"use strict";

Bench.offline = (function () {
  const can = window.isSecureContext && "serviceWorker" in navigator;
  /* Kept anew at most so often. [ms] */
  const EACH = 10000;
  let last = 0, later = 0;

  /* Everything that the page is made of, so that it opens whole. */
  const made = () => [...document.querySelectorAll("link[rel~=stylesheet], link[rel~=icon], script[src]")]
    .map((part) => part.href || part.src)
    .concat(performance.getEntriesByType("resource").map((each) => each.name))
    .filter((address, n, all) => new URL(address).pathname.startsWith("/static/") && all.indexOf(address) === n);

  async function keep() {
    if (!can) return;
    const ready = await navigator.serviceWorker.ready;
    clearTimeout(later);
    const wait = last + EACH - Date.now();
    if (wait > 0) { later = setTimeout(keep, wait); return; }
    last = Date.now();
    ready.active.postMessage({ keep: location.pathname, made: made() });
  }

  if (can) navigator.serviceWorker.register("/bench-worker.js", { scope: "/" }).then(keep, () => {});
  return { can, keep };
})();

/* What this device can and cannot do, said once at "Start shift". */
Bench.limits = function () {
  const lacks = [];
  if (!("vibrate" in navigator)) lacks.push("It does not vibrate.");
  if (!Bench.offline.can) lacks.push("Without https leave this page open: it cannot be opened anew while the network is down.");
  return lacks.join(" ");
};
