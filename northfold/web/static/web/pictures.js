/* Saves the pictures of a page as SVG files: each as it is drawn, with its colours and patterns in it, its words as its title. */
"use strict";

const PAINT = ["fill", "fill-opacity", "stroke", "stroke-width", "stroke-opacity", "stroke-dasharray", "stroke-linecap",
  "stroke-linejoin", "opacity", "font-family", "font-size", "font-weight", "text-anchor", "dominant-baseline",
  "paint-order", "visibility", "display"];
const pictures = () => [...document.querySelectorAll("svg[aria-label]")].filter((svg) => svg.getClientRects().length);

// Style sheets stay behind, so what they say of a shape is written onto it.
function painted(shape, copy) {
  const style = getComputedStyle(shape);
  for (const name of PAINT) {
    const value = style.getPropertyValue(name);
    // A pattern is named by the page's own address where it comes from a style sheet.
    if (value) copy.setAttribute(name, value.replace(/url\(["']?[^"')]*#([^"')]+)["']?\)/g, "url(#$1)"));
  }
  copy.removeAttribute("class");
  [...shape.children].forEach((child, n) => painted(child, copy.children[n]));
}
function asFile(svg) {
  const copy = svg.cloneNode(true);
  painted(svg, copy);
  const box = svg.viewBox.baseVal && svg.viewBox.baseVal.width ? svg.viewBox.baseVal : svg.getBoundingClientRect();
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", box.width);
  copy.setAttribute("height", box.height);
  copy.removeAttribute("hidden");
  const title = document.createElementNS("http://www.w3.org/2000/svg", "title");
  title.textContent = svg.getAttribute("aria-label").replace(/\s+/g, " ");
  const defs = document.createElementNS("http://www.w3.org/2000/svg", "defs");
  const used = new Set([...copy.outerHTML.matchAll(/url\((?:&quot;|")?#([\w-]+)/g)].map((found) => found[1]));
  for (const id of used) {
    const pattern = document.getElementById(id);
    if (!pattern || copy.querySelector(`#${id}`)) continue;
    const own = pattern.cloneNode(true);
    [...pattern.children].forEach((child, n) => painted(child, own.children[n]));
    defs.append(own);
  }
  copy.prepend(title, defs);
  return `<?xml version="1.0" encoding="UTF-8"?>\n${new XMLSerializer().serializeToString(copy)}\n`;
}
function hand(text, name) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([text], { type: "image/svg+xml" }));
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10000);
}
document.addEventListener("click", (event) => {
  if (!event.target.closest("[data-pictures]")) return;
  const name = document.title.toLowerCase().replace(/[^a-z0-9]+/g, "-").replace(/^-|-$/g, "");
  pictures().forEach((svg, n) => hand(asFile(svg), `${name}-${n + 1}.svg`));
});
