// A part's page: entries, on a board the table of its circuits, and the result. Results follow while
// typing; what is changed is kept as it is made; nothing typed is lost. The server works everything
// out; this file only carries texts to and fro.

import * as circuits from "./circuits.js";
import * as drawing from "./drawing.js";
import "./edges.js";
import "./large.js";
import "./line.js";
import * as entries from "./entries.js";
import { put, remember } from "./focus.js";
import { isDirty, takeBack } from "./fields.js";
import { Keeper } from "./keeper.js";
import { Drafts } from "./tab.js";
import * as tree from "./tree.js";
import { told } from "./words.js";
import "./worksheet.js";

const sheet = document.querySelector("[data-sheet]");
const form = document.getElementById("entries");
const result = document.getElementById("result");
const keeps = Boolean(sheet.dataset.save);
const drafts = new Drafts(sheet.dataset.draft);
let lastGood = ""; // when the answer was last worked
const WORK_AFTER = 35; // ms of quiet before a recalculation
let sequence = 0;
let shown = 0;
let timer = 0;
const acknowledged = `revision:${sheet.dataset.job}`; // the last one that this tab was told of its job
let refusedDraft = "";
let holding = true; // until what an earlier visit has left is taken up

// troubles, each in its own line, so that none hides another -----------------------------------

/** @param {string} id */
function say(id, words = "", link = "", href = "") {
  const line = document.getElementById(id);
  line.replaceChildren(words);
  if (link) {
    const a = document.createElement("a");
    a.href = href;
    a.textContent = link;
    line.append(" ", a);
  }
  line.hidden = !words;
}

const keeper = keeps && new Keeper({
  url: sheet.dataset.save,
  collect(all, turn) {
    if (holding) return null;
    const parts = [entries.collect(all, turn), circuits.here ? circuits.collect(all, turn) : null].filter(Boolean);
    const pairs = parts.flatMap((part) => part.pairs);
    if (pairs.length) pairs.push(["rev", document.getElementById("revision").textContent]);
    return pairs.length ? { pairs, sent: parts.map((part) => part.sent) } : null;
  },
  settled,
  refused(words, gone) {
    refusedDraft = words;
    keepDraft();
    say("trouble-keeping", gone ? told("{why} What you typed waits in this browser.", { why: words }) : words, gone ? told("To the job") : "", sheet.dataset.job);
  },
  tell(words, state) {
    document.getElementById("kept").textContent = words;
    for (const note of document.querySelectorAll("#table-note")) note.textContent = words;
    if (state === "signed out") {
      keepDraft();
      say("trouble-keeping", told("You were signed out. What you typed waits in this browser."), told("Sign in again"), location.pathname);
    }
  },
});

/** @param {boolean} now */
function changed(now) {
  entries.showWhen();
  keepDraft();
  clearTimeout(timer);
  timer = setTimeout(work, now ? 0 : WORK_AFTER);
  if (now && keeps) keeper.poke();
}

/** @param {boolean} now */
function tableChanged(now) {
  keepDraft();
  if (now) keeper.poke();
}

function work() {
  sequence += 1;
  htmx.trigger(form, "work");
}

// what is kept ------------------------------------------------------------------------------------

/**
 * @param {PageState} state
 * @param {any} page
 * @param {Sent[]} sent
 */
function settled(state, page, sent) {
  refusedDraft = "";
  say("trouble-keeping");
  for (const box of page.querySelectorAll("[data-for]")) {
    const id = box.dataset.for;
    const target = document.getElementById(id);
    const newer = id === "result" || id === "drawing";
    // a result of what is kept never covers one of what has been typed since
    if (!target || (newer && entries.fields().some(isDirty))) continue;
    put(target, box.innerHTML);
    if (id === "drawing") drawing.dress();
  }
  entries.settled(state, sent?.[0]);
  if (circuits.here) circuits.settled(state, sent?.[1]);
  if (!entries.fields().some(isDirty)) { shown = sequence; mark(state); }
  document.getElementById("revision").textContent = state.revision;
  sessionStorage.setItem(acknowledged, String(state.revision));
  const open = entries.clashes() + (circuits.here ? circuits.clashes() : 0);
  const words = open > 1 ? told("{count} entries wait for your choice", { count: open }) : open ? told("one entry waits for your choice") : told("kept {time}", { time: state.kept });
  keeper.face.tell(words, "kept");
  for (const [name, can] of Object.entries(state.can)) document.querySelector(`#${name} button`).disabled = !can;
  for (const plate of document.querySelectorAll("[data-part-name]")) plate.textContent = state.name;
  if (state.words) window.voltaje.note(state.words);
  keepDraft();
}

