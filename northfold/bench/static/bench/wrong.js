/* "Something is wrong": what is likely at this step, then what puts it right, over the step itself. */
"use strict";

(function () {
  const box = document.getElementById("wrong-box");

  async function open(address) {
    const place = document.getElementById("wrong");
    try {
      const answer = await fetch(address, { headers: { "X-Bench": "1" }, redirect: "manual" });
      if (answer.status === 200) Idiomorph.morph(place, await answer.text(), { morphStyle: "outerHTML" });
      else place.textContent = answer.status === 422 ? await answer.text() : "That could not be asked. Reload the page.";
    } catch {
      place.textContent = "No connection, so nothing can be reckoned. The usual remedies stand on the step.";
    }
    if (!box.open) box.showModal();
    const first = box.querySelector("#wrong a, #wrong button");
    if (first) first.focus({ preventScroll: true });
  }

  /* Who has a step, or is handed it. */
  const hands = document.getElementById("hands-box");
  let step = "";
  document.addEventListener("click", (event) => {
    const asked = event.target.closest("[data-hands]"), named = event.target.closest("#hands-box [data-who]");
    if (asked) { step = asked.dataset.hands; hands.showModal(); }
    if (!named) return;
    hands.close();
    Bench.taps.add("held", step, { who: named.dataset.who });
  });

  document.addEventListener("click", (event) => {
    const link = event.target.closest("[data-wrong]");
    if (!link) return;
    event.preventDefault();
    open(link.href);
  });
})();
