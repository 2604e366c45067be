/* The dough moves along its bands while it waits or warms, by the trace of the plan and the kitchen's clock. */
"use strict";

(function () {
  const LOOKS = 1000;

  function at(track, minutes) {
    let before = track[0];
    for (const point of track) {
      if (point[0] >= minutes) {
        const share = point[0] === before[0] ? 1 : (minutes - before[0]) / (point[0] - before[0]);
        return before[1] + Math.max(0, share) * (point[1] - before[1]);
      }
      before = point;
    }
    return before[1];
  }

  setInterval(() => {
    const step = Bench.frame.querySelector(".bench-step:not([hidden])"), bands = step && step.querySelector(".bands");
    if (!bands || !step.dataset.started) return;
    const track = JSON.parse(bands.dataset.track);
    if (track.length < 2) return;
    const c = at(track, (Bench.now() - Number(step.dataset.started)) / 60000);
    const x = Math.min(Math.max((c - Number(bands.dataset.low)) * Number(bands.dataset.per), 0), 800);
    bands.querySelector(".now").setAttribute("transform", `translate(${x.toFixed(1)} 0)`);
    const band = [...bands.querySelectorAll(".band")].find((each) => x <= each.x.baseVal.value + each.width.baseVal.value);
    if (band) bands.querySelector(".says").textContent = `, ${band.dataset.word}`;
    bands.querySelector("[data-now-c]").textContent = String(Math.round(2 * c) / 2).replace("-", "−");
  }, LOOKS);
})();
