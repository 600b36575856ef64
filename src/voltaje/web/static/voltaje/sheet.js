// A part's sheet: results follow while typing, entries are kept as they are made, nothing typed
// is lost. The server works everything out; this file only carries texts to and fro.
"use strict";

const sheet = document.querySelector("[data-sheet]");
const form = document.getElementById("entries");
const result = document.getElementById("result");
const draftKey = "voltaje:draft:" + sheet.dataset.draft;
const keeps = Boolean(sheet.dataset.save);
const WORK_AFTER = 35; // ms of quiet before a recalculation
const RETRY_AFTER = 4000;
const ownNames = new Set(["csrfmiddlewaretoken"]);
let sequence = 0;
let shown = 0;
let saving = false;
let saveAgain = false;
let timer = 0;
let dropped = new Map(); // rows taken out and not yet confirmed: path → texts they had

// fields ------------------------------------------------------------------------------------

const fields = () => [...form.querySelectorAll("input[name], select[name]")].filter((f) => !ownNames.has(f.name));
const textOf = (f) => (f.type === "checkbox" ? (f.checked ? "yes" : "") : f.value);
const isDirty = (f) => textOf(f) !== f.dataset.base;
const byPath = (path) => form.querySelector(`[name="${CSS.escape(path)}"]`);
const whyOf = (f) => document.getElementById(f.id + "-why");

function setText(f, text) {
  if (f.type === "checkbox") f.checked = text === "yes";
  else f.value = text;
}

function showWhen() {
  for (const box of form.querySelectorAll("[data-when]")) {
    const [name, values] = box.dataset.when.split(":");
    box.hidden = !values.split(",").includes(byPath(name)?.value);
  }
  for (const group of form.querySelectorAll(".group[data-group]")) {
    const boxes = [...group.querySelectorAll(":scope > .row-entry, :scope > .list-entry")];
    group.hidden = boxes.length > 0 && boxes.every((box) => box.hidden);
  }
}

// rows --------------------------------------------------------------------------------------

function newId() {
  const bytes = crypto.getRandomValues(new Uint8Array(6));
  return "n" + [...bytes].map((b) => b.toString(36).padStart(2, "0")).join("").slice(0, 11);
}

function addRow(list, id = newId()) {
  const template = form.querySelector(`template[data-blank="${CSS.escape(list)}"]`);
  const box = document.createElement("div");
  box.innerHTML = template.innerHTML
    .replaceAll(`${list}.new`, `${list}.${id}`)
    .replaceAll(`e-${list}-new-`, `e-${list}-${id}-`);
  const row = box.firstElementChild;
  template.parentElement.querySelector(".items").append(row);
  return row;
}

function dropRow(row) {
  const path = row.dataset.row;
  const list = row.parentElement;
  const wasKept = [...row.querySelectorAll("[name]")];
  dropped.set(path, wasKept.map((f) => [f.name, f.dataset.base]));
  const near = row.nextElementSibling || row.previousElementSibling;
  row.remove();
  (near?.querySelector("input") || list.parentElement.querySelector(".add")).focus();
  changed(true);
}

// a name chosen from the list brings its usual volts, place and whether it is a motor
function preset(f) {
  const option = f.list && [...f.list.options].find((o) => o.value === f.value);
  if (!option) return;
  const row = f.closest("[data-row]");
  for (const [key, value] of Object.entries(option.dataset)) {
    const other = byPath(`${row.dataset.row}.${key}`);
    if (other && !isDirty(other)) setText(other, value);
  }
}

// drafts: what is typed and not yet kept outlives a reload and a lost connection --------------

function keepDraft() {
  const texts = {};
  for (const f of fields()) if (isDirty(f)) texts[f.name] = [textOf(f), f.dataset.base];
  const draft = { texts, dropped: keeps ? [...dropped] : [] };
  try {
    if (Object.keys(texts).length || draft.dropped.length) localStorage.setItem(draftKey, JSON.stringify(draft));
    else localStorage.removeItem(draftKey);
  } catch { /* no storage: the page itself still holds the texts */ }
}

