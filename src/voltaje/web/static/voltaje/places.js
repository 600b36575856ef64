// A board's devices taken to other places: dragged, or lifted and put down by pressing, by pointer or
// by keyboard. The server says where everything then stands, or why it cannot; that is written into
// the table and the entries, and kept like what is typed.

import { set } from "./entries.js";
import { write } from "./circuits.js";
import { told } from "./words.js";

const FAR = 6; // px from which a press is a drag
const ANSWER_WITHIN = 15000;
const at = /** @type {HTMLElement | null} */ (document.querySelector("[data-place-at]"));
const drawing = () => document.getElementById("drawing");
const seatAt = (/** @type {any} */ target) => target?.closest?.("#drawing [data-seat]");
const spotAt = (/** @type {any} */ target) => target?.closest?.("#drawing [data-spot]");
const seatOf = (/** @type {string} */ key) => drawing().querySelector(`[data-seat="${CSS.escape(key)}"]`);
const spotOf = (/** @type {string} */ name) => drawing().querySelector(`[data-spot="${CSS.escape(name)}"]`);

let lifted = ""; // the device in hand
let aim = ""; // the place it would go to
let asking = false;
let openLine = ""; // the line whose device is open
/** @type {{key: string, x: number, y: number, far: boolean} | null} */
let pulled = null;

/** @param {string} words */
function say(words) {
  const line = drawing().querySelector("[data-panel]:not([hidden]) [data-hand]");
  if (line) line.textContent = words;
}

export function dress() {
  if (!at) return;
  for (const acts of drawing().querySelectorAll("[data-place-acts]")) acts.hidden = false;
  for (const seat of drawing().querySelectorAll("[data-seat]")) seat.classList.toggle("lifted", seat.dataset.seat === lifted);
  for (const seat of drawing().querySelectorAll("[data-seat]")) {
    const lines = seat.dataset.lines.split(" ");
    const hit = Boolean(openLine) && lines.includes(openLine);
    seat.classList.toggle("dark", hit && lines.length < 3);
    seat.classList.toggle("half", hit && lines.length > 2);
  }
  for (const bar of drawing().querySelectorAll("[data-open-line]")) bar.setAttribute("aria-pressed", String(bar.dataset.openLine === openLine));
  for (const spot of drawing().querySelectorAll("[data-spot]")) spot.classList.toggle("aim", Boolean(lifted) && spot.dataset.spot === aim);
}

function letGo(words = "") {
  lifted = aim = "";
  dress();
  say(words);
}

/** A line's device opened, or closed again: who goes dark, and who is left on two lines.
 * @param {string} line
 */
function openOrClose(line) {
  openLine = openLine === line ? "" : line;
  dress();
  const names = (/** @type {string} */ css) => [...drawing().querySelectorAll(`[data-seat].${css}`)].filter((seat) => seat.classList.contains("circuit")).map((seat) => seat.dataset.name).join(", ");
  if (!openLine) { say(told("{line} is closed again.", { line })); return; }
  const half = names("half");
  say(told("{line} is open: dark are {names}.", { line, names: names("dark") || told("none") }) + (half ? " " + told("On two lines alone, switch them off: {names}.", { names: half }) : ""));
}

/** @param {string} key */
function lift(key) {
  lifted = key;
  aim = seatOf(key).dataset.place;
  dress();
  say(told("{name} lifted: choose a place. Arrows aim, Enter puts it there, Escape lets go.", { name: seatOf(key).dataset.name }));
}

/** @param {string} name */
function aimAt(name) {
  aim = name;
  dress();
  say(spotOf(name)?.dataset.says || "");
}

/** @param {Record<string, string>} more */
async function ask(more) {
  if (asking) return null;
  asking = true;
  const body = new URLSearchParams({ ...more, csrfmiddlewaretoken: document.querySelector("[name=csrfmiddlewaretoken]").value });
  try {
    const answer = await fetch(at.dataset.placeAt, { method: "POST", body, headers: { Accept: "application/json" }, signal: AbortSignal.timeout(ANSWER_WITHIN) });
    const found = (answer.headers.get("content-type") || "").includes("json") ? await answer.json() : null;
    if (!found) throw new Error(String(answer.status));
    return found;
  } catch {
    return { refused: told("No answer from the server: nothing was moved. Try again.") };
  } finally {
    asking = false;
  }
}

/** @param {Record<string, string>} entries */
function put(entries) {
  /** @type {[string, string][]} */
  const cells = [];
  for (const [name, text] of Object.entries(entries)) {
    if (name.includes(":")) cells.push([name, text]);
    else set(name, text);
  }
  write(cells);
}

