// On every page: dialogs, rule chips, the list of shortcuts, menus that close.
"use strict";

const single = document.getElementById("single-keys");
try { single.checked = localStorage.getItem("voltaje:single-keys") !== "off"; } catch { /* no storage: on */ }
single.addEventListener("change", () => {
  try { localStorage.setItem("voltaje:single-keys", single.checked ? "on" : "off"); } catch { /* stays for this page */ }
});

function typing(target) {
  return target.closest("input:not([type=checkbox]), textarea, select, [contenteditable]") !== null;
}

document.addEventListener("click", (event) => {
  const opener = event.target.closest("[data-open]");
  if (opener) document.getElementById(opener.dataset.open).showModal();
  const menu = document.querySelector("details.menu[open]");
  if (menu && !menu.contains(event.target)) menu.removeAttribute("open");
});

document.addEventListener("keydown", (event) => {
  if (event.key === "?" && single.checked && !typing(event.target)) {
    event.preventDefault();
    document.getElementById("keys").showModal();
  }
  if (event.key === "Escape") document.querySelector("details.menu[open]")?.removeAttribute("open");
});

// a rule chip opens its dialog once the rule has come; the marked cell is brought into view
document.body.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id !== "rule-body") return;
  const dialog = document.getElementById("rule");
  if (!dialog.open) dialog.showModal();
  dialog.querySelector(".cell, tr.marked")?.scrollIntoView({ block: "center" });
});

// what would push the answer off a narrow screen begins folded there
if (window.matchMedia("(max-width: 900px)").matches) {
  for (const fold of document.querySelectorAll("details[data-narrow-closed]")) fold.removeAttribute("open");
}
