/* The wall keeps itself up: every few seconds it looks how things stand, and counts by the kitchen's clock between. */
"use strict";

(function () {
  const EACH = 4000;
  const hour = document.getElementById("wall-hour"), shift = document.getElementById("shift");

  async function look() {
    try {
      const answer = await fetch(Bench.frame.dataset.here, { headers: { "X-Bench": "1" }, redirect: "manual" });
      Bench.setClock(Number(answer.headers.get("X-Now") || NaN));
      if (answer.status !== 200) { location.reload(); return; }
      Idiomorph.morph(document.getElementById("wall"), await answer.text(), { morphStyle: "outerHTML" });
      if (Bench.lost) { Bench.lost = false; Bench.say(""); }
      Bench.tick();
    } catch {
      Bench.lost = true;
      Bench.say("No connection. The clocks go on; what has been tapped since is not here.", true);
    }
  }

  shift.addEventListener("click", async () => {
    Bench.sound = Bench.sound || new AudioContext();
    shift.setAttribute("aria-pressed", "true");
    shift.textContent = "Sound on";
    try { await navigator.wakeLock.request("screen"); } catch { Bench.say("This screen may go dark by itself: set it to stay on."); }
  });

  Bench.beginClock(Number(Bench.frame.dataset.now));
  Bench.tick();
  setInterval(() => { Bench.tick(); hour.textContent = Bench.hourOf(Bench.now()); }, 500);
  setInterval(look, EACH);
})();