/**
 * @param {string} key
 * @param {string} to
 */
async function drop(key, to) {
  const seat = seatOf(key);
  if (!to || !seat) { letGo(); return; }
  if (seat.dataset.place === to) { letGo(told("It stands there already.")); return; }
  say(told("Asking …"));
  const found = await ask({ device: key, to });
  if (!found) return;
  if (found.refused) { lifted = ""; aim = ""; dress(); say(found.refused); return; }
  put(found.entries);
  letGo(told("{name} put to {place}.", { name: seat.dataset.name, place: to }));
}

const placeUnder = (/** @type {any} */ target) => spotAt(target)?.dataset.spot || seatAt(target)?.dataset.place || "";

/** The place that is the nearest in a direction.
 * @param {string} name
 * @param {string} key
 */
function beside(name, key) {
  const from = spotOf(name);
  if (!from) return name;
  const [column, row] = [Number(from.dataset.column), Number(from.dataset.row)];
  const step = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[key];
  const wanted = [...drawing().querySelectorAll("[data-spot]")].find((s) => Number(s.dataset.column) === column + step[0] && Number(s.dataset.row) === row + step[1]);
  return wanted?.dataset.spot || name;
}

/** The place under the pointer, the device in hand left out.
 * @param {number} x
 * @param {number} y
 */
function under(x, y) {
  const found = document.elementsFromPoint(x, y).find((el) => spotAt(el) || (seatAt(el) && seatAt(el).dataset.seat !== pulled?.key));
  return placeUnder(found);
}

if (at) {
  document.addEventListener("pointerdown", (event) => {
    const seat = seatAt(event.target);
    if (!seat || event.button || lifted) return;
    pulled = { key: seat.dataset.seat, x: event.clientX, y: event.clientY, far: false };
    if (event.pointerType === "mouse") event.preventDefault();
  });
  document.addEventListener("pointermove", (event) => {
    if (!pulled) return;
    const [dx, dy] = [event.clientX - pulled.x, event.clientY - pulled.y];
    if (!pulled.far && Math.hypot(dx, dy) < FAR) return;
    const seat = seatOf(pulled.key);
    if (!seat) { pulled = null; return; }
    if (!pulled.far) { pulled.far = true; lift(pulled.key); }
    const scale = seat.ownerSVGElement.getScreenCTM().a;
    seat.setAttribute("transform", `translate(${dx / scale} ${dy / scale})`);
    seat.classList.add("carried");
    const name = under(event.clientX, event.clientY);
    if (name && name !== aim) aimAt(name);
    event.preventDefault();
  });
  const back = () => {
    const seat = pulled && seatOf(pulled.key);
    seat?.removeAttribute("transform");
    seat?.classList.remove("carried");
  };
  document.addEventListener("pointercancel", () => { back(); if (pulled?.far) letGo(told("Let go.")); pulled = null; });
  document.addEventListener("pointerup", (event) => {
    if (!pulled) return;
    const { key, far } = pulled;
    const name = far ? under(event.clientX, event.clientY) : "";
    back();
    pulled = null;
    if (!far) return; // a press: the click that follows
    if (name) drop(key, name);
    else letGo(told("Let go."));
  });
  document.addEventListener("click", (event) => {
    if (event.target.closest?.("#drawing [data-keep-places]")) { ask({}).then((found) => found && (found.refused ? say(found.refused) : put(found.entries))); return; }
    if (event.target.closest?.("#drawing [data-free-places]")) { ask({ anew: "1" }).then((found) => found && (found.refused ? say(found.refused) : put(found.entries))); return; }
    const bar = event.target.closest?.("#drawing [data-open-line]");
    if (bar) { openOrClose(bar.dataset.openLine); return; }
    const seat = seatAt(event.target);
    if (lifted) {
      const name = placeUnder(event.target);
      if (seat?.dataset.seat === lifted) letGo(told("Let go."));
      else if (name) drop(lifted, name);
    } else if (seat) lift(seat.dataset.seat);
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape" && lifted) { letGo(told("Let go.")); return; }
    const bar = event.target.closest?.("#drawing [data-open-line]");
    if (bar && (event.key === "Enter" || event.key === " ")) { event.preventDefault(); openOrClose(bar.dataset.openLine); return; }
    const seat = seatAt(event.target);
    if (!seat) return;
    if (event.key === "Enter" || event.key === " ") {
      if (lifted) drop(lifted, aim);
      else lift(seat.dataset.seat);
    } else if (event.key.startsWith("Arrow") && lifted) aimAt(beside(aim, event.key));
    else return;
    event.preventDefault();
  });
}
