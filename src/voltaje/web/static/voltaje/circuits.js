// A board's table of circuits: type across a row or down a column, paste from a spreadsheet. A row
// has its id from its first key on; an answer puts texts only into cells that nobody is in.

import { newId } from "./tab.js";
import { basesOf, choice, isAwaited, isDirty, isWaiting, label, left, markSent, setText, settle, takeBack, takeUp, textOf, turnOf } from "./fields.js";
import { begin as beginPaste } from "./paste.js";
import * as rows from "./rows.js";
import { told } from "./words.js";

const table = document.getElementById("circuits");
const body = table?.tBodies[0];
const blankRow = body?.lastElementChild.cloneNode(true);
// a key that came before this script ran is in the row that was copied, not in an empty one
for (const f of blankRow?.querySelectorAll("input") || []) f.value = f.defaultValue;
const TYPED = ["name", "load", "length"];
const dropped = new Map(); // rows taken out that the server may still hold
let changed = (/** @type {boolean} */ now) => {};

export const here = Boolean(table);
const cells = (root = body) => [...root.querySelectorAll("input[name], select[name]")];
const byName = (/** @type {string} */ name) => body.querySelector(`[name="${CSS.escape(name)}"]`);
const column = (/** @type {Field} */ f) => f.name.split(":")[1];
const title = (/** @type {Field} */ f) => document.querySelector(`#circuits th[data-col="${column(f)}"]`)?.textContent.trim() || column(f);
const rowOf = (/** @type {Field} */ f) => f.closest("tr");
const rowAt = (/** @type {string} */ key) => body.querySelector(`tr[data-part="${CSS.escape(key)}"]`);
const isBlank = (/** @type {HTMLTableRowElement} */ row) => row.dataset.part === "new";
const trouble = () => document.getElementById("table-trouble");

// rows --------------------------------------------------------------------------------------------

/** A row that was typed into gets an id of its own, and an empty one comes after it.
 * @param {HTMLTableRowElement} row
 */
function own(row, key = newId()) {
  if (!isBlank(row)) return;
  row.dataset.part = key;
  row.classList.remove("new");
  for (const f of cells(row)) f.name = f.name.replace(/^new:/, key + ":");
  for (const td of row.querySelectorAll("[data-shape]")) td.dataset.usual = "1";
  body.append(blankRow.cloneNode(true));
  foldBare();
}

/** @param {HTMLTableRowElement} row */
function isTyped(row) {
  return cells(row).some((f) => TYPED.includes(column(f)) && f.value.trim());
}

/**
 * @param {string} key
 * @param {HTMLTableRowElement | null} before
 */
function makeRow(key, before) {
  const row = blankRow.cloneNode(true);
  row.dataset.part = key;
  row.dataset.kept = "1";
  row.classList.remove("new");
  for (const f of cells(row)) f.name = f.name.replace(/^new:/, key + ":");
  for (const td of row.querySelectorAll("[data-shape]")) td.dataset.usual = "1";
  body.insertBefore(row, before);
  return row;
}

/** @param {HTMLTableRowElement} row */
function dropRow(row) {
  if (isBlank(row)) return;
  goTo(row);
  const key = row.dataset.part;
  if (row.dataset.kept || cells(row).some(isAwaited)) dropped.set(key, row.querySelector("input[name]")?.value || "");
  row.remove();
  changed(true);
}

/** @param {HTMLTableRowElement} row */
function goTo(row) {
  const at = document.activeElement;
  if (!row.contains(at)) return;
  const near = row.nextElementSibling || row.previousElementSibling;
  const same = near && cells(near).find((f) => column(f) === column(at));
  (same || near?.querySelector("input[name]"))?.focus();
}

// what is to be kept --------------------------------------------------------------------------------

/**
 * @param {boolean} all
 * @param {number} turn
 */
