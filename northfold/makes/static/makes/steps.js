// On a phone the steps are folded to one line each but the next; a touch on one unfolds it, and it stays so.
(() => {
  const list = () => document.querySelector("#steps");
  if (!list()) return;
  const chosen = new Map();

  const show = () => {
    for (const button of list()?.querySelectorAll("[data-unfold]") ?? []) {
      const step = document.getElementById(button.dataset.unfold);
      const open = chosen.get(step.id) ?? step.classList.contains("is-next");
      step.classList.toggle("is-open", open);
      button.setAttribute("aria-expanded", String(open));
    }
  };

  document.addEventListener("click", (event) => {
    const button = event.target.closest("[data-unfold]");
    if (!button) return;
    const step = document.getElementById(button.dataset.unfold);
    chosen.set(step.id, !step.classList.contains("is-open"));
    show();
  });
  document.addEventListener("htmx:afterSettle", show);
  show();
  // What to have ready is folded there too, to be opened by who wants it.
  if (matchMedia("(max-width: 47.9375em)").matches) document.querySelector("#before")?.removeAttribute("open");
})();
