/* Reading along a trace, of the dough or of the bake: by touch or pointer on the picture, by the slider under it, by arrow keys. Places and
   words come from the server. */
"use strict";

(function () {
  const readings = (figure) => JSON.parse(figure.querySelector('script[type="application/json"]').textContent);

  function show(figure, index) {
    const all = readings(figure), at = Math.min(Math.max(0, index), all.length - 1), [x, y, words] = all[at];
    const cursor = figure.querySelector("[data-cursor]");
    cursor.hidden = false;
    cursor.removeAttribute("hidden");
    cursor.querySelector("path").setAttribute("transform", `translate(${x} 0)`);
    cursor.querySelector("circle").setAttribute("transform", `translate(${x} ${y})`);
    const slider = figure.querySelector("[data-reader] input");
    slider.value = at;
    slider.dirty = false;
    slider.setAttribute("aria-valuetext", words);
    figure.querySelector("[data-words]").textContent = words;
    figure.dispatchEvent(new CustomEvent("read-along", { detail: all[at], bubbles: true }));
  }

  function nearest(figure, event) {
    const svg = figure.querySelector("svg"), at = new DOMPoint(event.clientX, event.clientY);
    const x = at.matrixTransform(svg.getScreenCTM().inverse()).x;
    const off = readings(figure).map(([px]) => Math.abs(px - x));
    return off.indexOf(Math.min(...off));
  }

  function open() {
    for (const reader of document.querySelectorAll("[data-trace] [data-reader]")) reader.hidden = false;
  }

  document.addEventListener("input", (event) => {
    const figure = event.target.closest("[data-trace]");
    if (figure && event.target.type === "range") show(figure, Number(event.target.value));
  });
  for (const kind of ["pointerdown", "pointermove"]) {
    document.addEventListener(kind, (event) => {
      const svg = event.target.closest("[data-trace] svg");
      if (svg) show(svg.closest("[data-trace]"), nearest(svg.closest("[data-trace]"), event));
    });
  }
  document.addEventListener("htmx:afterSettle", open);
  open();
})();