export function collect(all, turn) {
  /** @type {[string, string][]} */
  const pairs = [];
  const sent = new Map();
  const made = [];
  for (const row of body.rows) {
    if (isBlank(row) || row.dataset.gone) continue;
    const fresh = !row.dataset.kept;
    if (fresh && !isTyped(row)) continue;
    // of a new row everything goes, also the choices that were left as they are
    const waiting = cells(row).filter((f) => isWaiting(f, all));
    const out = fresh && waiting.some((f) => TYPED.includes(column(f)) || isAwaited(f)) ? cells(row).filter((f) => all || f.dataset.open !== "1") : waiting;
    if (!out.length || (fresh && !out.some((f) => TYPED.includes(column(f)) && f.value.trim()))) continue;
    if (fresh) made.push(row.dataset.part);
    for (const f of out) {
      pairs.push(["cell:" + f.name, textOf(f)]);
      for (const base of basesOf(f)) pairs.push(["was:" + f.name, base]);
      markSent(f, turn);
      sent.set(f.name, textOf(f));
    }
  }
  for (const key of made) pairs.push(["row-made", key]);
  for (const key of dropped.keys()) pairs.push(["row-out", key]);
  return { pairs, sent: { texts: sent, made, gone: [...dropped.keys()] } };
}

/**
 * @param {PageState} state
 * @param {Sent} sent
 */
export function settled(state, sent) {
  const found = state.table;
  if (!found) return;
  for (const key of sent?.gone || []) dropped.delete(key);
  const clashes = new Map(state.conflicts.map((/** @type {Conflict} */ c) => [c.path, c]));
  syncRows(found, clashes);
  for (const key of found.order) {
    const row = rowAt(key);
    if (!row) continue;
    for (const [name, cell] of Object.entries(found.cells[key])) putCell(row, key, name, cell, sent, clashes);
    answer(row, found.answers[key]);
  }
  rows.look();
  foldBare();
}

/** On a narrow screen a row is a card: each cell says what its column is. */
function labelCells() {
  const titles = [...table.tHead.rows[0].cells].map((th) => th.textContent.trim());
  for (const row of body.rows) for (const [index, td] of [...row.cells].entries()) td.dataset.label ??= titles[index] || "";
}

/** Columns of texts that no row has anything in take no room; a press shows them. */
function foldBare() {
  labelCells();
  const button = document.getElementById("bare-columns");
  let bare = 0;
  for (const head of table.querySelectorAll("th[data-col]")) {
    const name = head.dataset.col;
    const column = [...body.querySelectorAll(`td[data-col="${name}"]`)];
    const empty = !TYPED.includes(name) && column.every((td) => !td.querySelector("select") && !td.querySelector("input")?.value) && !column.some((td) => td.contains(document.activeElement));
    for (const cell of [head, ...column]) cell.classList.toggle("bare", empty);
    bare += Number(empty);
  }
  button.hidden = !bare;
}

/**
 * @param {any} found
 * @param {Map<string, Conflict>} clashes
 */
function syncRows(found, clashes) {
  const there = new Set(found.order);
  const gone = new Set([...clashes.values()].filter((c) => c.gone).map((c) => c.path.split(":")[0]));
  for (const row of [...body.rows]) {
    const key = row.dataset.part;
    if (isBlank(row)) continue;
    if (there.has(key)) { row.dataset.kept = "1"; delete row.dataset.gone; continue; }
    if (gone.has(key) || (row.dataset.kept && cells(row).some(isDirty))) askGone(row);
    else if (row.dataset.kept) { goTo(row); row.remove(); }
  }
  // from the foot up, each before the one that comes after it; a row in use stays where it is
  let after = [...body.rows].find((row) => !isBlank(row) && !row.dataset.kept) || body.lastElementChild;
  for (const key of [...found.order].reverse()) {
    if (dropped.has(key)) continue;
    let row = rowAt(key);
    if (!row) row = makeRow(key, after);
    else if (row.nextElementSibling !== after && !row.contains(document.activeElement)) body.insertBefore(row, after);
    after = row;
  }
}

/** One cell: what stands in it is built anew only where another control belongs there and nobody
 * is in it; else only its text is put in.
 * @param {HTMLTableRowElement} row
 * @param {string} key
 * @param {string} name
 * @param {any} cell
 * @param {Sent} sent
 * @param {Map<string, Conflict>} clashes
 */