function takeDraft() {
  let draft = null;
  try { draft = JSON.parse(localStorage.getItem(draftKey)); } catch { /* unreadable: none */ }
  if (!draft) return false;
  for (const [path, texts] of draft.dropped || []) {
    const row = form.querySelector(`[data-row="${CSS.escape(path)}"]`);
    if (row) { dropped.set(path, texts); row.remove(); }
  }
  for (const [path, [text, base]] of Object.entries(draft.texts || {})) {
    let f = byPath(path);
    const parts = path.split(".");
    if (!f && parts.length === 3 && form.querySelector(`template[data-blank="${CSS.escape(parts[0])}"]`)) {
      addRow(parts[0], parts[1]);
      f = byPath(path);
    }
    if (!f) continue;
    f.dataset.base = base;
    setText(f, text);
  }
  return true;
}

// to the server and back ----------------------------------------------------------------------

function changed(now) {
  showWhen();
  keepDraft();
  clearTimeout(timer);
  timer = setTimeout(() => { sequence += 1; htmx.trigger(form, "work"); }, now ? 0 : WORK_AFTER);
  if (now && keeps) save();
}

function save() {
  if (saving) { saveAgain = true; return; }
  const values = {};
  const sent = new Map();
  for (const f of fields()) {
    if (!isDirty(f) || f.dataset.conflict) continue;
    values["set:" + f.name] = textOf(f);
    // a row new to the server has nothing to compare with
    if (!f.closest("[data-row]") || f.closest("[data-row]").dataset.kept) values["base:" + f.name] = f.dataset.base;
    sent.set(f.name, textOf(f));
  }
  for (const [path, texts] of dropped) {
    values["drop:" + path] = "1";
    for (const [name, base] of texts) values["base:" + name] = base;
  }
  if (!Object.keys(values).length) return;
  saving = true;
  sequence += 1;
  values.seq = sequence;
  const gone = [...dropped.keys()];
  note("keeping…");
  htmx.ajax("POST", sheet.dataset.save, { source: sheet, target: "#result", values, swap: "innerHTML" })
    .then(() => undefined, () => undefined);
  save.sent = sent;
  save.gone = gone;
}

function note(words) {
  const kept = document.getElementById("kept");
  if (kept) kept.textContent = words;
}

function readState(xhr) {
  const page = new DOMParser().parseFromString(xhr.responseText, "text/html");
  const holder = page.getElementById("state");
  return holder ? JSON.parse(holder.dataset.state) : null;
}

function mark(problems) {
  for (const f of form.querySelectorAll("[aria-invalid]")) f.removeAttribute("aria-invalid");
  for (const why of form.querySelectorAll(".why")) if (!why.dataset.conflict) { why.hidden = true; why.textContent = ""; }
  const loose = [];
  for (const { path, words } of problems) {
    const f = byPath(path);
    const why = f ? whyOf(f) : document.getElementById("e-" + path.replaceAll(".", "-").replaceAll("_", "-") + "-why");
    if (f) f.setAttribute("aria-invalid", "true");
    if (why) { why.textContent = words; why.hidden = false; } else loose.push(words);
  }
  document.getElementById("trouble").textContent = loose.join(" ");
  stale(problems.length > 0);
}

function stale(on) {
  const has = Boolean(result.querySelector(".tape:not(.blank)"));
  const line = document.getElementById("stale");
  for (const box of [result, document.getElementById("drawing")]) box.classList.toggle("stale", on && has);
  if (on && has && line.hidden) line.textContent = `Last good result, of ${stale.at || "before"}. Mend the marked entry.`;
  line.hidden = !(on && has);
  if (!on) stale.at = new Date().toTimeString().slice(0, 5);
}

