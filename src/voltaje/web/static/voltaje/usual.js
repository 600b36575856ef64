// Entries that are left as they usually are stand folded under one line that says what they hold.

import { told } from "./words.js";

const form = document.getElementById("entries");
const kind = document.querySelector("[data-sheet]")?.className || "";
const folds = () => /** @type {any[]} */ ([...form.querySelectorAll("details[data-usual]")]);
const key = (/** @type {any} */ fold) => `open:${kind}:${fold.dataset.usual}`;

/** What an entry of a fold says now: as it usually is, or its own figure. @param {any} box */
function words(box) {
  const f = box.querySelector("[name]");
  if (!f) return "";
  if (f.type === "checkbox" ? !f.checked : f.matches("select") ? [...f.options].find((o) => o.defaultSelected) === f.selectedOptions[0] : f.value === f.defaultValue) return box.dataset.atRest;
  const label = box.querySelector("label").firstChild.textContent.trim();
  return f.type === "checkbox" ? label : f.matches("select") ? `${label}: ${f.selectedOptions[0]?.textContent.trim()}` : f.value ? `${label} ${f.value}` : "";
}

/** The line of each fold, from what its entries hold. */
export function say() {
  for (const fold of folds()) {
    const said = [...fold.querySelectorAll("[data-at-rest]:not([hidden])")].map(words).filter(Boolean).join(" · ");
    fold.querySelector("summary").textContent = said || told("nothing entered");
  }
}

/** Opens the fold that an entry stands in. @param {any} f */
export function show(f) {
  const fold = f.closest("details[data-usual]");
  if (fold) fold.open = true;
  const second = f.closest(".of-second") && f.closest("[data-list]").querySelector("[data-second]");
  if (second) second.checked = true;
}

for (const fold of folds()) {
  try { if (sessionStorage.getItem(key(fold))) fold.open = true; } catch { /* folded */ }
  fold.querySelector("summary").addEventListener("click", () => {
    try { if (fold.open) sessionStorage.removeItem(key(fold)); else sessionStorage.setItem(key(fold), "1"); } catch { /* for this page */ }
  });
}
