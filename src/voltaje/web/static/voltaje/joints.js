// Ends of coils joined by hand: dragged from one to the other, or pressed one after the other, by
// pointer or by keyboard. What is joined is written into the list of joints, and comes back drawn.

import { columnOf, writeRow } from "./entries.js";
import { told } from "./words.js";

const LIST = "joints", COLUMN = "ends";
const FAR = 6; // px from which a press is a drag
const drawing = () => document.getElementById("drawing");
const endAt = (/** @type {any} */ target) => target?.closest?.("#drawing [data-end]");

let armed = "";
/** @type {{name: string, x: number, y: number, line: SVGPathElement | null} | null} */
let pulled = null;

/** @param {string} text */
const nets = (text) => text.split(/[;\n]/).map((part) => part.split(/[\s,]+/).filter(Boolean)).filter((net) => net.length);

/** @param {string} words */
function say(words) {
  const line = drawing().querySelector("[data-hand]");
  if (line) line.textContent = words;
}

export function dress() {
  for (const end of drawing().querySelectorAll("[data-end]")) end.classList.toggle("armed", end.dataset.end === armed);
  if (armed) say(told("Joint from {end}: choose the other end. Escape lets go.", { end: armed }));
}

function letGo(words = "") {
  armed = "";
  dress();
  say(words);
}

/** Rows with their joints, and the row and joint that an end stands in. */
const rows = () => columnOf(LIST, COLUMN).map((row) => ({ ...row, nets: nets(row.text) }));
const holds = (/** @type {JointRow[]} */ all, /** @type {string} */ name) => all.find((/** @type {JointRow} */ row) => row.nets.some((/** @type {string[]} */ net) => net.includes(name)));
const write = (/** @type {JointRow} */ row) => writeRow(LIST, COLUMN, row.path, row.nets.map((/** @type {string[]} */ net) => net.join(" ")).join("; "));

/** @param {string} one @param {string} other */
function join(one, other) {
  const all = rows();
  const a = holds(all, one), b = holds(all, other);
  const mine = a?.nets.find((/** @type {string[]} */ net) => net.includes(one)), theirs = b?.nets.find((/** @type {string[]} */ net) => net.includes(other));
  if (mine && mine === theirs) { letGo(told("{one} and {other} are joined already.", { one, other })); return; }
  letGo(told("{one} joined to {other}.", { one, other }));
  if (!mine && !theirs) { writeRow(LIST, COLUMN, "", `${one} ${other}`); return; }
  if (mine && theirs) {
    b.nets.splice(b.nets.indexOf(theirs), 1);
    mine.push(...theirs.filter((/** @type {string} */ end) => !mine.includes(end)));
    if (b !== a) write(b);
    write(a);
    return;
  }
  (mine || theirs).push(mine ? other : one);
  write(mine ? a : b);
}

/** @param {string} name */
function takeOff(name) {
  const row = holds(rows(), name);
  const net = row?.nets.find((/** @type {string[]} */ one) => one.includes(name));
  if (!row || !net) { letGo(told("{end} is joined to nothing.", { end: name })); return; }
  net.splice(net.indexOf(name), 1);
  if (net.length < 2) row.nets.splice(row.nets.indexOf(net), 1);
  letGo(told("{end} taken off.", { end: name }));
  write(row);
}

/** @param {string} name */
function press(name) {
  if (!armed) { armed = name; dress(); }
  else if (armed === name) takeOff(name);
  else join(armed, name);
}

/** @param {PointerEvent & On} event */
function pull(event) {
  if (!pulled) return;
  const svg = drawing().querySelector("[data-panel]:not([hidden]) svg, svg");
  if (!pulled.line) {
    if (Math.hypot(event.clientX - pulled.x, event.clientY - pulled.y) < FAR) return;
    pulled.line = document.createElementNS("http://www.w3.org/2000/svg", "path");
    pulled.line.setAttribute("class", "pulled");
    svg.append(pulled.line);
  }
  const to = svg.getScreenCTM().inverse();
  const [from, here] = [[pulled.x, pulled.y], [event.clientX, event.clientY]].map(([x, y]) => new DOMPoint(x, y).matrixTransform(to));
  pulled.line.setAttribute("d", `M${from.x} ${from.y}L${here.x} ${here.y}`);
  event.preventDefault();
}

document.addEventListener("pointerdown", (event) => {
  const end = endAt(event.target);
  if (!end || event.button) return;
  pulled = { name: end.dataset.end, x: event.clientX, y: event.clientY, line: null };
});
document.addEventListener("pointermove", pull);
document.addEventListener("pointercancel", () => { pulled?.line?.remove(); pulled = null; });
document.addEventListener("pointerup", (event) => {
  if (!pulled) return;
  const { name, line } = pulled;
  pulled = null;
  line?.remove();
  const there = endAt(document.elementFromPoint(event.clientX, event.clientY))?.dataset.end;
  if (!line) press(name);
  else if (there && there !== name) join(name, there);
});
// programs that press for a hand send a click and no pointer
document.addEventListener("click", (event) => {
  const end = endAt(event.target);
  if (end && event.detail === 0) press(end.dataset.end);
});
document.addEventListener("keydown", (event) => {
  if (event.key === "Escape" && armed) { letGo(told("Let go.")); return; }
  const end = endAt(event.target);
  if (!end) return;
  if (event.key === "Enter" || event.key === " ") press(end.dataset.end);
  else if (event.key === "Delete" || event.key === "Backspace") takeOff(end.dataset.end);
  else return;
  event.preventDefault();
});
