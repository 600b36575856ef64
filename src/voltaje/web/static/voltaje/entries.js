// The entries of a sheet: fields and rows, what of them is to be kept, and the hands on them.

import "./lines.js";
import { newRowId } from "./tab.js";
import { basesOf, choice, isAwaited, isDirty, isWaiting, label, left, markSent, setText, settle, takeBack, takeUp, textOf, turnOf } from "./fields.js";
import * as usual from "./usual.js";
import "./units.js";
import { told } from "./words.js";

const form = document.getElementById("entries");
const ownNames = new Set(["csrfmiddlewaretoken"]);
/** Rows taken out that the server may still hold: path → the texts that each entry may have there. */
let dropped = new Map();
let changed = (/** @type {boolean} */ now) => {};

/** @param {(now: boolean) => void} then called after every change; `now` where an entry is made */
export function begin(then) {
  changed = then;
  for (const row of form.querySelectorAll("[data-row]")) row.dataset.kept = "1";
  showWhen();
}

// fields and rows -----------------------------------------------------------------------------

export const fields = () => [...form.querySelectorAll("input[name], select[name]")].filter((f) => !ownNames.has(f.name) && !f.name.startsWith("was-"));
export const byPath = (/** @type {string} */ path) => form.querySelector(`[name="${CSS.escape(path)}"]`);
const rowAt = (/** @type {string} */ path) => form.querySelector(`[data-row="${CSS.escape(path)}"]`);
const listAt = (/** @type {string} */ list) => form.querySelector(`[data-list="${CSS.escape(list)}"]`);
const whyOf = (/** @type {Field} */ f) => document.getElementById(f.id + "-why");

export function showWhen() {
  for (const box of form.querySelectorAll("[data-when]")) {
    const [name, values] = box.dataset.when.split(":");
    box.hidden = !values.split(",").includes(byPath(name)?.value);
  }
  for (const group of form.querySelectorAll("details[data-usual], .group[data-group]")) {
    const boxes = [...group.querySelectorAll(".row-entry, .list-entry")];
    group.hidden = boxes.length > 0 && boxes.every((box) => box.hidden);
  }
  usual.say();
}

/**
 * @param {string} list
 * @param {HTMLElement | null} before
 */
export function addRow(list, id = newRowId(), before = null) {
  const template = form.querySelector(`template[data-blank="${CSS.escape(list)}"]`);
  const box = document.createElement("div");
  box.innerHTML = template.innerHTML
    .replaceAll(`${list}.new`, `${list}.${id}`)
    .replaceAll(`e-${list}-new-`, `e-${list}-${id}-`);
  const row = box.firstElementChild;
  row.dataset.untouched = "1";
  template.parentElement.querySelector(".items").insertBefore(row, before);
  return row;
}

/** A row that somebody asks for. One that says something as it begins counts from now on.
 * @param {string} list
 */
function askRow(list) {
  const row = addRow(list);
  if (form.querySelector(`template[data-blank="${CSS.escape(list)}"]`).dataset.complete !== undefined) {
    delete row.dataset.untouched;
    for (const f of row.querySelectorAll("[name]")) if (textOf(f)) f.dataset.base = "";
    changed(true);
  }
  row.querySelector("input").focus();
}

/** The names of fields in rows that nobody has touched: such a row is empty, whatever it begins with. */
export function untouched() {
  return [...form.querySelectorAll("[data-row][data-untouched]:not([data-kept])")].map((row) => [...row.querySelectorAll("[name]")])
    .filter((mine) => !mine.some((f) => isDirty(f) || isAwaited(f))).flat().map((f) => f.name);
}

/** @param {Field} f */
function touch(f) {
  const row = f.closest("[data-row]");
  if (row) delete row.dataset.untouched;
}

/** @param {HTMLElement} row */
function dropRow(row) {
  const mine = [...row.querySelectorAll("[name]")];
  // a row that never went out needs no word to the server
  if (row.dataset.kept || mine.some(isAwaited)) dropped.set(row.dataset.row, mine.map((f) => [f.name, basesOf(f)]));
  goTo(row, row.nextElementSibling || row.previousElementSibling);
  row.remove();
  changed(true);
}

/** The focus leaves a row that goes: to its neighbour, else to the button that adds one.
 * @param {HTMLElement} row
 * @param {any} near
 */