/** Undo and redo wait for what is typed, and leave the hand where it is.
 * @param {string} name
 */
function step(name) {
  const button = document.querySelector(`#${name} button`);
  keeper.act(button.form.dataset.here).then((state) => {
    if (state) work();
  });
}
for (const name of ["undo", "redo"]) {
  document.getElementById(name)?.addEventListener("submit", (/** @type {SubmitEvent & On} */ event) => {
    if (!keeps) return;
    event.preventDefault();
    step(name);
  });
}

function keepDraft() {
  if (holding) return;
  const mine = entries.draft();
  const table = circuits.here ? circuits.draft() : { texts: {}, made: [], dropped: [] };
  /** @type {Draft} */
  const draft = {
    texts: { ...mine.texts, ...table.texts },
    made: [...mine.made, ...table.made],
    dropped: keeps ? [...mine.dropped, ...table.dropped] : [],
    refused: refusedDraft,
  };
  drafts.keep(Object.keys(draft.texts).length || draft.dropped.length ? draft : null);
}

// what an earlier visit has left ------------------------------------------------------------------

/** Of a draft, what the server has not got: its last request may have arrived without an answer.
 * @param {Draft} draft
 */
async function unkept(draft) {
  const turns = Object.values(draft.texts).map((text) => text[3] || 0);
  if (!keeps || !Math.max(0, ...turns)) return draft;
  try {
    const answer = await fetch(`${sheet.dataset.done}?tab=${encodeURIComponent(draft.tab)}`);
    const { done } = await answer.json();
    draft.texts = Object.fromEntries(Object.entries(draft.texts).filter(([, text]) => !text[3] || text[3] > done));
    draft.made = draft.made.filter((/** @type {string} */ key) => Object.keys(draft.texts).some((name) => name.startsWith(key)));
    if (done >= Math.max(...turns)) draft.dropped = [];
  } catch { /* it is sent again: the server knows its own texts */ }
  return draft;
}

/** @param {Draft} draft */
function takeUp(draft) {
  const own = (/** @type {string} */ name) => name.includes(":");
  const part = (/** @type {boolean} */ table) => ({
    ...draft,
    texts: Object.fromEntries(Object.entries(draft.texts).filter(([name]) => own(name) === table)),
    made: draft.made.filter((/** @type {string} */ key) => key.includes("-") === table),
    dropped: draft.dropped.filter((/** @type {[string, any]} */ [key]) => key.includes("-") === table),
  });
  entries.takeDraft(part(false));
  if (circuits.here) circuits.takeDraft(part(true));
}

/** A draft that the server refused is offered, never sent again by itself.
 * @param {Draft} draft
 */
function offer(draft) {
  const line = document.getElementById("trouble-draft");
  const texts = Object.values(draft.texts).map(([text]) => `“${text}”`).slice(0, 6).join(", ");
  line.replaceChildren(told("What you typed before was not kept ({why}): {texts}.", { why: draft.refused, texts }) + " ");
  /** @type {[string, () => void][]} */
  const choices = [[told("Put it back"), () => { takeUp(draft); changed(true); }], [told("Forget it"), () => {}]];
  for (const [words, act] of choices) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "link";
    button.textContent = words;
    button.addEventListener("click", () => { line.hidden = true; act(); keepDraft(); });
    line.append(button, " ");
  }
  line.hidden = false;
}

/** A quick sheet under a code of another family, or beside another one, has other entries: the page is asked for anew with
 *  what was typed; what only the other family reads is kept by the address, too. */
function otherFamily() {
  const code = form.elements.namedItem("code"), second = form.elements.namedItem("second");
  const chosen = code?.selectedOptions?.[0];
  const same = !chosen?.dataset.family || chosen.dataset.family === code.dataset.family;
  if (same && (second?.value ?? "") === (second?.dataset.base ?? "")) return;
  const asked = new URLSearchParams(location.search);
  for (const [name, value] of new FormData(form)) {
    if (name === "csrfmiddlewaretoken" || typeof value !== "string") continue;
    // what nobody has touched is the other family's usual figure, not a thing that was typed
    const field = form.elements.namedItem(name);
    const usual = field instanceof HTMLElement && !["code", "second"].includes(name) ? field.dataset.base : undefined;
    if (usual === value && !asked.has(name)) continue;
    if (value) asked.set(name, value); else asked.delete(name);
  }
  location.assign(`?${asked}`);
}
form.addEventListener("change", (/** @type {Event & On} */ event) => {
  if (event.target instanceof Element && ["code", "second"].includes(event.target.id)) otherFamily();
});

