// The job's tree: a part is chosen, moved by dragging or by Alt and an arrow, deleted, undone.
"use strict";

const page = document.getElementById("tree-page");
const tools = { ArrowUp: "up", ArrowDown: "down", ArrowLeft: "out", ArrowRight: "in" };
let dragged = null;

const form = () => document.getElementById("tree-form");
const rowOf = (node) => node.closest?.(".job-tree li");

function choose(row) {
  row.querySelector("input[type=radio]").checked = true;
}

function act(name) {
  form().querySelector(`button[name="act"][value="${name}"]`).click();
}

page.addEventListener("click", (event) => {
  const row = rowOf(event.target);
  if (row && !event.target.closest("a")) choose(row);
});

page.addEventListener("focusin", (event) => {
  const row = rowOf(event.target);
  if (row) choose(row);
});

page.addEventListener("keydown", (event) => {
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
function place(row, y) {
  const box = row.getBoundingClientRect();
  if (y < box.top + box.height / 2) return "before";
  return row.classList.contains("holder") ? "under" : "after";
}

function clear() {
  for (const row of page.querySelectorAll(".before, .under, .after")) row.classList.remove("before", "under", "after");
}

page.addEventListener("dragstart", (event) => {
  dragged = rowOf(event.target);
  if (dragged) {
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", dragged.dataset.part);
  }
});

page.addEventListener("dragover", (event) => {
  const row = rowOf(event.target);
  if (!row || !dragged || row === dragged) return;
  event.preventDefault();
  clear();
  row.classList.add(place(row, event.clientY));
});

page.addEventListener("dragend", clear);

page.addEventListener("drop", (event) => {
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
  const values = { act: "drop", part: dragged.dataset.part, parent, before };
  clear();
  htmx.ajax("POST", form().getAttribute("hx-post"), { target: "#tree-page", swap: "innerHTML", values });
});

document.body.addEventListener("htmx:afterSettle", (event) => {
  if (event.detail.target.id !== "tree-page") return;
  page.querySelector(".job-tree input:checked")?.focus();
  const undo = document.querySelector("#undo button");
  if (undo) undo.disabled = false;
});