function putCell(row, key, name, cell, sent, clashes) {
  const td = row.querySelector(`td[data-col="${name}"]`);
  const f = byName(`${key}:${name}`);
  if (td.dataset.shape !== cell.shape) {
    const said = f && sent?.texts.get(f.name);
    if (f && (f === document.activeElement || (said === undefined ? isDirty(f) : textOf(f) !== said))) {
      if (said !== undefined) settle(f, said, said); // the cell itself waits for the next answer
      return;
    }
    td.dataset.shape = cell.shape;
    td.innerHTML = cell.inside ?? blankRow.querySelector(`td[data-col="${name}"]`).innerHTML.replaceAll("new:", key + ":");
    const fresh = byName(`${key}:${name}`);
    if (fresh) { fresh.dataset.base = cell.text; setText(fresh, cell.text); }
  } else if (!f) {
    if (cell.inside !== undefined) td.innerHTML = cell.inside;
    return;
  }
  const at = byName(`${key}:${name}`);
  if (!at) return;
  const clash = clashes.get(at.name);
  if (clash) ask(at, clash);
  else if (at.dataset.clash === undefined) settle(at, cell.text, sent?.texts.get(at.name), !sent);
  if (cell.problem) { at.setAttribute("aria-invalid", "true"); at.title = cell.problem; }
  else if (at.dataset.asked === undefined) { at.removeAttribute("aria-invalid"); at.removeAttribute("title"); }
}

/**
 * @param {HTMLTableRowElement} row
 * @param {any} found
 */
function answer(row, found) {
  for (const td of row.querySelectorAll("[data-out]")) {
    td.textContent = found[td.dataset.out] || "";
    if (td.dataset.out === "words") td.title = found.words;
  }
  const box = row.querySelector("[data-pick]");
  const first = row.querySelector("td.n");
  const status = document.querySelector(`template[data-status="${found.status}"]`).content.cloneNode(true);
  let link = first.querySelector("a");
  const name = row.querySelector("input[name]")?.value || "";
  if (!link) {
    link = document.createElement("a");
    link.href = `${table.dataset.parts}${row.dataset.part}/`;
    first.replaceChildren(link);
  }
  link.setAttribute("aria-label", told("Sheet of {name}", { name }));
  box.setAttribute("aria-label", told("Select {name}", { name }));
  for (const f of cells(row)) f.setAttribute("aria-label", told("{column} of {row}", { column: title(f), row: name }));
  link.replaceChildren(status);
}

function line() {
  const box = document.createElement("p");
  trouble().append(box);
  return box;
}

/**
 * @param {Field} f
 * @param {Conflict} conflict
 */
function ask(f, { theirs }) {
  f.dataset.clash = theirs;
  const name = rowOf(f).querySelector("input[name]")?.value || "";
  const box = [...trouble().children].find((p) => p.dataset.cell === f.name) || line();
  box.dataset.cell = f.name;
  const decide = (/** @type {string} */ text) => {
    delete f.dataset.clash;
    box.remove();
    takeUp(f, text ?? textOf(f), theirs, []);
    f.focus();
    changed(true);
  };
  choice(box, told("{name}, {column}: another tab has kept “{theirs}”, this one says “{own}”.", { name, column: title(f), theirs: label(f, theirs), own: label(f, textOf(f)) }), [
    [told("Keep this one"), () => decide(null)],
    [told("Take the other"), () => decide(theirs)],
  ]);
}

/** @param {HTMLTableRowElement} row */
function askGone(row) {
  if (row.dataset.gone) return;
  row.dataset.gone = "1";
  const box = line();
  const name = row.querySelector("input[name]")?.value || told("A row");
  choice(box, told("{name} was deleted elsewhere, and changed here.", { name }), [
    [told("Bring it back"), () => {
      delete row.dataset.gone;
      delete row.dataset.kept;
      // under a new id: the old one's history has ended
      const old = row.dataset.part;
      row.dataset.part = newId();
      for (const f of cells(row)) { f.name = f.name.replace(old, row.dataset.part); f.dataset.base = ""; delete f.dataset.typed; }
      box.remove();
      row.querySelector("input[name]").focus();
      changed(true);
    }],
    [told("Let it go"), () => { box.remove(); goTo(row); row.remove(); changed(true); }],
  ]);
}

export const clashes = () => cells().filter((f) => f.dataset.clash !== undefined).length;

/** Writes texts into cells by their names, as if they had been typed, and has them kept at once.
 * @param {[string, string][]} texts */
export function write(texts) {
  for (const [name, text] of texts) {
    const f = byName(name);
    if (f) setText(f, text);
  }
  changed(true);
}

// drafts ------------------------------------------------------------------------------------------

