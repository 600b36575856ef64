// The drawing of a sheet over the page: larger, zoomed, moved, printed by itself.

import { zoomable } from "./zoom.js";

/** @type {any} */
const dialog = document.getElementById("large");
const box = document.getElementById("large-window");
/** @type {any} */
let drawing = null;

/** The drawing that is shown, as a picture: nothing in it is pressed here. */
function picture() {
  const shown = [...document.querySelectorAll("#drawing svg.drawing")].find((svg) => svg.checkVisibility());
  if (!shown) return null;
  const copy = /** @type {any} */ (shown.cloneNode(true));
  copy.setAttribute("role", "img");
  copy.setAttribute("aria-label", shown.querySelector("title")?.textContent || "");
  copy.removeAttribute("aria-labelledby");
  for (const one of copy.querySelectorAll("[role], [tabindex], [id]")) for (const name of ["role", "tabindex", "id", "aria-label"]) one.removeAttribute(name);
  return copy;
}

document.addEventListener("click", (/** @type {any} */ event) => {
  if (event.target.closest("[data-large]")) {
    const svg = picture();
    if (!svg) return;
    box.replaceChildren(svg);
    dialog.showModal();
    drawing = zoomable(box, svg, { wheel: "plain" });
    box.focus();
  }
  const how = event.target.closest("#large [data-zoom]")?.dataset.zoom;
  if (how) drawing.press(how);
  if (event.target.closest("#large [data-print]")) {
    drawing.fit();
    document.body.classList.add("prints-drawing");
    window.print();
    document.body.classList.remove("prints-drawing");
  }
});
