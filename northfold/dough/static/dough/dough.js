/* The line field: Enter adds, Shift+Enter makes another line, a paste of several lines is added at once. */
"use strict";

function lineField(event) {
  return event.target instanceof Element && event.target.matches("#paste") ? event.target : null;
}
document.addEventListener("keydown", (event) => {
  // A name is one line, however it wraps.
  if (event.key === "Enter" && event.target instanceof Element && event.target.matches("#name")) {
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
