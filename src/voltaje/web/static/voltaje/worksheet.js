// The groups of a worksheet fold to their last line, the sum; what was folded stays so.

const result = document.getElementById("result");
const key = `folded:${document.querySelector("[data-sheet]")?.className}`;

/** @returns {string[]} */
function folded() {
  try { return JSON.parse(sessionStorage.getItem(key) || "[]"); } catch { return []; }
}

function apply() {
  const names = folded();
  for (const group of /** @type {any} */ (result.querySelectorAll("tbody[data-section]"))) {
    const is = names.includes(group.dataset.section);
    group.classList.toggle("folded", is);
    group.querySelector(".section-fold")?.setAttribute("aria-expanded", String(!is));
  }
}

result.addEventListener("click", (/** @type {any} */ event) => {
  const group = event.target.closest(".section-fold")?.closest("tbody");
  if (!group) return;
  const name = group.dataset.section, names = folded();
  try { sessionStorage.setItem(key, JSON.stringify(names.includes(name) ? names.filter((one) => one !== name) : [...names, name])); } catch { /* for this page */ }
  apply();
});
new MutationObserver(apply).observe(result, { childList: true });
apply();
