/* The piece in section at the minute that is read along the bake trace. Classes and words come from the server. */
"use strict";

(function () {
  const classes = (rows, kind, digits) => rows.forEach((row, i) => {
    row.setAttribute("class", `${row.getAttribute("class").replace(new RegExp(` ${kind}[\\d-]`), "")} ${kind}${digits[i]}`);
  });

  document.addEventListener("read-along", (event) => {
    const both = event.target.closest(".bake-read");
    const section = both && both.querySelector("[data-section]");
    if (!section) return;
    const [, , , hot, wet, words] = event.detail;
    classes([...section.querySelectorAll("[data-hot]")], "h", hot);
    classes([...section.querySelectorAll("[data-wet]")], "w", wet);
    section.querySelectorAll("[data-layer]").forEach((text, i) => { text.textContent = words[i]; });
  });
})();
