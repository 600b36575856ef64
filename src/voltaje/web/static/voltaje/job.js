// The job's tree: a part is chosen, moved by dragging or by Alt and an arrow, deleted, undone.
// Acts go to the server one after the other, each with its number: three quick presses move three
// times, and one whose answer was lost is done once.

import { newId, nextTurn, tab } from "./tab.js";
import { told } from "./words.js";

const page = document.getElementById("tree-page");
/** @type {Record<string, string>} */
const tools = { ArrowUp: "up", ArrowDown: "down", ArrowLeft: "out", ArrowRight: "in" };
const TIME_OUT = 20_000;
const LONGEST_WAIT = 30_000;
const token = JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
/** @type {any[]} */
const acts = [];
let busy = false;
/** @type {any} the row under the hand */
let dragged = null;

const form = () => document.getElementById("tree-form");
const rowOf = (/** @type {any} */ node) => node.closest?.(".job-tree li");
const chosen = () => page.querySelector(".job-tree input:checked")?.value || "";

/** @param {HTMLElement} row */
function choose(row) {
  row.querySelector("input[type=radio]").checked = true;
}

/** @param {string} words */
function note(words) {
  window.voltaje.note(words);
}

/** Puts an act into the queue; the part it is about is the one chosen now.
 * @param {string} name
 */
function act(name, values = {}) {
  acts.push({ act: name, part: chosen(), made: newId(), kind: page.querySelector("#add-kind")?.value || "", ...values, tab, turn: 0 });
  run();
}

async function run() {
  if (busy) return;
  busy = true;
  let wait = 1000;
  while (acts.length) {
    const first = acts[0];
    first.turn ||= nextTurn();
    const text = await send(first);
    if (text === null) {
      note(told("Not done yet: no answer. Tried again in {seconds} s.", { seconds: wait / 1000 }));
      await new Promise((done) => setTimeout(done, wait));
      wait = Math.min(LONGEST_WAIT, wait * 2);
      continue;
    }
    wait = 1000;
    acts.shift();
    if (text) show(text, first);
  }
  busy = false;
}

/** The answer's text, "" for a refusal, null where it is to be sent again.
 * @param {Record<string, string>} values
 */
async function send(values) {
  const stop = new AbortController();
  const clock = setTimeout(() => stop.abort(), TIME_OUT);
  try {
    const answer = await fetch(form().getAttribute("action"), {
      method: "POST", body: new URLSearchParams(values), headers: { "X-CSRFToken": token, "HX-Request": "true" }, signal: stop.signal,
    });
    const text = await answer.text();
    if (answer.status >= 500) return null;
    if (!answer.ok || !text.includes("tree-form")) {
      note(answer.ok ? told("You were signed out. Sign in again.") : told("That was not done: reload the page."));
      return "";
    }
    return text;
  } catch {
    return null;
  } finally {
    clearTimeout(clock);
  }
}

/** The tree anew. The part that the act was about is in focus again, unless the hand has moved on
 * to another one.
 * @param {string} text
 * @param {{part?: string}} done
 */
function show(text, done) {
  const at = document.activeElement;
  const inTree = at === document.body || page.contains(at);
  const mine = rowOf(at)?.dataset.part;
  const kind = page.querySelector("#add-kind")?.value;
  const tool = at?.closest?.(".tree-tools")?.contains(at) ? at.name === "act" ? `button[value="${at.value}"]` : at.id && `#${at.id}` : "";
  page.innerHTML = text;
  window.htmx.process(page);
  const select = page.querySelector("#add-kind");
  if (select && kind) select.value = kind;
  if (mine && mine !== done.part) {
    const row = page.querySelector(`li[data-part="${mine}"]`);
    if (row) choose(row);
  }
  if (tool) page.querySelector(tool)?.focus();
  else if (inTree) page.querySelector(".job-tree input:checked")?.focus();
  const state = page.querySelector("[data-revision]");
  document.getElementById("revision").textContent = state.dataset.revision;
  document.querySelector("#undo button").disabled = state.dataset.undo !== "yes";
  document.querySelector("#redo button").disabled = state.dataset.redo !== "yes";
}

page.addEventListener("click", (/** @type {MouseEvent & On} */ event) => {
  const row = rowOf(event.target);
  if (row && !event.target.closest("a")) choose(row);
  const button = event.target.closest("button[name=act]");
  if (button) {
    event.preventDefault();
    act(button.value);
  }
});

for (const name of ["undo", "redo"]) {
  document.getElementById(name).addEventListener("submit", (/** @type {SubmitEvent & On} */ event) => {
    event.preventDefault();
    act(name);
  });
}

page.addEventListener("focusin", (/** @type {FocusEvent & On} */ event) => {
  const row = rowOf(event.target);
  if (row) choose(row);
});

document.addEventListener("keydown", (event) => {
  if (event.altKey && !event.ctrlKey && !event.metaKey && ["KeyU", "KeyR"].includes(event.code)) {
    event.preventDefault();
    act(event.code === "KeyU" ? "undo" : "redo");
  }
});

page.addEventListener("keydown", (/** @type {KeyboardEvent & On} */ event) => {
  if (!rowOf(event.target)) return;
  if (event.altKey && tools[event.key]) {
    event.preventDefault();
    act(tools[event.key]);
  } else if (event.key === "Delete") {
    event.preventDefault();
    act("delete");
  } else if (event.key === "Enter" && event.target.type === "radio") {
    event.preventDefault();
    rowOf(event.target).querySelector("a").click();
  }
});

// dragging: on the upper half of a row a part goes before it, on the lower half under it where it
// holds parts, else after it
/**
 * @param {HTMLElement} row
 * @param {number} y
 */
function place(row, y) {
  const box = row.getBoundingClientRect();
  if (y < box.top + box.height / 2) return "before";
  return row.classList.contains("holder") ? "under" : "after";
}

function clear() {
  for (const row of page.querySelectorAll(".before, .under, .after")) row.classList.remove("before", "under", "after");
}

page.addEventListener("dragstart", (/** @type {DragEvent & On} */ event) => {
  dragged = rowOf(event.target);
  if (dragged) {
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", dragged.dataset.part);
  }
});

page.addEventListener("dragover", (/** @type {DragEvent & On} */ event) => {
  const row = rowOf(event.target);
  if (!row || !dragged || row === dragged) return;
  event.preventDefault();
  clear();
  row.classList.add(place(row, event.clientY));
});

page.addEventListener("dragend", clear);

page.addEventListener("drop", (/** @type {DragEvent & On} */ event) => {
  const row = rowOf(event.target);
  if (!row || !dragged || row === dragged) return;
  event.preventDefault();
  const where = place(row, event.clientY);
  let parent = row.dataset.parent;
  let before = row.dataset.part;
  if (where === "under") { parent = row.dataset.part; before = ""; }
  if (where === "after") {
    const siblings = [...page.querySelectorAll(`li[data-parent="${row.dataset.parent}"]`)];
    before = siblings[siblings.indexOf(row) + 1]?.dataset.part || "";
  }
  clear();
  act("drop", { part: dragged.dataset.part, parent, before });
});

// the browser's Back may show the tree as it was left
window.addEventListener("pageshow", (event) => { if (event.persisted) location.reload(); });
