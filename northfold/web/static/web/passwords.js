/* Beside a password: to see what is typed; beside a new one: how hard it is to guess. */
"use strict";

(function () {
  function words(text) {
    // Length counts most; a letter repeated adds nothing.
    const worth = text.length + new Set(text).size;
    if (text.length < 8) return `${text.length} of at least 8 characters.`;
    if (worth < 20) return "Allowed, but easy to guess. Three or four words in a row are better.";
    if (worth < 32) return "Fair. One more word makes it strong.";
    return "Strong.";
  }

  for (const field of document.querySelectorAll("input[type=password]")) {
    const show = document.createElement("button");
    show.type = "button";
    show.className = "plain show-password";
    show.textContent = "Show it";
    show.setAttribute("aria-pressed", "false");
    show.setAttribute("aria-controls", field.id);
    show.addEventListener("click", () => {
      const seen = field.type === "text";
      field.type = seen ? "password" : "text";
      show.textContent = seen ? "Show it" : "Hide it";
      show.setAttribute("aria-pressed", String(!seen));
    });
    field.after(show);
    field.form.addEventListener("submit", () => { field.type = "password"; });
    if (field.autocomplete !== "new-password") continue;
    const meter = document.createElement("p");
    meter.className = "help strength";
    meter.setAttribute("role", "status");
    show.after(meter);
    field.addEventListener("input", () => { meter.textContent = field.value ? words(field.value) : ""; });
  }
})();