function confirm(state) {
  saving = false;
  for (const path of save.gone) dropped.delete(path);
  const conflicts = new Map(state.conflicts.map((c) => [c.path, c]));
  const known = new Set();
  for (const [path, kept] of Object.entries(state.values || {})) {
    known.add(path.split(".").slice(0, 2).join("."));
    const f = byPath(path);
    if (!f || conflicts.has(path)) continue;
    const now = textOf(f);
    const untouched = now === f.dataset.base || now === save.sent.get(path);
    f.dataset.base = kept;
    if (untouched && f !== document.activeElement) setText(f, kept);
    else if (untouched && now === save.sent.get(path)) f.dataset.typed = now;
  }
  for (const f of fields()) {
    const sentText = save.sent.get(f.name);
    if (sentText !== undefined && !(f.name in (state.values || {})) && !conflicts.has(f.name)) f.dataset.base = sentText;
  }
  for (const row of form.querySelectorAll("[data-row]")) if (known.has(row.dataset.row)) row.dataset.kept = "1";
  for (const conflict of conflicts.values()) ask(conflict);
  const here = new Set([...form.querySelectorAll("[data-row]")].map((row) => row.dataset.row));
  const there = [...known].filter((path) => path.includes("."));
  const others = there.some((path) => !here.has(path) && !dropped.has(path))
    || [...form.querySelectorAll("[data-row][data-kept]")].some((row) => !known.has(row.dataset.row));
  if (others) rowsElsewhere();
  document.getElementById("revision").textContent = state.revision;
  note("kept " + state.kept);
  document.querySelector("#undo button").disabled = false;
  keepDraft();
  if (saveAgain) { saveAgain = false; save(); }
}

function trouble(words, link, href) {
  const box = document.getElementById("trouble");
  const a = document.createElement("a");
  a.href = href;
  a.textContent = link;
  box.replaceChildren(words + " ", a);
}

function rowsElsewhere() {
  trouble("Rows were added or deleted in another tab.", "Show them", location.pathname);
}

function signedOut() {
  note("not kept: signed out");
  trouble("You were signed out. What you typed waits in this browser.", "Sign in again", location.pathname);
}

// two tabs changed one entry: both texts are shown and the user chooses
function ask({ path, mine, theirs }) {
  const f = byPath(path);
  if (!f) { rowsElsewhere(); return; }
  const why = whyOf(f);
  f.dataset.conflict = "1";
  why.dataset.conflict = "1";
  why.hidden = false;
  why.replaceChildren(`Another tab has kept “${label(f, theirs)}” here; this one says “${label(f, mine)}”. `);
  for (const [words, text] of [["Keep this one", null], ["Take the other", theirs]]) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "link";
    button.textContent = words;
    button.addEventListener("click", () => {
      delete f.dataset.conflict;
      delete why.dataset.conflict;
      why.hidden = true;
      f.dataset.base = theirs;
      if (text !== null) setText(f, text);
      f.focus();
      changed(true);
    });
    why.append(button, " ");
  }
}

function label(f, text) {
  const option = f.tagName === "SELECT" && [...f.options].find((o) => o.value === text);
  return option ? option.textContent : text || "nothing";
}

document.body.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.elt === form) event.detail.parameters.seq = sequence;
});

document.body.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target.id !== "result" || event.detail.xhr.status !== 200) return;
  const state = readState(event.detail.xhr);
  if (!state) { // the sign-in page came instead: what is typed stays here as a draft
    event.detail.shouldSwap = false;
    saving = false;
    keepDraft();
    signedOut();
    return;
  }
  const mine = Number(state.seq);
  if (mine < shown) event.detail.shouldSwap = false; // an older answer that came late
  else {
    shown = mine;
    const open = [...result.querySelectorAll("details[open]")].map((d) => d.dataset.fold);
    sheet.dataset.folds = JSON.stringify(open);
    mark(state.problems);
    for (const [id, head] of Object.entries(state.problems.length ? {} : state.heads)) {
      for (const small of document.querySelectorAll(`[data-head="${id}"]`)) small.textContent = head || "no result yet";
    }
    for (const [id, status] of Object.entries(state.statuses)) {
      const shape = document.querySelector(`[data-shape="${id}"]`);
      if (shape) shape.replaceChildren(document.querySelector(`template[data-status="${status}"]`).content.cloneNode(true));
    }
  }
  if (state.values) confirm(state);
});