function goTo(row, near) {
  if (!row.contains(document.activeElement)) return;
  (near?.querySelector("input") || row.closest("[data-list]").querySelector(".add")).focus();
}

// a name chosen from the list brings its usual volts, place and whether it is a motor
/** @param {Field} f */
function preset(f) {
  const option = f.list && [...f.list.options].find((o) => o.value === f.value);
  if (!option) return;
  const row = f.closest("[data-row]");
  for (const [key, value] of Object.entries(option.dataset)) {
    const other = byPath(`${row.dataset.row}.${key}`);
    if (other && !isDirty(other)) setText(other, value);
  }
}

/** The texts of one column of a list, row by row. @returns {{path: string, text: string}[]} */
export const columnOf = (/** @type {string} */ list, /** @type {string} */ column) => [...listAt(list)?.querySelectorAll(`.items > [data-row]`) || []]
  .map((row) => ({ path: row.dataset.row, text: byPath(`${row.dataset.row}.${column}`)?.value || "" }));

/** Writes one column of a row; without a path, of the first empty one or of a new one; a row without
 * a text goes.
 * @param {string} list
 * @param {string} column
 * @param {string} path
 * @param {string} text
 */
export function writeRow(list, column, path, text) {
  if (!text) { dropRow(rowAt(path)); return; }
  const at = path || columnOf(list, column).find((row) => !row.text.trim())?.path || addRow(list).dataset.row;
  set(`${at}.${column}`, text);
}

// what is to be kept ----------------------------------------------------------------------------

/** The changed entries for a request of that number. @returns {{pairs: [string, string][], sent: any}}
 * @param {boolean} all
 * @param {number} turn
 */
export function collect(all, turn) {
  /** @type {[string, string][]} */
  const pairs = [];
  const sent = new Map();
  const made = new Set();
  for (const f of fields()) {
    const row = f.closest("[data-row]");
    if (!isWaiting(f, all) || row?.dataset.gone) continue;
    pairs.push(["set:" + f.name, textOf(f)]);
    if (row && !row.dataset.kept) made.add(row.dataset.row);
    else for (const base of basesOf(f)) pairs.push(["base:" + f.name, base]);
    markSent(f, turn);
    sent.set(f.name, textOf(f));
  }
  for (const path of made) pairs.push(["made:" + path, "1"]);
  for (const [path, texts] of dropped) {
    pairs.push(["drop:" + path, "1"]);
    for (const [name, bases] of texts) for (const base of bases) pairs.push(["base:" + name, base]);
  }
  return { pairs, sent: { texts: sent, gone: [...dropped.keys()] } };
}

/** What is kept now, as the server says; `sent` is what this answers.
 * @param {PageState} state
 * @param {Sent} sent
 */
export function settled(state, sent) {
  for (const path of sent?.gone || []) dropped.delete(path);
  const clashes = new Map(state.conflicts.map((/** @type {Conflict} */ c) => [c.path, c]));
  syncRows(state, clashes);
  for (const f of fields()) {
    const kept = state.values[f.name];
    if (kept === undefined) continue;
    if (clashes.has(f.name)) { usual.show(f); clash(f, clashes.get(f.name)); }
    else if (f.dataset.clash === undefined) settle(f, kept, sent?.texts.get(f.name), !sent);
  }
  showWhen();
}

/** Rows that came or went elsewhere, or by an undo. A row that somebody is in stays.
 * @param {PageState} state
 * @param {Map<string, Conflict>} clashes
 */
function syncRows(state, clashes) {
  for (const [list, ids] of Object.entries(state.rows)) {
    const box = listAt(list);
    if (!box) continue;
    const items = box.querySelector(".items");
    const there = new Set(ids.map((/** @type {string} */ id) => `${list}.${id}`));
    for (const row of [...items.children]) {
      const path = row.dataset.row;
      if (there.has(path)) { row.dataset.kept = "1"; delete row.dataset.gone; continue; }
      const mine = [...row.querySelectorAll("[name]")];
      if (clashes.get(path)?.gone || (row.dataset.kept && mine.some((f) => isDirty(f)))) askGone(row);
      else if (row.dataset.kept) { goTo(row, row.nextElementSibling || row.previousElementSibling); row.remove(); }
    }
    let after = null;
    for (const id of [...ids].reverse()) {
      const path = `${list}.${id}`;
      if (dropped.has(path)) continue;
      let row = rowAt(path);
      if (!row) {
        row = addRow(list, id, after);
        row.dataset.kept = "1";
        for (const f of row.querySelectorAll("[name]")) { f.dataset.base = state.values[f.name] ?? ""; setText(f, f.dataset.base); }
      } else if (row.nextElementSibling !== after && !row.contains(document.activeElement) && after) {
        items.insertBefore(row, after);
      }
      after = row;
    }
  }
}

