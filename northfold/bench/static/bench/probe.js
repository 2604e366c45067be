/* The probe beside the bench: how warm the dough is, when it is ready, and what follows from it. */
"use strict";

(function () {
  const box = document.getElementById("at-probe");
  if (!box) return;
  const one = (name) => box.querySelector(`[data-${name}]`);
  const act = (name) => box.querySelector(`[data-probe-act="${name}"]`);
  /* Often while a probe is heard, now and then where none is. [ms] */
  const OFTEN = 1000, SELDOM = 5000;
  let heard = false, asked = 0;

  function show(now) {
    const probe = now.probe;
    heard = Boolean(probe);
    box.hidden = !heard;
    if (!heard) return;
    one("c").textContent = `${probe.c} °C`;
    one("c").classList.toggle("moves", !probe.stable);
    one("says").textContent = probe.says;
    one("name").textContent = probe.name;
    one("why").textContent = probe.why;
    act("back").hidden = !probe.back;
    act("back").textContent = probe.back;
    act("move").hidden = !probe.move;
    act("move").textContent = probe.move;
    act("follow").hidden = !probe.more;
    act("follow").textContent = probe.more > 0 ? `Wait until ${probe.until}` : `Take it out at ${probe.until}`;
    box.dataset.state = probe.back ? "warm" : "";
  }

  async function ask(what) {
    const sent = what ? { method: "POST", headers: { "Content-Type": "application/json", "X-CSRFToken": Bench.token }, body: JSON.stringify({ act: what }) } : {};
    const answer = await fetch(box.dataset.probe, { redirect: "manual", ...sent });
    const said = await answer.json().catch(() => ({}));
    if (said.error) Bench.say(said.error, true);
    if ("probe" in said) show(said);
    if (what && !said.error) { Bench.say({ write: "Written down.", follow: "The wait follows the probe.", back: "Back into the cold: the clock says how long.", move: "Moved: the hours are new." }[what]); Bench.refresh(false); }
  }

  box.addEventListener("click", (event) => {
    const button = event.target.closest("[data-probe-act]");
    if (button) ask(button.dataset.probeAct);
  });
  setInterval(async () => {
    const now = Date.now();
    if (document.hidden || now - asked < (heard ? OFTEN : SELDOM)) return;
    asked = now;
    try { await ask(); } catch { box.hidden = true; }
  }, OFTEN / 2);
})();
