// The job's tree beside a sheet: branches fold and stay as they were left, a search jumps, keys go to
// the neighbours.

import { told } from "./words.js";

/** @type {any} */
const sheet = document.querySelector("[data-sheet]");
const box = document.getElementById("tree");
/** @type {any} */
const field = document.getElementById("find-item");
const ORDER = ["fail", "incomplete", "check", "empty", "pass"];
const folds = `folds:${sheet.dataset.job}`;

// branches ----------------------------------------------------------------------------------------

/** @returns {Record<string, boolean>} what was opened or folded by hand */
function byHand() {
  try { return JSON.parse(sessionStorage.getItem(folds) || "{}"); } catch { return {}; }
}

const branches = () => /** @type {any[]} */ ([...box.querySelectorAll("details[data-branch]")]);
/** the page's own choice: the way to the item that is shown */
const onWay = (/** @type {Element} */ branch) => branch.parentElement.querySelector(".part-link.on") !== null;

function fold() {
  const chosen = byHand();
  for (const branch of branches()) branch.open = chosen[branch.dataset.branch] ?? onWay(branch);
}

/** Statuses have changed: each branch shows the worst of what is below it. */
export function restate() {
  if (!box) return;
  for (const branch of branches()) {
    const mark = branch.querySelector("[data-worst]");
    const below = [...branch.querySelectorAll("[data-shape]")].map((one) => ORDER.indexOf(one.dataset.status));
    const status = ORDER[Math.min(...below)] || "pass";
    if (mark.dataset.worst === status) continue;
    mark.dataset.worst = status;
    mark.replaceChildren(document.querySelector(`template[data-status="${status}"]`).content.cloneNode(true));
  }
  for (const link of box.querySelectorAll(".part-link")) {
    link.title = `${link.querySelector(".part-name").lastChild.textContent}\n${link.querySelector("small").textContent}`;
  }
}

// neighbours --------------------------------------------------------------------------------------

const links = () => /** @type {any[]} */ ([...box.querySelectorAll(".part-link")]);

/** @param {"before" | "after" | "above"} where */
export function go(where) {
  if (!box) return;
  const all = links(), here = box.querySelector(".part-link.on");
  const at = all.indexOf(here);
  const above = here?.closest("ol").closest("li")?.querySelector(".part-link");
  const to = where === "above" ? above : all[at + (where === "before" ? -1 : 1)];
  if (!to) {
    window.voltaje.note(where === "above" ? told("Nothing feeds this item.") : where === "before" ? told("This is the first item.") : told("This is the last item."));
    return;
  }
  document.activeElement?.blur(); // what is being typed is saved first
  to.click();
}

// search ------------------------------------------------------------------------------------------

export function search() {
  if (!field) return;
  field.closest("details").open = true;
  field.focus();
  field.select();
}

const plain = (/** @type {string} */ text) => text.normalize("NFKD").replace(/[\u0300-\u036f’'‘]/g, "").toLowerCase();

/** Shows the items that have all the words, and the way to each.
 * @returns {any[]} their links
 */
function filter() {
  const asked = plain(field.value).split(/\s+/).filter(Boolean);
  const found = asked.length ? links().filter((link) => { const text = plain(link.textContent); return asked.every((word) => text.includes(word)); }) : [];
  box.classList.toggle("searched", asked.length > 0);
  for (const row of box.querySelectorAll("li")) row.hidden = asked.length > 0;
  for (const link of links()) link.classList.toggle("hit", found.includes(link));
  if (!asked.length) fold();
  for (const link of found) for (let row = link.closest("li"); row; row = row.parentElement.closest("li")) {
    row.hidden = false;
    const branch = row.querySelector(":scope > details");
    if (branch && row !== link.closest("li")) branch.open = true;
  }
  document.getElementById("found-items").textContent = !asked.length ? "" : found.length === 1 ? told("one item") : found.length ? told("{count} items", { count: found.length }) : told("no item of that name");
  return found;
}

function clear() {
  if (field.value) { field.value = ""; filter(); }
}

/** @param {any} event */
function searchKey(event) {
  if (event.key === "Enter") {
    event.preventDefault();
    filter()[0]?.click();
  } else if (event.key === "ArrowDown") {
    event.preventDefault();
    (filter()[0] || links()[0])?.focus();
  } else if (event.key === "Escape") {
    event.preventDefault();
    clear();
  }
}

/** Arrows go from one shown item to the next. @param {any} event */
function linkKey(event) {
  const link = event.target.closest?.(".part-link");
  if (!link || event.altKey || event.ctrlKey || event.metaKey || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  const shown = links().filter((one) => one.offsetParent && (!field.value || one.classList.contains("hit")));
  const next = shown[shown.indexOf(link) + (event.key === "ArrowUp" ? -1 : 1)];
  (next || (event.key === "ArrowUp" ? field : link)).focus();
}

if (box) {
  fold();
  restate();
  box.addEventListener("click", (/** @type {any} */ event) => {
    const branch = event.target.closest("summary")?.parentElement;
    if (!branch || field.value) return;
    // before it has opened or closed
    try { sessionStorage.setItem(folds, JSON.stringify({ ...byHand(), [branch.dataset.branch]: !branch.open })); } catch { /* stays for this page */ }
  });
  new MutationObserver(() => { if (field.value) filter(); else fold(); restate(); }).observe(box, { childList: true });
  box.querySelector(".part-link.on")?.scrollIntoView({ block: "nearest" });
  field.addEventListener("input", filter);
  field.addEventListener("keydown", searchKey);
  box.addEventListener("keydown", linkKey);
}
