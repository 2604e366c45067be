/* The number pad: big keys for a weight or a reading. What was typed stays until the number is one. */
"use strict";

(function () {
  const pad = document.getElementById("pad");
  if (!pad) return;
  const shown = document.getElementById("pad-shown"), error = document.getElementById("pad-error");
  const limits = { weighed: [0, 200000, "g"], probed: [-40, 130, "°C"], looked: [1, 200000, "g"] };
  let text = "", target = null;

  function show() { shown.textContent = text || "0"; }

  Bench.openPad = function (button) {
    target = button;
    text = "";
    error.hidden = true;
    document.getElementById("pad-title").textContent = button.dataset.padTitle;
    show();
    pad.showModal();
  };

  function press(key) {
    if (key === "back") text = text.slice(0, -1);
    else if (key === "−") text = text.startsWith("−") ? text.slice(1) : `−${text}`;
    else if (text.length < 8 && !(key === "." && text.includes("."))) text += key;
    show();
  }

  function keep() {
    const kind = target.dataset.pad, [low, high, unit] = limits[kind];
    const number = Number(text.replace("−", "-"));
    if (!text || !Number.isFinite(number) || number < low || number > high) {
      const sign = (n) => String(n).replace("-", "−");
      error.textContent = `${text || "Nothing"} ${unit} is outside ${sign(low)} to ${sign(high)} ${unit}. Read it again.`;
      error.hidden = false;
      return;
    }
    const step = target.closest(".bench-step").dataset.step;
    const values = { weighed: { line: Number(target.dataset.line), grams: number }, probed: { c: number }, looked: { grams: number } };
    const value = values[kind];
    if (kind === "weighed" && target.closest(".line")) Bench.tickLine(target.closest(".line"), number);
    pad.close();
    Bench.taps.add(kind, step, kind === "weighed" && step === "weigh" ? { ...value, ...Bench.load() } : value);
  }

  pad.addEventListener("click", (event) => {
    const key = event.target.closest("[data-key]");
    if (key) press(key.dataset.key);
    if (event.target.closest("#pad-keep")) keep();
  });
  pad.addEventListener("keydown", (event) => {
    event.stopPropagation();
    if (/^[0-9.]$/.test(event.key)) press(event.key);
    else if (event.key === ",") press(".");
    else if (event.key === "-") press("−");
    else if (event.key === "Backspace") press("back");
    else if (event.key === "Enter" && event.target.matches("#pad, [data-key]")) keep();
    else return;
    event.preventDefault();
  });
})();
