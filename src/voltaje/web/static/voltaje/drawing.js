// The drawing of a sheet: places that set an entry, conductors under the clamp, views; lines of the
// worksheet and the entries and bands they come from light up together.

import { byPath, set } from "./entries.js";
import * as joints from "./joints.js";
import * as places from "./places.js";
import { told } from "./words.js";

const form = document.getElementById("entries");
const result = document.getElementById("result");
const drawing = () => document.getElementById("drawing");

/**
 * @param {boolean} on
 * @param {any} source
 */
function light(on, source) {
  const paths = (source.dataset.entries || "").split(" ").filter(Boolean);
  for (const path of paths) byPath(path)?.closest(".row-entry, .item")?.classList.toggle("lit", on);
  if (source.dataset.flow) {
    for (const band of document.querySelectorAll(`#drawing [data-flow="${source.dataset.flow}"]`)) band.classList.toggle("lit", on);
  }
}
for (const [name, on] of /** @type {[string, boolean][]} */ ([["pointerover", true], ["pointerout", false], ["focusin", true], ["focusout", false]])) {
  document.getElementById("zone-worksheet").addEventListener(name, (/** @type {Event & On} */ event) => {
    const source = event.target.closest("[data-entries], [data-flow]");
    if (source) light(on, source);
  });
  form.addEventListener(name, (/** @type {Event & On} */ event) => {
    const f = event.target.closest(".row-entry, .item")?.querySelector("[name]");
    if (!f) return;
    const start = f.closest("[data-row]")?.dataset.row || f.name;
    for (const line of result.querySelectorAll("tr[data-entries]")) {
      const from = line.dataset.entries.split(" ").some((/** @type {string} */ p) => p === start || p.startsWith(start + "."));
      if (!from) continue;
      line.classList.toggle("lit", on);
      for (const band of document.querySelectorAll(`#drawing [data-flow="${line.dataset.flow}"]`)) band.classList.toggle("lit", on);
    }
  });
}

const isPress = (/** @type {any} */ event) => event.type !== "keydown" || event.key === "Enter" || event.key === " ";

// a place on the drawing that sets an entry, such as a tap; a finding's remedy, which may set several
/** @param {Event & On} event */
function setFromPage(event) {
  const place = event.target.closest?.("#drawing [data-sets], #result [data-sets]");
  if (!place || !isPress(event)) return;
  event.preventDefault();
  for (const one of place.dataset.sets.split(";")) {
    const [name, value] = one.split("=");
    set(name, value);
  }
}

// a control of the drawing by its name: it keeps the focus while the drawing is drawn anew
let focused = "";
document.addEventListener("focusin", (event) => {
  focused = event.target.closest?.("#drawing [role=button]")?.getAttribute("aria-label") || "";
});
document.addEventListener("pointerdown", (event) => {
  if (!event.target.closest?.("#drawing")) focused = "";
});
function refocus() {
  if (!focused || (document.activeElement && document.activeElement !== document.body)) return;
  drawing().querySelector(`[role=button][aria-label="${CSS.escape(focused)}"]`)?.focus({ preventScroll: true });
}

// a conductor under the clamp, and the view that is shown, stay while the drawing changes
let clamped = "", view = "";
export function dress() {
  joints.dress();
  places.dress();
  const at = clamped && drawing().querySelector(`[data-clamp="${CSS.escape(clamped)}"]`);
  for (const wire of drawing().querySelectorAll("[data-clamp]")) wire.classList.toggle("on", wire === at);
  const meter = drawing().querySelector("[data-meter]");
  if (meter && at) {
    meter.querySelector("[data-reading]").textContent = at.dataset.reads;
    meter.querySelector("[data-within]").textContent = at.dataset.within;
    meter.querySelector("[data-clamped]").textContent = told("around {conductor}", { conductor: at.dataset.says });
  }
  const panels = [...drawing().querySelectorAll("[data-panel]")];
  const shown = panels.some((p) => p.dataset.panel === view) ? view : panels[0]?.dataset.panel;
  for (const panel of panels) panel.hidden = panel.dataset.panel !== shown;
  for (const button of drawing().querySelectorAll("[data-view]")) button.setAttribute("aria-pressed", button.dataset.view === shown);
  refocus();
}

/** @param {Event & On} event */
function clampOrView(event) {
  if (!isPress(event)) return;
  const wire = event.target.closest?.("#drawing [data-clamp]");
  const button = event.target.closest?.("#drawing [data-view]");
  if (!wire && !button) return;
  if (wire) { event.preventDefault(); clamped = wire.dataset.clamp; }
  else view = button.dataset.view;
  dress();
}

for (const act of [setFromPage, clampOrView]) {
  document.addEventListener("click", act);
  document.addEventListener("keydown", act);
}
dress();
