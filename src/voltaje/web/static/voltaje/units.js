// On a touch screen figures are typed on the number keyboard; the units of the entry stand on keys
// above it, with one that brings the letters.

import { told } from "./words.js";

const touch = matchMedia("(pointer: coarse)");
/** @type {any} */
let at = null;
const strip = document.createElement("div");
strip.className = "unit-keys";
strip.setAttribute("role", "toolbar");
strip.setAttribute("aria-label", told("Units"));
strip.hidden = true;
document.body.append(strip);

/** Puts a text where the hand is: a unit with a space before it. @param {string} text */
function put(text) {
  const from = at.selectionStart ?? at.value.length;
  const before = at.value.slice(0, from), joined = text === "-" || text === "/" || !before || before.endsWith(" ");
  at.setRangeText(joined ? text : ` ${text}`, from, at.selectionEnd ?? from, "end");
  at.dispatchEvent(new Event("input", { bubbles: true }));
}

/** @param {string} label @param {() => void} act */
function key(label, act) {
  const button = document.createElement("button");
  button.type = "button";
  button.tabIndex = -1; // the entry keeps the hand
  button.textContent = label;
  button.addEventListener("pointerdown", (event) => event.preventDefault());
  button.addEventListener("click", act);
  return button;
}

/** The other keyboard: letters, or figures again. */
function letters() {
  at.inputMode = at.inputMode === "text" ? "decimal" : "text";
  const entry = at;
  entry.blur();
  entry.focus();
}

/** Above the keyboard, wherever the page stands. */
function place() {
  const view = window.visualViewport;
  if (view) strip.style.bottom = `${Math.max(0, innerHeight - view.height - view.offsetTop)}px`;
}

document.addEventListener("focusin", (event) => {
  const entry = /** @type {any} */ (event.target);
  if (!touch.matches || !entry.matches?.("input[data-units]")) return;
  if (entry !== at) entry.inputMode = "decimal";
  at = entry;
  const units = entry.dataset.units.split(" ").filter(Boolean);
  strip.replaceChildren(...units.map((/** @type {string} */ unit) => key(unit, () => put(unit))), key(told("ABC"), letters));
  strip.hidden = false;
  place();
});
document.addEventListener("focusout", () => setTimeout(() => {
  if (document.activeElement !== at) strip.hidden = true;
}));
window.visualViewport?.addEventListener("resize", place);
window.visualViewport?.addEventListener("scroll", place);

// an entry that can be found: its button types the ? for it
document.addEventListener("click", (event) => {
  const find = /** @type {any} */ (event.target).closest?.("[data-find]");
  const entry = /** @type {any} */ (find && document.getElementById(find.dataset.find));
  if (!entry) return;
  entry.focus();
  entry.value = "?";
  entry.dispatchEvent(new Event("input", { bubbles: true }));
});
