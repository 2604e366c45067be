/* A strip of work is moved along its lane, by the pointer or the arrow keys, and held where it is let go. */
"use strict";

(() => {
  const STEP = 5; // minutes for a key

  function scaleOf(svg) {
    return JSON.parse(svg.dataset.scale);
  }

  // From px to minutes, along the stretches that are drawn.
  function minuteAt(scale, x) {
    for (let i = 0; i + 1 < scale.length; i += 1) {
      const [[from, left], [to, right]] = [scale[i], scale[i + 1]];
      if (x <= right || i + 2 === scale.length) return from + (to - from) * (x - left) / (right - left);
    }
    return scale[0][0];
  }
  function pxAt(scale, minute) {
    for (let i = 0; i + 1 < scale.length; i += 1) {
      const [[from, left], [to, right]] = [scale[i], scale[i + 1]];
      if (minute <= to || i + 2 === scale.length) return left + (right - left) * (minute - from) / Math.max(1, to - from);
    }
    return scale[0][1];
  }
  function show(strip, scale) {
    const by = pxAt(scale, Number(strip.dataset.at)) - pxAt(scale, Number(strip.dataset.begin));
    strip.setAttribute("transform", `translate(${by} 0)`);
    strip.classList.add("moving");
  }
  function hold(strip) {
    if (strip.dataset.at === undefined || strip.dataset.at === strip.dataset.begin) return;
    const form = document.getElementById("hold");
    form.task.value = strip.dataset.task;
    form.minute.value = strip.dataset.at;
    form.requestSubmit ? form.requestSubmit() : form.submit();
  }
  function back(strip) {
    delete strip.dataset.at;
    strip.removeAttribute("transform");
    strip.classList.remove("moving");
  }

  document.addEventListener("keydown", (event) => {
    const strip = event.target.closest && event.target.closest("[data-task]");
    if (!strip) return;
    const scale = scaleOf(strip.ownerSVGElement);
    const at = Number(strip.dataset.at ?? strip.dataset.begin);
    if (event.key === "ArrowLeft" || event.key === "ArrowRight") {
      event.preventDefault();
      strip.dataset.at = at + (event.key === "ArrowLeft" ? -STEP : STEP);
      show(strip, scale);
    } else if (event.key === "Enter") {
      event.preventDefault();
      hold(strip);
    } else if (event.key === "Escape") {
      back(strip);
    }
  });

  let drag = null;
  document.addEventListener("pointerdown", (event) => {
    const strip = event.target.closest && event.target.closest("[data-task]");
    if (!strip || event.button) return;
    const svg = strip.ownerSVGElement;
    drag = { strip, scale: scaleOf(svg), from: event.clientX, per: svg.viewBox.baseVal.width / svg.getBoundingClientRect().width };
    strip.setPointerCapture(event.pointerId);
  });
  document.addEventListener("pointermove", (event) => {
    if (!drag) return;
    const { strip, scale, from, per } = drag;
    const x = pxAt(scale, Number(strip.dataset.begin)) + (event.clientX - from) * per;
    if (Math.abs(event.clientX - from) < 4) return;
    strip.dataset.at = Math.round(minuteAt(scale, x) / STEP) * STEP;
    show(strip, scale);
  });
  document.addEventListener("pointerup", () => {
    if (!drag) return;
    const { strip } = drag;
    drag = null;
    hold(strip);
  });
  document.addEventListener("pointercancel", () => {
    if (drag) back(drag.strip);
    drag = null;
  });
})();