export function draft() {
  /** @type {Record<string, Typed>} */
  const texts = {};
  const made = [];
  for (const row of body.rows) {
    if (isBlank(row)) continue;
    const fresh = !row.dataset.kept;
    if (fresh && !isTyped(row)) continue;
    if (fresh) made.push(row.dataset.part);
    for (const f of cells(row)) {
      if (fresh || isDirty(f) || isAwaited(f)) texts[f.name] = [textOf(f), f.dataset.base, basesOf(f).slice(1), turnOf(f)];
    }
  }
  return { texts, made, dropped: [...dropped] };
}

/** @param {Draft} draft */
export function takeDraft(draft) {
  for (const [key, name] of draft.dropped) {
    const row = rowAt(key);
    if (row) { dropped.set(key, name); row.remove(); }
  }
  for (const key of draft.made) {
    if (rowAt(key) || !Object.keys(draft.texts).some((name) => name.startsWith(key + ":"))) continue;
    own(body.lastElementChild, key);
  }
  for (const [name, [text, base, texts]] of Object.entries(draft.texts)) {
    const f = byName(name);
    if (f && textOf(f) !== text) takeUp(f, text, base, texts || []);
  }
}

// hands -------------------------------------------------------------------------------------------

// where in its row the hand began before it went along with Tab: Enter goes below that cell, so
// that a table can be typed row by row as well as down a column
/** @type {{row: any, column: string} | null} */
let begun = null;

/**
 * @param {Field} f
 * @param {number} by
 */
function beside(f, by) {
  const row = by > 0 ? rowOf(f).nextElementSibling : rowOf(f).previousElementSibling;
  const wanted = begun?.row === rowOf(f) ? begun.column : column(f);
  return row && cells(row).find((g) => column(g) === wanted);
}

/** @param {KeyboardEvent & On} event */
function keys(event) {
  const f = event.target;
  if (!f.matches("input[name], select[name], input.fixed")) return;
  if (event.key === "Escape" && takeBack(f)) { event.preventDefault(); changed(false); return; }
  if (event.altKey || event.ctrlKey || event.metaKey) return;
  if (event.key === "Tab" && begun?.row !== rowOf(f)) begun = { row: rowOf(f), column: column(f) };
  const by = event.key === "Enter" ? (event.shiftKey ? -1 : 1)
    : f.matches("input") && event.key === "ArrowDown" ? 1
    : f.matches("input") && event.key === "ArrowUp" ? -1 : 0;
  if (!by) return;
  event.preventDefault();
  delete f.dataset.open;
  if (isDirty(f)) changed(true);
  const other = beside(f, by);
  begun = null;
  if (other) { other.focus(); other.select?.(); }
}

/** @param {string} code */
export function shortcut(code) {
  const row = here && body.contains(document.activeElement) && document.activeElement.closest("tr");
  if (code === "KeyX" && row && !isBlank(row)) { rows.toggle(row); return true; }
  if (code !== "Backspace" || !row) return false;
  dropRow(row);
  return true;
}

/**
 * @param {(now: boolean) => void} then
 * @param {(url: string, pairs: [string, string][]) => Promise<any>} act what is done to several rows
 */
export function begin(then, act) {
  if (!here) return;
  changed = then;
  for (const row of body.rows) if (!isBlank(row)) row.dataset.kept = "1";
  body.addEventListener("input", (/** @type {Event & On} */ event) => {
    const f = event.target;
    if (!f.name) return; // the box that selects a row
    if (f.matches("input")) f.dataset.open = "1";
    if (isBlank(rowOf(f)) && isTyped(rowOf(f))) own(rowOf(f));
    changed(false);
  });
  body.addEventListener("change", (/** @type {Event & On} */ event) => { if (!event.target.name) return; delete event.target.dataset.open; changed(true); });
  body.addEventListener("focusout", (/** @type {FocusEvent & On} */ event) => { if (event.target.dataset?.base !== undefined) left(event.target); });
  body.addEventListener("keydown", keys);
  body.addEventListener("pointerdown", () => { begun = null; });
  foldBare();
  const button = document.getElementById("bare-columns");
  button.addEventListener("click", () => {
    const whole = table.classList.toggle("whole");
    button.setAttribute("aria-pressed", String(whole));
    button.textContent = whole ? told("Hide empty columns") : told("Show empty columns");
  });
  rows.begin(table, act, (/** @type {HTMLTableRowElement[]} */ out) => out.forEach(dropRow));
  beginPaste(table, { own, cells, column, setText, changed: () => changed(true) });
}
