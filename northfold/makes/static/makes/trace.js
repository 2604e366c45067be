/* Reading along the dough trace: by touch or pointer on the picture, by the slider under it, by arrow keys. Places and
   words come from the server. */
"use strict";

(function () {
  const figure = () => document.querySelector("[data-trace]");
  const readings = () => JSON.parse(document.getElementById("trace-readings").textContent);

  function show(index) {
    const all = readings(), at = Math.min(Math.max(0, index), all.length - 1), [x, y, words] = all[at];
    const cursor = figure().querySelector("[data-cursor]");
    cursor.hidden = false;
    cursor.removeAttribute("hidden");
    cursor.querySelector("path").setAttribute("transform", `translate(${x} 0)`);
    cursor.querySelector("circle").setAttribute("transform", `translate(${x} ${y})`);
    const slider = document.getElementById("read-along");
    slider.value = at;
    slider.dirty = false;
    slider.setAttribute("aria-valuetext", words);
    figure().querySelector("[data-words]").textContent = words;
  }

  function nearest(event) {
    const svg = figure().querySelector("svg"), at = new DOMPoint(event.clientX, event.clientY);
    const x = at.matrixTransform(svg.getScreenCTM().inverse()).x;
    const off = readings().map(([px]) => Math.abs(px - x));
    return off.indexOf(Math.min(...off));
  }

  function open() {
    if (figure()) figure().querySelector("[data-reader]").hidden = false;
  }

  document.addEventListener("input", (event) => {
    if (event.target.id === "read-along") show(Number(event.target.value));
  });
  for (const kind of ["pointerdown", "pointermove"]) {
    document.addEventListener(kind, (event) => {
      if (event.target.closest("[data-trace] svg")) show(nearest(event));
    });
  }
  document.addEventListener("htmx:afterSettle", open);
  open();
})();