async function begin() {
  entries.begin(changed);
  if (circuits.here) circuits.begin(tableChanged, (url, pairs) => keeper.act(url, pairs).then((state) => { if (state) work(); return state; }));
  lastGood = new Date().toTimeString().slice(0, 5);
  if (!keeps) for (const list of form.querySelectorAll("[data-list]")) if (!list.querySelector("[data-row]")) entries.addRow(list.dataset.list);
  // a sheet that was asked for with its entries begins with those, not with an older draft
  const asked = sheet.dataset.asked !== undefined;
  const found = await drafts.take(asked ? 0 : keeps ? Infinity : 1);
  let took = asked;
  let late = false; // something arrived after the server had made this page
  for (const draft of found) {
    if (draft.refused) { offer(draft); continue; }
    const all = Object.keys(draft.texts).length + draft.dropped.length;
    const left = await unkept(draft);
    late ||= Object.keys(left.texts).length + left.dropped.length < all;
    if (!Object.keys(left.texts).length && !left.dropped.length) continue;
    takeUp(left);
    took = true;
  }
  holding = false;
  // an empty sheet is begun at its first empty entry; on a phone that would raise its keyboard
  if (!keeps && !took && matchMedia("(min-width: 901px)").matches && document.activeElement === document.body) {
    entries.fields().find((f) => f.matches("input:not([type=checkbox])") && !f.value && f.checkVisibility())?.focus();
  }
  if (took || entries.fields().some(isDirty)) changed(keeps);
  else entries.showWhen();
  // a page that was made before what this tab has since been told was kept
  const made = keeps ? Number(document.getElementById("revision").textContent) : 0;
  if (late || made < Number(keeps && sessionStorage.getItem(acknowledged))) refresh();
}

/** Asks the server what is kept, without changing anything. */
function refresh() {
  keeper.act(sheet.dataset.save).then((state) => state && work());
}

// results -----------------------------------------------------------------------------------------

/** @param {PageState} state */
function mark(state) {
  say("trouble", entries.mark(state.problems));
  stale(state.problems.length > 0);
  for (const [id, head] of Object.entries(state.problems.length ? {} : state.heads)) {
    for (const small of document.querySelectorAll(`[data-head="${id}"]`)) small.textContent = head || told("no result yet");
  }
  for (const [id, drop] of Object.entries(state.problems.length ? {} : state.drops)) {
    for (const small of document.querySelectorAll(`[data-drop="${id}"]`)) small.textContent = drop;
  }
  for (const [id, status] of Object.entries(state.statuses)) {
    for (const shape of document.querySelectorAll(`[data-shape="${id}"]`)) {
      if (shape.dataset.status === status) continue;
      shape.dataset.status = status;
      shape.replaceChildren(document.querySelector(`template[data-status="${status}"]`).content.cloneNode(true));
    }
  }
  tree.restate();
}


/** The answer of an earlier text, greyed and dated. @param {boolean} on */
function stale(on) {
  const line = document.getElementById("stale");
  const has = Boolean(result.querySelector(".worksheet:not(.blank)"));
  for (const box of [result, document.getElementById("drawing")]) box.classList.toggle("stale", on && has);
  if (on && has && line.hidden) line.textContent = lastGood ? told("Last good result, of {time}. Mend the marked entry.", { time: lastGood }) : told("The last good result. Mend the marked entry.");
  line.hidden = !(on && has);
  if (!on) lastGood = new Date().toTimeString().slice(0, 5);
}

// the form sent whole, as to the choice of a job
form.addEventListener("formdata", (/** @type {FormDataEvent & On} */ event) => {
  for (const name of entries.untouched()) event.formData.delete(name);
});

document.body.addEventListener("htmx:configRequest", (event) => {
  if (event.detail.elt !== form) return;
  for (const name of entries.untouched()) delete event.detail.parameters[name];
  event.detail.parameters.seq = sequence;
});

