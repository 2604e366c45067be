/* Keeps what is typed while answers from the server are put in place, and says when nothing gets through. */
"use strict";

// A field typed into after its last sending is "dirty": an answer to an older sending must not overwrite it.
document.addEventListener("input", (event) => { event.target.dirty = true; });
document.addEventListener("htmx:configRequest", (event) => {
  const form = event.detail.elt.closest("form");
  if (!form) return;
  const changed = event.detail.triggeringEvent && event.detail.triggeringEvent.type === "change";
  for (const field of form.elements) {
    field.dirty = false;
    // A button that only has the focus when a waiting change is sent was not pressed.
    if (changed && field.type === "submit" && field.name) delete event.detail.parameters[field.name];
  }
});
// What of the page stands here as the server last sent it: it need not come again, see web/parts.py.
function asSent(field) {
  if (field.options) {
    const sent = [...field.options].findIndex((option) => option.defaultSelected);
    return field.selectedIndex === Math.max(sent, 0);
  }
  if (field.type === "checkbox" || field.type === "radio") return field.checked === field.defaultChecked;
  return field.value === field.defaultValue;
}
document.addEventListener("htmx:configRequest", (event) => {
  const parts = [...document.querySelectorAll("[data-sum]")].filter((part) =>
    [...part.querySelectorAll("input, select, textarea")].every(asSent));
  if (parts.length) event.detail.headers["X-Has"] = parts.map((part) => `${part.id}=${part.dataset.sum}`).join(",");
});
if (window.Idiomorph) {
  Idiomorph.defaults.ignoreActiveValue = true;
  // What follows later, or has not changed, stays as it is.
  Idiomorph.defaults.callbacks.beforeNodeMorphed = (old, fresh) => !old.dirty && !(fresh.dataset && "later" in fresh.dataset);
}

// A button that is gone after its own press leaves the focus where one would look next: where it names in data-then,
// else on what came after it and is still there.
const reach = "a[href], button, input:not([type=hidden]), select, textarea, summary, [tabindex='0']";
let left = null;
document.addEventListener("htmx:beforeSwap", () => {
  const was = document.activeElement;
  if (!was || was === document.body) return;
  const all = [...document.querySelectorAll(reach)];
  const after = all.slice(all.indexOf(was) + 1).map((each) => each.id).filter(Boolean);
  left = { was, ids: [was.dataset.then, was.id, ...after, "main"] };
});
document.addEventListener("htmx:afterSettle", () => {
  if (!left) return;
  const { was, ids } = left;
  left = null;
  if (was.isConnected || (document.activeElement && document.activeElement !== document.body)) return;
  const next = ids.map((id) => id && document.getElementById(id)).find((each) => each && each.getClientRects().length);
  if (next) next.focus({ preventScroll: next.id === "main" });
});

// Nothing gets through, or is refused: say so and keep the page as it is.
const offline = document.getElementById("offline");
function say(words) {
  offline.textContent = words;
  offline.hidden = !words;
}
document.addEventListener("htmx:sendError", () => say(offline.dataset.lost));
document.addEventListener("htmx:responseError", (event) => {
  const { status } = event.detail.xhr, said = event.detail.xhr.getResponseHeader("X-Said");
  say(said || (status === 401 ? offline.dataset.out : offline.dataset.refused));
});
document.addEventListener("htmx:afterOnLoad", (event) => { if (event.detail.xhr.status < 400) say(""); });

// Buttons that only print, and menus that send their form when changed.
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-print]")) window.print();
});
document.addEventListener("change", (event) => {
  if (event.target.matches("select[data-send]")) event.target.form.requestSubmit();
});

// ? lists the shortcuts; / goes to the search.
document.addEventListener("keydown", (event) => {
  if (event.target.matches("input, textarea, select") || event.ctrlKey || event.metaKey || event.altKey) return;
  const help = document.getElementById("shortcuts");
  if (event.key === "?" && help) { help.open ? help.close() : help.showModal(); event.preventDefault(); }
  if (event.key === "/") {
    const search = document.querySelector("[data-search]");
    if (search) { search.focus(); event.preventDefault(); }
  }
});
