/* The line field: Enter adds, Shift+Enter makes another line, a paste of several lines is added at once. */
"use strict";

function lineField(event) {
  return event.target instanceof Element && event.target.matches("#paste") ? event.target : null;
}
document.addEventListener("keydown", (event) => {
  // A name, or the wording of a line, is one line, however it wraps.
  if (event.key === "Enter" && event.target instanceof Element && event.target.matches("#name, .words")) {
    event.preventDefault();
    event.target.blur();
  }
  const field = lineField(event);
  if (field && event.key === "Enter" && !event.shiftKey && !event.isComposing) {
    event.preventDefault();
    if (field.value.trim()) field.form.requestSubmit();
  }
});
document.addEventListener("paste", (event) => {
  const field = lineField(event);
  if (field) setTimeout(() => { if (field.value.trim().includes("\n")) field.form.requestSubmit(); });
});
// Once its lines are in the table, the field is empty again; a refused paste stays.
document.addEventListener("htmx:afterSwap", (event) => {
  const field = document.getElementById("paste");
  if (field && event.detail.xhr && event.detail.xhr.status === 200 && !field.dirty) field.value = "";
});
// Copying: the text into the clipboard where the browser lets us, else the text opens to be copied by hand.
document.addEventListener("click", async (event) => {
  const link = event.target instanceof Element && event.target.closest("[data-copy]");
  if (!link || !navigator.clipboard) return;
  event.preventDefault();
  const answer = await fetch(link.href);
  await navigator.clipboard.writeText(await answer.text());
  const name = link.textContent;
  link.textContent = "copied";
  setTimeout(() => { link.textContent = name; }, 1500);
});
