/* Pointing at the drawn case, and the number pad beside the rim's measures. Without script all parts are listed. */
"use strict";

(function () {
  const map = document.querySelector(".case-map");
  if (!map) return;
  const groups = Array.from(document.querySelectorAll(".fault-part"));
  const link = (key) => map.querySelector(`.case-part[data-part="${key}"]`);

  function open(key) {
    for (const group of groups) group.hidden = group.dataset.part !== key;
    for (const part of map.querySelectorAll(".case-part")) part.classList.toggle("open", part.dataset.part === key);
  }
  map.addEventListener("click", (event) => {
    const part = event.target.closest(".case-part");
    if (!part) return;
    event.preventDefault();
    open(part.dataset.part);
  });
  for (const group of groups) {
    group.addEventListener("change", () => {
      link(group.dataset.part).classList.toggle("marked", Boolean(group.querySelector(":checked")));
    });
  }
  const marked = groups.find((group) => group.querySelector(":checked"));
  open((marked || groups[0]).dataset.part);
})();

(function () {
  const pad = document.getElementById("numpad"), fields = Array.from(document.querySelectorAll("[data-measure]"));
  if (!pad || !fields.length) return;
  const gap = document.querySelector("#id_gap");
  if (gap) fields.push(gap);
  let target = fields.find((field) => !field.value) || fields[0];
  pad.hidden = false;
  // On a touch screen the pad is enough: no keyboard over the page.
  if (window.matchMedia("(pointer: coarse)").matches) for (const field of fields) field.inputMode = "none";
  function aim(field) {
    for (const each of fields) each.classList.toggle("aimed", each === field);
    target = field;
  }
  for (const field of fields) field.addEventListener("focus", () => aim(field));
  aim(target);
  pad.addEventListener("click", (event) => {
    const key = event.target.dataset.key;
    if (!key) return;
    if (key === "next") { aim(fields[(fields.indexOf(target) + 1) % fields.length]); target.focus(); return; }
    if (key === "back") target.value = target.value.slice(0, -1);
    else if (key === "−") target.value = target.value.startsWith("−") ? target.value.slice(1) : `−${target.value}`;
    else target.value += key;
    target.dispatchEvent(new Event("input", { bubbles: true }));
  });
})();
