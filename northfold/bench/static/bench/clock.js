/* Time left, counted by the server's clock: a device whose own clock is wrong shows the same. */
"use strict";

window.Bench = {
  frame: document.getElementById("bench-frame"),
  offset: 0,
  kept: "north-fold-clock",
  now() { return Date.now() + this.offset; },
  /* The server said it was `ms` at this moment. */
  setClock(ms) {
    if (!Number.isFinite(ms)) return;
    this.offset = ms - Date.now();
    try { localStorage.setItem(this.kept, String(this.offset)); } catch { /* it goes by the page alone */ }
  },
  /* What the page says of the time is old where it was kept for a lost network: then it counts on from before. */
  beginClock(ms) {
    let before = NaN;
    try { before = Number(localStorage.getItem(this.kept) ?? NaN); } catch { /* as above */ }
    const said = ms - Date.now();
    this.offset = Number.isFinite(before) ? Math.max(before, said) : said;
  },
};

Bench.words = function (ms) {
  const over = ms < 0;
  const seconds = Math.abs(over ? Math.floor(ms / 1000) : Math.ceil(ms / 1000));
  const h = Math.floor(seconds / 3600), m = Math.floor(seconds / 60) % 60, s = seconds % 60;
  const two = (n) => String(n).padStart(2, "0");
  return (over ? "+" : "") + (h ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`);
};

Bench.hourOf = function (ms) {
  return new Date(ms).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit", timeZone: Bench.frame.dataset.zone });
};

/* Every clock on the page; alarms for those that ran out. */
Bench.tick = function () {
  const now = Bench.now();
  for (const clock of Bench.frame.querySelectorAll(".clock")) {
    const ends = Number(clock.dataset.ends);
    if (!ends || clock.closest("[hidden]")) continue;
    const left = ends - now;
    clock.textContent = Bench.words(left);
    clock.classList.toggle("is-over", left <= 0);
    if (left <= 0 && left > -60000) Bench.alarm(clock.dataset.alarm, ends);
  }
  for (const remind of Bench.frame.querySelectorAll(".bench-step:not([hidden]) .remind")) {
    const started = Number(remind.closest(".bench-step").dataset.started);
    remind.classList.toggle("is-due", Boolean(started) && now >= started + Number(remind.dataset.after));
  }
  const back = Bench.frame.querySelector(".back");
  if (back) back.hidden = now > Number(back.dataset.done) + 10000;
};

/* One sound and one spoken line for each wait that ends; sound only after "Start shift". */
Bench.rung = new Set();
Bench.alarm = function (words, ends) {
  const key = `${words}@${ends}`;
  if (Bench.rung.has(key)) return;
  Bench.rung.add(key);
  Bench.say(Bench.sound ? words : `${words}. Silent here: tap “Start shift” once to hear alarms.`);
  if (!Bench.sound) return;
  if (navigator.vibrate) navigator.vibrate([400, 200, 400]);
  for (let i = 0; i < 3; i += 1) {
    const at = Bench.sound.currentTime + i * 0.6;
    const tone = Bench.sound.createOscillator(), volume = Bench.sound.createGain();
    tone.frequency.value = 660;
    volume.gain.setValueAtTime(0.3, at);
    volume.gain.exponentialRampToValueAtTime(0.001, at + 0.5);
    tone.connect(volume).connect(Bench.sound.destination);
    tone.start(at);
    tone.stop(at + 0.5);
  }
};

Bench.say = function (words, isError) {
  const line = document.getElementById("bench-say");
  line.textContent = words;
  line.hidden = !words;
  line.classList.toggle("is-error", Boolean(isError));
};
