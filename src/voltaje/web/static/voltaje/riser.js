// The one-line diagram of a job: all of it at first, then where it was left.

import { zoomable } from "./zoom.js";

const box = document.getElementById("riser");
const svg = document.getElementById("riser-drawing");
if (box && svg) {
  // folding a branch leaves the place where it is
  const circuits = new URLSearchParams(location.search).get("circuits") || "";
  const drawing = zoomable(box, svg, { key: `riser:${location.pathname}${circuits}` });
  document.addEventListener("click", (event) => {
    const how = event.target.closest("[data-zoom]")?.dataset.zoom;
    if (how) drawing.press(how);
  });
  window.addEventListener("beforeprint", () => drawing.whole());
}
document.querySelector("[data-print]")?.addEventListener("click", () => window.print());