/** @param {HTMLElement} row */
function note(row) {
  let box = row.querySelector(".gone-note");
  if (!box) {
    box = document.createElement("p");
    box.className = "why gone-note";
    row.append(box);
  }
  return box;
}

/** A row that is typed in here was deleted elsewhere: both ways are offered.
 * @param {HTMLElement} row
 */
function askGone(row) {
  row.dataset.gone = "1";
  choice(note(row), told("This row was deleted elsewhere."), [
    [told("Bring it back"), () => {
      delete row.dataset.gone;
      delete row.dataset.kept;
      row.querySelector(".gone-note").remove();
      for (const f of row.querySelectorAll("[name]")) { f.dataset.base = "\u0000"; delete f.dataset.typed; }
      row.querySelector("input").focus();
      changed(true);
    }],
    [told("Let it go"), () => { goTo(row, row.nextElementSibling || row.previousElementSibling); row.remove(); changed(true); }],
  ]);
}

/** Two tabs changed one entry: both texts are shown, whatever is typed meanwhile.
 * @param {Field} f
 * @param {Conflict} conflict
 */
function clash(f, { theirs }) {
  const why = whyOf(f);
  let box = why.nextElementSibling;
  if (!box?.classList.contains("clash")) {
    box = document.createElement("p");
    box.className = "why clash";
    why.after(box);
  }
  f.dataset.clash = theirs;
  choice(box, told("Another tab has kept “{theirs}” here; this one says “{own}”.", { theirs: label(f, theirs), own: label(f, textOf(f)) }), [
    [told("Keep this one"), () => decide(f, box, theirs, null)],
    [told("Take the other"), () => decide(f, box, theirs, theirs)],
  ]);
}

/**
 * @param {Field} f
 * @param {HTMLElement} box
 * @param {string} theirs
 * @param {string} text
 */
function decide(f, box, theirs, text) {
  delete f.dataset.clash;
  box.remove();
  takeUp(f, text ?? textOf(f), theirs, []);
  f.focus();
  changed(true);
}

export const clashes = () => fields().filter((f) => f.dataset.clash !== undefined).length;

// drafts ----------------------------------------------------------------------------------------

/** What of the entries is not kept. */
export function draft() {
  /** @type {Record<string, Typed>} */
  const texts = {};
  const made = new Set();
  for (const f of fields()) {
    if (!isDirty(f) && !isAwaited(f)) continue;
    texts[f.name] = [textOf(f), f.dataset.base, basesOf(f).slice(1), turnOf(f)];
    const row = f.closest("[data-row]");
    if (row && !row.dataset.kept) made.add(row.dataset.row);
  }
  return { texts, made: [...made], dropped: [...dropped] };
}

/** Puts a draft's texts into the entries. @param {Draft} draft */
export function takeDraft(draft) {
  for (const [path, texts] of draft.dropped) {
    const row = rowAt(path);
    if (row) { dropped.set(path, texts); row.remove(); }
  }
  const made = new Set(draft.made);
  for (const [path, [text, base, texts]] of Object.entries(draft.texts)) {
    const [list, id, column] = path.split(".");
    let f = byPath(path);
    if (!f && column && made.has(`${list}.${id}`) && form.querySelector(`template[data-blank="${CSS.escape(list)}"]`)) {
      addRow(list, id);
      f = byPath(path);
    }
    if (f && textOf(f) !== text) { usual.show(f); takeUp(f, text, base, texts || []); }
  }
  showWhen();
}

// problems --------------------------------------------------------------------------------------

/** Marks what the server found wrong; what belongs to no field is returned as words.
 * @param {Problem[]} problems
 */
export function mark(problems) {
  for (const f of form.querySelectorAll("[aria-invalid]")) f.removeAttribute("aria-invalid");
  for (const why of form.querySelectorAll(".why:not(.clash, .gone-note)")) { why.hidden = true; why.textContent = ""; }
  const loose = [];
  for (const { path, words } of problems) {
    const f = byPath(path);
    const why = f ? whyOf(f) : document.getElementById("e-" + path.replaceAll(".", "-").replaceAll("_", "-") + "-why");
    if (f) { f.setAttribute("aria-invalid", "true"); usual.show(f); }
    if (why) { why.textContent = words; why.hidden = false; } else loose.push(words);
  }
  return loose.join(" ");
}

