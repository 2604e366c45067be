/* The scale beside the bench: what lies on the pan, how much is to go, and a sheet that unfolds as it comes. */
"use strict";

(function () {
  const box = document.getElementById("at-scale");
  if (!box) return;
  const one = (name) => box.querySelector(`[data-${name}]`);
  const act = (name) => box.querySelector(`[data-scale-act="${name}"]`);
  const upper = box.querySelector(".leaf-turn");
  /* Often while a scale is heard, now and then where none is. [ms] */
  const OFTEN = 400, SELDOM = 4000, FULL_TURN = 180, MOST_BEYOND = 34;
  let shown = null, asked = 0, tried = "";

  const step = () => {
    const current = Bench.frame.querySelector(".bench-step:not([hidden])");
    return current ? current.dataset.step : "";
  };
  const worksHere = () => step() === "weigh" || step() === "mix";

  async function send(what) {
    const answer = await fetch(box.dataset.scale, {
      method: "POST", redirect: "manual",
      headers: { "Content-Type": "application/json", "X-CSRFToken": Bench.token }, body: JSON.stringify({ ...what, ...Bench.load() }),
    });
    const said = await answer.json().catch(() => ({}));
    if (said.error) Bench.say(said.error, true);
    if (said.scales) show(said);
    if (what.act === "follow" && !said.error) Bench.say("The other lines follow. Their weights are new.");
    Bench.refresh(false);
  }

  /* Folded shut it lies on itself, at the target it lies flat, and beyond it bends down. */
  function unfold(share) {
    const beyond = share > 1 ? Math.min(MOST_BEYOND, (share - 1) * 400) : 0;
    upper.setAttribute("transform", `rotate(${-(FULL_TURN * Math.min(1, share) + beyond)} 200 169)`);
  }

  function offer(scales) {
    const place = one("offer");
    place.hidden = false;
    place.replaceChildren(...scales.map((scale) => {
      const button = document.createElement("button");
      button.type = "button";
      button.className = "side";
      button.textContent = scale.weighs_for ? `${scale.name} weighs for ${scale.weighs_for}: take it here` : `Weigh with ${scale.name}`;
      button.addEventListener("click", () => send({ act: "use", device: scale.id }));
      return button;
    }));
  }

  function show(now) {
    const own = now.own, mixing = step() === "mix";
    box.hidden = !worksHere() || !now.scales.length || (mixing && !(own && (own.pour || !box.dataset.poured)));
    box.classList.toggle("is-own", Boolean(own));
    if (box.hidden) { shown = now; return; }
    if (!own) {
      const free = now.scales.filter((scale) => !scale.weighs_for);
      offer(now.scales);
      /* The only scale that is free is taken without asking, once. */
      if (now.scales.length === 1 && free.length === 1 && tried !== free[0].id) { tried = free[0].id; send({ act: "use", device: free[0].id }); }
      shown = now;
      return;
    }
    one("offer").hidden = true;
    const pour = own.pour;
    one("name").textContent = own.name;
    act("jug").hidden = !mixing || Boolean(pour);
    act("poured").hidden = !mixing || !pour;
    act("empty").hidden = act("other").hidden = mixing;
    act("follow").hidden = mixing || !own.follow;
    one("follow").hidden = mixing || !own.follow;
    one("follow").textContent = own.follow || "";
    if (mixing) {
      one("what").textContent = pour ? pour.what : "The jug with the liquid, full, onto the pan";
      one("go").textContent = pour ? `${pour.poured} g in` : "";
      one("pan").textContent = pour ? (pour.poured < pour.first ? `first ${pour.first} g at once` : `by feel up to ${pour.most} g`) : "";
      one("target").textContent = "";
      unfold(pour ? pour.poured / pour.most : 0);
      box.dataset.state = pour && pour.poured > pour.most ? "over" : "under";
    } else if (own.what) {
      one("what").textContent = own.what;
      one("go").textContent = own.says;
      one("pan").textContent = `${own.on_pan} g on the pan`;
      one("target").textContent = `of ${own.target} g`;
      box.dataset.state = own.state;
      unfold(own.share);
    } else {
      one("what").textContent = "Every line is weighed";
      one("go").textContent = "";
      one("pan").textContent = one("target").textContent = "";
      box.dataset.state = "there";
      unfold(1);
    }
    for (const line of Bench.frame.querySelectorAll(".line")) line.classList.toggle("on-scale", !mixing && Number(line.dataset.line) === own.line);
    if (shown && shown.own && shown.seq !== now.seq) {
      if (shown.own.what && shown.own.what !== own.what) Bench.say(`${shown.own.what}: weighed.`);
      Bench.refresh(false);
    }
    shown = now;
  }

  box.addEventListener("click", (event) => {
    const button = event.target.closest("[data-scale-act]");
    if (!button) return;
    const what = button.dataset.scaleAct;
    if (what === "other") {
      const open = [...Bench.frame.querySelectorAll(".line:not(.ticked)")].map((line) => Number(line.dataset.line));
      const here = open.indexOf(shown.own.line);
      if (open.length > 1) send({ act: "line", line: open[(here + 1) % open.length] });
      return;
    }
    if (what === "poured") {
      const pour = shown.own.pour;
      box.dataset.poured = "1";
      Bench.taps.add("weighed", "mix", { line: pour.line, grams: pour.poured });
      send({ act: "empty" });
      return;
    }
    send({ act: what });
  });

  async function ask() {
    const now = Date.now(), often = shown && shown.scales.length ? OFTEN : SELDOM;
    if (!worksHere()) { box.hidden = true; return; }
    if (document.hidden || now - asked < often) return;
    asked = now;
    try {
      const load = Bench.load().load || 0;
      const answer = await fetch(`${box.dataset.scale}?load=${load}`, { redirect: "manual" });
      if (answer.status === 200) show(await answer.json());
    } catch { box.hidden = true; }
  }
  setInterval(ask, OFTEN / 2);
  ask();
})();