document.body.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id !== "result") return;
  for (const name of JSON.parse(sheet.dataset.folds || "[]")) {
    result.querySelector(`details[data-fold="${CSS.escape(name)}"]`)?.setAttribute("open", "");
  }
});

for (const name of ["htmx:sendError", "htmx:responseError", "htmx:timeout"]) {
  document.body.addEventListener(name, (event) => {
    if (event.detail.pathInfo?.requestPath !== sheet.dataset.save) return;
    saving = false;
    const status = event.detail.xhr?.status || 0;
    keepDraft();
    note(status ? "not kept: reload the page" : "not kept: no connection");
    // a refusal stays one however often it is asked; a lost connection or a fault may pass
    if (status === 0 || status >= 500) setTimeout(save, RETRY_AFTER);
  });
}

// hands ---------------------------------------------------------------------------------------

form.addEventListener("input", (event) => {
  if (event.target.matches("select, [type=checkbox]")) return;
  changed(false);
});

form.addEventListener("change", (event) => {
  const f = event.target;
  preset(f);
  if (f.name.endsWith(".connection") && f.value === "240") {
    const line = byPath(f.name.replace(/connection$/, "line"));
    if (line) line.value = "auto";
  }
  changed(true);
});

form.addEventListener("focusout", (event) => {
  const f = event.target;
  if (f.dataset && f.dataset.typed !== undefined && textOf(f) === f.dataset.typed) setText(f, f.dataset.base);
  if (f.dataset) delete f.dataset.typed;
});

form.addEventListener("click", (event) => {
  const add = event.target.closest("[data-add]");
  if (add) addRow(add.dataset.add).querySelector("input").focus();
  const drop = event.target.closest("[data-drop]");
  if (drop) dropRow(drop.closest("[data-row]"));
  if (event.target.closest("[data-clear]")) {
    try { localStorage.removeItem(draftKey); } catch { /* nothing kept */ }
    location.reload();
  }
});

const visible = () => [...form.querySelectorAll("input[name], select[name]")].filter((f) => f.type !== "hidden" && f.offsetParent);

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

form.addEventListener("keydown", (event) => {
  const f = event.target;
  if (!f.matches("input[name], select[name]") || event.altKey || event.ctrlKey || event.metaKey) return;
  if (event.key === "Enter") {
    event.preventDefault();
    if (isDirty(f)) changed(true);
    const row = f.closest("[data-row]");
    const column = f.name.split(".")[2];
    if (row && column === "name") byPath(`${row.dataset.row}.nameplate`).focus();
    else if (row && !row.nextElementSibling) addRow(row.dataset.row.split(".")[0]).querySelector("input").focus();
    else if (row) row.nextElementSibling.querySelector("input").focus();
    else step(f, 1)?.focus();
  } else if ((event.key === "ArrowDown" || event.key === "ArrowUp") && f.matches("input:not([list])")) {
    const next = step(f, event.key === "ArrowDown" ? 1 : -1);
    if (next) { event.preventDefault(); next.focus(); next.select?.(); }
  }
});

document.addEventListener("keydown", (event) => {
  if (!event.altKey || event.ctrlKey || event.metaKey) return;
  const zones = { Digit1: "zone-entries", Digit2: "zone-drawing", Digit3: "zone-tape" };
  const row = document.activeElement.closest?.("[data-row]");
  const list = document.activeElement.closest?.("[data-list]");
  const acts = {
    KeyU: () => document.querySelector("#undo button")?.click(),
    KeyR: () => document.querySelector("#redo button")?.click(),
    KeyP: () => document.querySelector("a.print")?.click(),
    KeyA: () => list && addRow(list.dataset.list).querySelector("input").focus(),
    Backspace: () => row && dropRow(row),
  };
  if (zones[event.code]) {
    event.preventDefault();
    const zone = document.getElementById(zones[event.code]);
    (event.code === "Digit1" ? zone.querySelector("input, select") : zone).focus();
  } else if (acts[event.code]) {
    event.preventDefault();
    acts[event.code]();
  }
});