// hands -----------------------------------------------------------------------------------------

form.addEventListener("input", (/** @type {Event & On} */ event) => {
  const f = event.target;
  touch(f);
  if (f.matches("select, [type=checkbox]")) return;
  f.dataset.open = "1";
  changed(false);
});

form.addEventListener("change", (/** @type {Event & On} */ event) => {
  const f = event.target;
  if (!f.name) return;
  delete f.dataset.open;
  touch(f);
  preset(f);
  if (f.name.endsWith(".connection") && f.value === "240") {
    const line = byPath(f.name.replace(/connection$/, "line"));
    if (line) line.value = "auto";
  }
  changed(true);
});

form.addEventListener("focusout", (/** @type {FocusEvent & On} */ event) => { if (event.target.dataset?.base !== undefined) left(event.target); });

// an answer may move the button between press and release: the press counts all the same
form.addEventListener("pointerdown", (/** @type {PointerEvent & On} */ event) => {
  event.target.closest("[data-add], [data-drop]")?.setPointerCapture(event.pointerId);
});

form.addEventListener("click", (/** @type {MouseEvent & On} */ event) => {
  const add = event.target.closest("[data-add]");
  if (add) askRow(add.dataset.add);
  const drop = event.target.closest("[data-drop]");
  if (drop) dropRow(drop.closest("[data-row]"));
});

const visible = () => [...form.querySelectorAll("input[name], select[name]")].filter((f) => f.type !== "hidden" && f.checkVisibility());

/**
 * @param {Field} f
 * @param {number} by
 */
function step(f, by) {
  const row = f.closest("[data-row]");
  if (!row) return visible()[visible().indexOf(f) + by];
  const column = f.name.split(".")[2];
  const rows = [...row.parentElement.children];
  const next = rows[rows.indexOf(row) + by];
  if (next) return byPath(`${next.dataset.row}.${column}`);
  const all = visible();
  const own = all.filter((g) => g.closest(".items") === row.parentElement);
  return by > 0 ? all[all.indexOf(own.at(-1)) + 1] : all[all.indexOf(own[0]) - 1];
}

/** @param {Field} f */
function enter(f) {
  delete f.dataset.open;
  if (isDirty(f)) changed(true);
  const row = f.closest("[data-row]");
  const column = f.name.split(".")[2];
  const beside = row && column === "name" && ["nameplate", "length"].map((name) => byPath(`${row.dataset.row}.${name}`)).find(Boolean);
  if (beside) beside.focus();
  else if (row && !row.nextElementSibling) addRow(row.dataset.row.split(".")[0]).querySelector("input").focus();
  else if (row) row.nextElementSibling.querySelector("input").focus();
  else step(f, 1)?.focus();
}

form.addEventListener("keydown", (/** @type {KeyboardEvent & On} */ event) => {
  const f = event.target;
  if (!f.matches("input[name], select[name]")) return;
  if (event.key === "Escape" && takeBack(f)) { event.preventDefault(); changed(false); return; }
  if (event.altKey || event.ctrlKey || event.metaKey) return;
  if (event.key === "Enter") {
    event.preventDefault();
    enter(f);
  } else if ((event.key === "ArrowDown" || event.key === "ArrowUp") && f.matches("input:not([list])")) {
    const next = step(f, event.key === "ArrowDown" ? 1 : -1);
    if (next) { event.preventDefault(); next.focus(); next.select?.(); }
  }
});

/** Alt with a letter, inside the entries. Whether it was one of ours.
 * @param {string} code
 */
export function shortcut(code) {
  const at = document.activeElement;
  if (!form.contains(at)) return false;
  const row = at.closest("[data-row]");
  const list = at.closest("[data-list]");
  if (code === "KeyA" && list) askRow(list.dataset.list);
  else if (code === "Backspace" && row) dropRow(row);
  else return false;
  return true;
}

/** Sets an entry from the drawing.
 * @param {string} name
 * @param {string} value
 */
export function set(name, value) {
  const f = byPath(name);
  if (!f) return;
  setText(f, value);
  changed(true);
}

