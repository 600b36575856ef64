// On every page: dialogs, rule chips, the list of shortcuts, menus that close, undo by keyboard.

import { findAgain } from "./focus.js";

const single = document.getElementById("single-keys");
try { single.checked = localStorage.getItem("voltaje:single-keys") !== "off"; } catch { /* no storage: on */ }
single.addEventListener("change", () => {
  try { localStorage.setItem("voltaje:single-keys", single.checked ? "on" : "off"); } catch { /* stays for this page */ }
});

/** @param {any} target */
function typing(target) {
  return target.closest("input:not([type=checkbox]), textarea, select, [contenteditable]") !== null;
}

/** A word to the user, where messages stand.
 * @param {string} words
 */
function note(words) {
  const box = document.getElementById("notes");
  const p = document.createElement("p");
  p.className = "note";
  p.textContent = words;
  box.replaceChildren(p);
}
window.voltaje = { note };

// a dialog gives the focus back to what opened it, also where that was put anew meanwhile
/** @type {any} */
let opener = null;
/** @param {HTMLDialogElement} dialog */
function open(dialog) {
  opener = document.activeElement;
  dialog.showModal();
}
for (const dialog of document.querySelectorAll("dialog")) {
  dialog.addEventListener("close", () => {
    if (opener && !opener.isConnected) findAgain(opener)?.focus();
  });
}

// the list of shortcuts shows those that the page at hand has
function showKeys() {
  const dialog = document.getElementById("keys");
  for (const line of dialog.querySelectorAll("[data-needs]")) line.hidden = !document.querySelector(line.dataset.needs);
  open(dialog);
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-open]");
  if (button) showKeys();
  const menu = document.querySelector("details.menu[open]");
  if (menu && !menu.contains(event.target)) menu.removeAttribute("open");
});

document.addEventListener("keydown", (event) => {
  if (event.key === "?" && single.checked && !typing(event.target)) {
    event.preventDefault();
    showKeys();
  }
  if (event.key === "Escape") document.querySelector("details.menu[open]")?.removeAttribute("open");
});

// a rule chip opens its dialog once the rule has come; the marked cell is brought into view
document.body.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id !== "rule-body") return;
  const dialog = document.getElementById("rule");
  if (!dialog.open) open(dialog);
  dialog.querySelector(".cell, tr.marked")?.scrollIntoView({ block: "center" });
});

// what would push the answer off a narrow screen begins folded there
if (window.matchMedia("(max-width: 1199px)").matches) {
  for (const fold of document.querySelectorAll("details[data-narrow-closed]")) fold.removeAttribute("open");
}