// a line of the tape and the entry and band it came from light up together
function light(on, source) {
  const paths = (source.dataset.entries || "").split(" ").filter(Boolean);
  for (const path of paths) byPath(path)?.closest(".row-entry, .item")?.classList.toggle("lit", on);
  if (source.dataset.flow) {
    for (const band of document.querySelectorAll(`#drawing [data-flow="${source.dataset.flow}"]`)) band.classList.toggle("lit", on);
  }
}
for (const [name, on] of [["pointerover", true], ["pointerout", false], ["focusin", true], ["focusout", false]]) {
  document.getElementById("zone-tape").addEventListener(name, (event) => {
    const source = event.target.closest("[data-entries], [data-flow]");
    if (source) light(on, source);
  });
  form.addEventListener(name, (event) => {
    const f = event.target.closest(".row-entry, .item")?.querySelector("[name]");
    if (!f) return;
    const start = f.closest("[data-row]")?.dataset.row || f.name;
    for (const line of result.querySelectorAll("tr[data-entries]")) {
      const from = line.dataset.entries.split(" ").some((p) => p === start || p.startsWith(start + "."));
      if (!from) continue;
      line.classList.toggle("lit", on);
      for (const band of document.querySelectorAll(`#drawing [data-flow="${line.dataset.flow}"]`)) band.classList.toggle("lit", on);
    }
  });
}

// a place on the drawing that sets an entry, such as a tap
function setFromDrawing(event) {
  const place = event.target.closest?.("#drawing [data-sets]");
  if (!place || (event.type === "keydown" && event.key !== "Enter" && event.key !== " ")) return;
  event.preventDefault();
  const [name, value] = place.dataset.sets.split("=");
  const f = byPath(name);
  if (!f) return;
  setText(f, value);
  changed(true);
}
document.addEventListener("click", setFromDrawing);
document.addEventListener("keydown", setFromDrawing);

// a conductor under the clamp, and the view that is shown, stay while the drawing changes
let clamped = "", view = "";
function dress() {
  const drawing = document.getElementById("drawing");
  const at = clamped && drawing.querySelector(`[data-clamp="${CSS.escape(clamped)}"]`);
  for (const wire of drawing.querySelectorAll("[data-clamp]")) wire.classList.toggle("on", wire === at);
  const meter = drawing.querySelector("[data-meter]");
  if (meter && at) {
    meter.querySelector("[data-reading]").textContent = at.dataset.reads;
    meter.querySelector("[data-within]").textContent = at.dataset.within;
    meter.querySelector("[data-clamped]").textContent = `around ${at.dataset.says}`;
  }
  const panels = [...drawing.querySelectorAll("[data-panel]")];
  const shown = panels.some((p) => p.dataset.panel === view) ? view : panels[0]?.dataset.panel;
  for (const panel of panels) panel.hidden = panel.dataset.panel !== shown;
  for (const button of drawing.querySelectorAll("[data-view]")) button.setAttribute("aria-pressed", button.dataset.view === shown);
}
function clampOrView(event) {
  if (event.type === "keydown" && event.key !== "Enter" && event.key !== " ") return;
  const wire = event.target.closest?.("#drawing [data-clamp]");
  const button = event.target.closest?.("#drawing [data-view]");
  if (!wire && !button) return;
  if (wire) { event.preventDefault(); clamped = wire.dataset.clamp; }
  else view = button.dataset.view;
  dress();
}
document.addEventListener("click", clampOrView);
document.addEventListener("keydown", clampOrView);
document.addEventListener("htmx:oobAfterSwap", dress);
dress();

// begin ---------------------------------------------------------------------------------------

for (const row of form.querySelectorAll("[data-row]")) row.dataset.kept = "1";
stale.at = new Date().toTimeString().slice(0, 5);
if (!keeps) for (const list of form.querySelectorAll("[data-list]")) if (!list.querySelector("[data-row]")) addRow(list.dataset.list);
window.addEventListener("beforeunload", keepDraft);
// a sheet that was asked for with its entries begins with those, not with an older draft
const asked = sheet.dataset.asked !== undefined;
if (asked) try { localStorage.removeItem(draftKey); } catch { /* nothing kept */ }
if (takeDraft() || asked) changed(keeps);
else showWhen();
