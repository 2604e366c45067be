/* Taps are kept on this device until the server has them: through a lost connection and through a closed page. */
"use strict";

Bench.taps = {
  key: `north-fold-taps-${Bench.frame.dataset.make}`,
  busy: false,
  /* How many the server has taken or refused. */
  answered: 0,
  all() {
    try { return JSON.parse(localStorage.getItem(this.key)) || []; } catch { return []; }
  },
  keep(taps) { localStorage.setItem(this.key, JSON.stringify(taps)); },
  /* Any id that no other tap has; crypto.randomUUID is missing on plain http. */
  newId() {
    const bytes = crypto.getRandomValues(new Uint8Array(16));
    return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
  },
  kept(later) {
    const count = this.all().length;
    return `${count === 1 ? "One tap is" : `${count} taps are`} kept here ${later}.`;
  },
  add(kind, step, value) {
    const tap = { client_id: this.newId(), kind, step_key: step, value: value || {}, at: Math.round(Bench.now()), device: Bench.device };
    this.keep([...this.all(), tap]);
    return this.flush();
  },
  /* Send what is kept, oldest first. A tap leaves only when an answer names it, taken or refused. */
  async flush() {
    if (this.busy) return;
    this.busy = true;
    try {
      for (let tap = this.all()[0]; tap; tap = this.all()[0]) {
        const answer = await fetch(Bench.frame.dataset.events, {
          method: "POST",
          headers: { "Content-Type": "application/json", "X-CSRFToken": Bench.token },
          body: JSON.stringify(tap),
          redirect: "manual",
        });
        Bench.setClock(Number(answer.headers.get("X-Now") || NaN));
        if (answer.type === "opaqueredirect" || answer.status === 401 || answer.status === 403) {
          Bench.say("You are signed out. The taps are kept on this device; sign in again in another window.", true);
          return;
        }
        const said = await answer.json().catch(() => ({}));
        if (said.id !== tap.client_id) {
          Bench.say(`${said.error || "The server did not take the last tap."} ${this.kept("and sent again")}`, true);
          return;
        }
        this.keep(this.all().filter((each) => each.client_id !== tap.client_id));
        this.answered += 1;
        if (said.error) Bench.say(said.error, true);
        else if (!this.all().length) Bench.say("");
      }
      await Bench.refresh(true);
    } catch {
      Bench.say(`No connection. ${this.kept("and sent when it is back")}`, true);
    } finally {
      this.busy = false;
    }
  },
};

Bench.device = (function () {
  try {
    const kept = localStorage.getItem("north-fold-device") || Bench.taps.newId().slice(0, 8);
    localStorage.setItem("north-fold-device", kept);
    return kept;
  } catch { return ""; }
})();
Bench.token = JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