/** @type {any[]} */
let back = [];
document.body.addEventListener("htmx:beforeSwap", (event) => {
  if (event.detail.target.id !== "result" || event.detail.xhr.status !== 200) return;
  const holder = new DOMParser().parseFromString(event.detail.xhr.responseText, "text/html").getElementById("state");
  if (!holder) { // the sign-in page came instead
    event.detail.shouldSwap = false;
    keepDraft();
    say("trouble-keeping", told("You were signed out. What you typed waits in this browser."), told("Sign in again"), location.pathname);
    return;
  }
  say("trouble-work");
  const state = JSON.parse(holder.dataset.state);
  const mine = Number(state.seq);
  if (mine < shown) { event.detail.shouldSwap = false; return; } // an older answer that came late
  shown = mine;
  sheet.dataset.folds = JSON.stringify([...result.querySelectorAll("details[open]")].map((d) => d.dataset.fold));
  back = [remember(result), remember(document.getElementById("drawing"))];
  mark(state);
});

document.body.addEventListener("htmx:afterSwap", (event) => {
  if (event.detail.target.id !== "result") return;
  for (const name of JSON.parse(sheet.dataset.folds || "[]")) {
    result.querySelector(`details[data-fold="${CSS.escape(name)}"]`)?.setAttribute("open", "");
  }
});
document.addEventListener("htmx:oobAfterSwap", drawing.dress);
document.body.addEventListener("htmx:afterSettle", () => { for (const one of back.splice(0)) one(); });

for (const [name, why] of [["sendError", told("there is no connection")], ["responseError", told("the server has a fault")], ["timeout", told("the server does not answer")]]) {
  document.body.addEventListener(`htmx:${name}`, (event) => {
    if (event.detail.elt !== form) return;
    say("trouble-work", told("The result is not worked: {why}. It follows with the next key.", { why }));
  });
}

// hands -------------------------------------------------------------------------------------------

document.addEventListener("keydown", (event) => {
  const f = /** @type {Field} */ (event.target);
  if ((event.ctrlKey || event.metaKey) && !event.altKey && event.code === "KeyZ" && f.matches?.("input[data-base], select[data-base]")) {
    event.preventDefault(); // the browser's own undo knows nothing of texts that were put in
    if (takeBack(f)) changed(false);
    else if (keeps) step(event.shiftKey ? "redo" : "undo");
    return;
  }
  if (!event.altKey || event.ctrlKey || event.metaKey) return;
  /** @type {Record<string, string>} */
  const zones = { Digit1: "zone-entries", Digit2: "zone-drawing", Digit3: "zone-worksheet", Digit4: "zone-circuits" };
  const zone = document.getElementById(zones[event.code] || "none");
  /** @type {Record<string, () => void>} */
  const acts = {
    KeyU: () => keeps && step("undo"),
    KeyR: () => keeps && step("redo"),
    KeyP: () => document.querySelector("a.print")?.click(),
    KeyJ: tree.search,
    KeyO: () => tree.go("above"),
    PageUp: () => tree.go("before"),
    PageDown: () => tree.go("after"),
  };
  if (zone) {
    event.preventDefault();
    const first = ["Digit1", "Digit4"].includes(event.code) && [...zone.querySelectorAll("input, select")].find((el) => el.type !== "hidden" && el.checkVisibility());
    (first || zone).focus();
  } else if (acts[event.code]) {
    event.preventDefault();
    acts[event.code]();
  } else if (entries.shortcut(event.code) || (circuits.here && circuits.shortcut(event.code))) {
    event.preventDefault();
  }
});

form.addEventListener("click", (/** @type {MouseEvent & On} */ event) => {
  if (!event.target.closest("[data-clear]")) return;
  holding = true;
  drafts.clear().then(() => location.assign(location.pathname));
});

// on a narrow screen the answer in a line stays at the edge while its box is out of sight
const line = document.querySelector(".edge-answer");
if (line) {
  window.addEventListener("scroll", () => { line.hidden = !(result.querySelector(".answer")?.getBoundingClientRect().bottom < 0); }, { passive: true });
}

window.addEventListener("beforeunload", keepDraft);
// the browser's Back may show the page as it was left: the server is asked what is kept
window.addEventListener("pageshow", (event) => {
  if (event.persisted && keeps) refresh();
});

begin();
