/* One step at a time: what is tapped shows at once, then the server says how it stands. */
"use strict";

(function () {
  const frame = Bench.frame;
  const current = () => frame.querySelector(".bench-step:not([hidden])");

  /* Whoever works by keys stays on Done, whatever takes the place of the step. */
  function toDone() {
    const done = current() && current().querySelector(".done");
    if (done) done.focus({ preventScroll: true });
  }

  /* The step after this one begins now, before the server has answered. */
  function goOn(step, at) {
    const next = step.nextElementSibling;
    if (!next) return;
    const focused = step.contains(document.activeElement);
    step.hidden = true;
    next.hidden = false;
    if (focused) toDone();
    const back = frame.querySelector(".back");
    if (back) { back.dataset.done = "0"; back.hidden = true; }
    begin(next, at);
  }

  /* Which load this device weighs, where the dough is mixed in several: it goes with every weight. */
  Bench.load = function () {
    const said = document.getElementById("bench").dataset.load;
    return said === undefined ? {} : { load: Number(said) };
  };

  function begin(step, at) {
    step.dataset.started = String(Math.round(at || Bench.now()));
    const clock = step.querySelector("[data-clock]");
    if (!clock) return;
    const ends = Number(step.dataset.started) + Number(step.dataset.wait) + Number(step.dataset.extended);
    clock.dataset.ends = String(ends);
    const until = step.querySelector(".until");
    if (until) until.textContent = `until ${Bench.hourOf(ends)}`;
  }

  Bench.tickLine = function (line, grams) {
    line.classList.toggle("ticked", grams !== null);
    line.querySelector(".tick").setAttribute("aria-pressed", String(grams !== null));
    if (grams !== null) line.querySelector(".grams").firstChild.textContent = String(grams);
    const said = frame.querySelector("[data-unticked]");
    const open = [...frame.querySelectorAll(".line:not(.ticked) .name")].map((name) => name.textContent);
    if (said) said.textContent = open.length ? `Not ticked: ${open.join(", ")}.` : "Every line is ticked.";
  };

  const acts = {
    done(step) { goOn(step); return {}; },
    started(step) { begin(step); return {}; },
    paused() { return {}; },
    /* Put in, or taken out: its wait runs beside what comes next. */
    put(step) { goOn(step); return {}; },
    /* A trip is over: what it goes through next comes up, and this step's next trip after that. */
    trip(step) {
      const trip = Number(step.dataset.trip), next = step.nextElementSibling;
      const mate = next && next.dataset.round === step.dataset.round ? next : null;
      step.dataset.trip = String(trip + 1);
      for (const number of step.querySelectorAll("[data-trip-number]")) number.textContent = String(trip + 1);
      const done = step.querySelector(".done");
      if (trip + 1 >= Number(step.dataset.trips) && done) { done.dataset.tap = "done"; done.textContent = "Done"; }
      if (mate) { goOn(step); mate.after(step); }
      return { trip };
    },
    /* What goes on beside the step under way. */
    beside(step, button) {
      const own = frame.querySelector(`.bench-step[data-step="${button.dataset.of}"]`);
      if (own) own.remove();
      button.closest("li").hidden = true;
      return {};
    },
    undone() { return {}; },
    /* How it came out of the oven. */
    looked(step, button) {
      const group = button.dataset.colour ? ".colours [data-tap]" : "[data-right]";
      for (const each of step.querySelectorAll(group)) each.setAttribute("aria-pressed", String(each === button));
      return button.dataset.colour ? { colour: button.dataset.colour } : { right: true };
    },
    extended(step, button) {
      step.dataset.extended = String(Number(step.dataset.extended) + 60000 * Number(button.dataset.minutes));
      const clock = step.querySelector("[data-clock]");
      clock.dataset.ends = String(Number(clock.dataset.ends) + 60000 * Number(button.dataset.minutes));
      return { minutes: Number(button.dataset.minutes) };
    },
    weighed(step, button) {
      const line = button.closest(".line"), off = line.classList.contains("ticked");
      Bench.tickLine(line, off ? null : Number(button.dataset.grams));
      return { line: Number(button.dataset.line), grams: off ? null : Number(button.dataset.grams), ...Bench.load() };
    },
  };

  function tap(button) {
    const step = button.closest(".bench-step") || current(), kind = button.dataset.tap;
    Bench.taps.add(button.dataset.kind || (kind === "put" ? "started" : kind), button.dataset.of || step.dataset.step, acts[kind](step, button));
  }

  /* Finishing goes on to another page: nothing read meanwhile may lead elsewhere. */
  let leaving = false;
  frame.addEventListener("submit", (event) => {
    if (event.target.matches(".tap")) event.preventDefault();
    else if (event.target.matches(".step-acts")) leaving = true;
  });
  frame.addEventListener("click", (event) => {
    const button = event.target.closest("[data-tap]");
    if (button) {
      event.preventDefault();
      /* The second of a double tap falls on the step after: it meant the first. */
      if (event.detail < 2 || button.dataset.tap === "extended") tap(button);
      return;
    }
    const padded = event.target.closest("[data-pad]");
    if (padded) Bench.openPad(padded);
  });

  /* Space and Page Down mean Done: a foot pedal sends them. */
  document.addEventListener("keydown", (event) => {
    if (document.querySelector("dialog[open]") || event.repeat) return;
    if (event.key !== " " && event.key !== "PageDown") return;
    if (event.key === " " && event.target.closest("button, a, input, summary") && !event.target.closest(".done")) return;
    const done = current() && current().querySelector(".done");
    event.preventDefault();
    if (done) done.dataset.tap ? tap(done) : done.form.requestSubmit();
  });

  /* How it stands at the server; nothing is put in place while taps are still to be sent. */
  let asked = 0, newest = 0;
  Bench.refresh = async function (always) {
    const bench = document.getElementById("bench");
    const seq = always ? "" : bench.dataset.seq, answered = Bench.taps.answered, number = asked += 1;
    const load = Bench.load().load, which = load === undefined ? "" : `&load=${load + 1}`;
    const answer = await fetch(`${frame.dataset.state}?seq=${seq}${which}`, { headers: { "X-Bench": "1" }, redirect: "manual" });
    if (leaving) return;
    Bench.setClock(Number(answer.headers.get("X-Now") || NaN));
    if (answer.status >= 500) { Bench.say(answer.headers.get("X-Said") || "The server has a fault. Taps are kept here.", true); return; }
    if (answer.status === 205) { location.href = frame.dataset.here; return; }
    if (answer.status !== 200) return;
    const page = await answer.text();
    /* Asked before a tap that is taken by now, or before what is shown: it tells of a step that is over. */
    if (Bench.taps.all().length || Bench.taps.answered !== answered || number < newest) return;
    newest = number;
    const step = current() && current().dataset.step, focused = bench.contains(document.activeElement);
    Idiomorph.morph(bench, page, { morphStyle: "outerHTML" });
    if (current() && current().dataset.step !== step) window.scrollTo(0, 0);
    if (focused && !bench.contains(document.activeElement)) toDone();
    Bench.tick();
    Bench.offline.keep();
  };

  async function poll() {
    if (leaving) return;
    try {
      if (Bench.taps.all().length) await Bench.taps.flush();
      else { await Bench.refresh(false); if (Bench.lost) { Bench.lost = false; Bench.say(""); } }
    } catch {
      if (!Bench.lost) Bench.say("No connection. The clock goes on; taps are kept here and sent when it is back.", true);
      Bench.lost = true;
    }
  }

  /* One tap at the start of a shift lets alarms sound and keeps the screen awake where that can be had. */
  const shift = document.getElementById("shift");
  shift.addEventListener("click", async () => {
    Bench.sound = Bench.sound || new AudioContext();
    shift.setAttribute("aria-pressed", "true");
    shift.textContent = "Sound on";
    document.getElementById("bench-silent").hidden = true;
    try {
      await navigator.wakeLock.request("screen");
      Bench.say(`Alarms sound now, and this screen stays awake. ${Bench.limits()}`);
    } catch {
      const dark = "This screen may go dark by itself here: set it to stay on, or open it by https.";
      Bench.say(`Alarms sound now. ${dark} ${Bench.limits()}`);
    }
  });

  /* Taps that the server does not have yet were tapped before this page was opened: it shows them done. */
  function again(taps) {
    for (const tap of taps) {
      const step = current();
      if (!step) return;
      if (tap.kind === "weighed") {
        const line = step.querySelector(`.line[data-line="${tap.value.line}"]`);
        if (line) Bench.tickLine(line, tap.value.grams === null ? null : Number(tap.value.grams));
      } else if (step.dataset.step !== tap.step_key) continue;
      else if (tap.kind === "done" || (tap.kind === "started" && step.querySelector("[data-tap='put']"))) goOn(step, tap.at);
      else if (acts[tap.kind] && tap.kind !== "undone") acts[tap.kind](step, { dataset: tap.value });
    }
  }

  Bench.beginClock(Number(frame.dataset.now));
  again(Bench.taps.all());
  Bench.tick();
  setInterval(Bench.tick, 250);
  setInterval(poll, 2500);
  if (Bench.taps.all().length) Bench.taps.flush();
})();
