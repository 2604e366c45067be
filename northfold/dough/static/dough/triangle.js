/* Moving the hollow mark of the ratio triangle, by pointer or arrow keys. Only turns a place into shares by the matrix
   that the server gave; the server weighs the dough anew. */
"use strict";

(function () {
  const triangle = () => document.querySelector(".triangle[data-matrix]");
  const mark = () => document.querySelector(".triangle #mark[tabindex]");
  let dragging = null, waiting = 0;

  function sharesAt(x, y) {
    const m = triangle().dataset.matrix.split(" ").map(Number);
    return [m[0] * x + m[1] * y + m[2], m[3] * x + m[4] * y + m[5]];
  }

  function inside([fat, liquid]) {
    fat = Math.max(0, fat);
    liquid = Math.max(0, liquid);
    const much = fat + liquid > 0.88 ? 0.88 / (fat + liquid) : 1;
    return [fat * much, liquid * much];
  }

  function placeOf(event) {
    const svg = triangle(), at = new DOMPoint(event.clientX, event.clientY);
    const p = at.matrixTransform(svg.getScreenCTM().inverse());
    return [p.x, p.y];
  }

  function say([fat, liquid]) {
    const flour = 1 - fat - liquid, of = (share) => Math.round((1000 * share) / flour) / 10;
    document.getElementById("drag-words").textContent = `Fat ${of(fat)}, liquid ${of(liquid)} percent of flour.`;
  }

  function send([fat, liquid]) {
    const go = document.getElementById("drag-go");
    document.getElementById("drag-fat").value = fat.toFixed(6);
    document.getElementById("drag-liquid").value = liquid.toFixed(6);
    go.click();
  }

  document.addEventListener("pointerdown", (event) => {
    if (!mark() || event.target !== mark()) return;
    dragging = mark();
    dragging.setPointerCapture(event.pointerId);
    dragging.classList.add("held");
    event.preventDefault();
    dragging.focus();
  });
  document.addEventListener("pointermove", (event) => {
    if (!dragging) return;
    const [x, y] = placeOf(event);
    dragging.setAttribute("cx", x);
    dragging.setAttribute("cy", y);
    say(inside(sharesAt(x, y)));
  });
  function drop(event) {
    if (!dragging) return;
    dragging.classList.remove("held");
    dragging = null;
    send(inside(sharesAt(...placeOf(event))));
  }
  document.addEventListener("pointerup", drop);
  document.addEventListener("pointercancel", drop);

  /* One percent of flour a key: left more fat, right more liquid, up less of both, down more of both. */
  const STEPS = { ArrowLeft: [1, -1], ArrowRight: [-1, 1], ArrowUp: [-1, -1], ArrowDown: [1, 1] };
  document.addEventListener("keydown", (event) => {
    const step = STEPS[event.key], here = mark();
    if (!step || !here || event.target !== here) return;
    event.preventDefault();
    const fat = Math.max(0, Number(here.dataset.fat) + step[0]);
    const liquid = Math.max(0, Number(here.dataset.liquid) + step[1]);
    here.dataset.fat = fat;
    here.dataset.liquid = liquid;
    const whole = 100 + fat + liquid, shares = inside([fat / whole, liquid / whole]);
    say(shares);
    clearTimeout(waiting);
    waiting = setTimeout(() => send(shares), 250);
  });
})();
