// A work schedule: steps dragged or moved by keys to places that they can have, ticked off, timed. The
// server says what follows; what is being typed elsewhere on the page stays as it is.

import { told } from "./words.js";

const ANSWER_WITHIN = 20000;
const whole = () => /** @type {any} */ (document.getElementById("steps"));
const steps = () => /** @type {any[]} */ ([...document.querySelectorAll("[data-step]")]);
const stepOf = (/** @type {any} */ target) => target?.closest?.("[data-step]");
const byKey = (/** @type {string} */ key) => document.querySelector(`[data-step="${CSS.escape(key)}"]`);

for (const field of /** @type {any} */ (document.querySelectorAll("[data-own-zone]"))) {
  field.value = Intl.DateTimeFormat().resolvedOptions().timeZone || "";
}

/** @param {string} words */
function say(words) {
  document.getElementById("work-problem").textContent = words;
}

/** @type {{pairs: Record<string, string>, then: (html: string | null) => void}[]} */
const waiting = []; // one change after the other
let busy = false;

/** @param {Record<string, string>} pairs */
const request = (pairs) => fetch(whole().dataset.at, {
  method: "POST",
  body: new URLSearchParams({ ...pairs, csrfmiddlewaretoken: document.querySelector("[name=csrfmiddlewaretoken]").value }),
  headers: { "X-Part": "steps" },
  keepalive: true, // a page that is left meanwhile sends what it has
  signal: AbortSignal.timeout(ANSWER_WITHIN),
});

/** The steps anew; null: not saved. @param {Record<string, string>} pairs */
async function send(pairs) {
  try {
    const answer = await request(pairs);
    const html = await answer.text();
    if (!html.includes("work-problem")) throw new Error(String(answer.status));
    if (answer.ok) return html;
    say(new DOMParser().parseFromString(html, "text/html").getElementById("work-problem").textContent);
  } catch {
    say(told("No answer from the server: not saved. Try again."));
  }
  return null;
}

/** Has a change saved, once those before it are.
 * @param {Record<string, string>} pairs
 * @param {(html: string | null) => void} then
 */
async function inTurn(pairs, then) {
  waiting.push({ pairs, then });
  if (busy) return;
  busy = true;
  while (waiting.length) {
    const next = waiting.shift();
    next.then(await send(next.pairs));
  }
  busy = false;
}

addEventListener("pagehide", () => { for (const { pairs } of waiting.splice(0)) request(pairs).catch(() => {}); });

// order -------------------------------------------------------------------------------------------

/** @param {string} key @param {number} at */
function move(key, at) {
  inTurn({ do: "move", key, at: String(at) }, (html) => {
    if (html === null) return;
    const typed = kept();
    whole().innerHTML = html;
    for (const [step, values] of typed) for (const [name, text] of values) {
      const field = byKey(step)?.querySelector(`[data-${name}]`);
      if (field) field.value = text;
    }
    byKey(key)?.querySelector("[data-grip]").focus();
  });
}

/** What is typed and not sent yet, by step. */
function kept() {
  /** @type {[string, [string, string][]][]} */
  const found = [];
  for (const step of steps()) {
    /** @type {[string, string][]} */
    const values = [];
    for (const name of ["minutes", "people"]) {
      const field = step.querySelector(`[data-${name}]`);
      if (field.value !== field.defaultValue) values.push([name, field.value]);
    }
    if (values.length) found.push([step.dataset.step, values]);
  }
  return found;
}

/** @type {{step: any, at: number} | null} */
let held = null;

/** The place that a step would have above or below what the pointer is over, within what is possible.
 * @param {number} y */
function placeAt(y) {
  const mine = Number(held.step.dataset.at);
  let at = 0;
  for (const one of steps()) {
    if (one === held.step) continue;
    const box = one.getBoundingClientRect();
    if (y > box.top + box.height / 2) at = Number(one.dataset.at) + (Number(one.dataset.at) < mine ? 1 : 0);
  }
  return Math.min(Math.max(at, Number(held.step.dataset.first)), Number(held.step.dataset.last));
}

function dress() {
  const mine = held ? Number(held.step.dataset.at) : -1;
  for (const one of steps()) {
    const at = Number(one.dataset.at);
    one.classList.toggle("held", one === held?.step);
    one.classList.toggle("out", Boolean(held) && one !== held.step && (at < Number(held.step.dataset.first) || at > Number(held.step.dataset.last)));
    one.classList.toggle("above", Boolean(held) && held.at < mine && at === held.at);
    one.classList.toggle("below", Boolean(held) && held.at > mine && at === held.at);
  }
}

document.addEventListener("pointerdown", (/** @type {any} */ event) => {
  const grip = event.target.closest?.("[data-grip]");
  if (!grip || event.button) return;
  const step = stepOf(grip);
  held = { step, at: Number(step.dataset.at) };
  grip.setPointerCapture(event.pointerId);
  dress();
});
document.addEventListener("pointermove", (event) => {
  if (!held) return;
  held.at = placeAt(event.clientY);
  dress();
});
document.addEventListener("pointerup", () => {
  if (!held) return;
  const { step, at } = held;
  held = null;
  dress();
  if (at !== Number(step.dataset.at)) move(step.dataset.step, at);
});
document.addEventListener("pointercancel", () => { held = null; dress(); });

document.addEventListener("keydown", (/** @type {any} */ event) => {
  if (event.key === "Escape" && held) { held = null; dress(); return; }
  const grip = event.target.closest?.("[data-grip]");
  const by = { ArrowUp: -1, ArrowDown: 1 }[/** @type {"ArrowUp"} */ (event.key)];
  if (!grip || !by) return;
  event.preventDefault();
  const step = stepOf(grip), at = Number(step.dataset.at) + by;
  if (at < 0 || at >= steps().length) return;
  move(step.dataset.step, at); // what is not possible, the server says why
});

// times, what is done --------------------------------------------------------------------------------

document.addEventListener("change", (/** @type {any} */ event) => {
  const field = event.target, step = stepOf(field);
  if (!step) return;
  const key = step.dataset.step;
  if (field.matches("[data-done]")) {
    const done = field.checked;
    step.classList.toggle("done", done);
    inTurn({ do: "done", key, done: done ? "yes" : "" }, (html) => {
      if (html !== null) say("");
      const now = byKey(key), is = html === null ? !done : done; // drawn anew meanwhile, perhaps
      if (now) now.querySelector("[data-done]").checked = is;
      now?.classList.toggle("done", is);
    });
    return;
  }
  take(step, field);
});

// what was not kept is sent again by Enter
document.addEventListener("keydown", (/** @type {any} */ event) => {
  const field = event.target, step = stepOf(field);
  if (event.key !== "Enter" || !step || !field.matches("[data-minutes], [data-people]")) return;
  event.preventDefault();
  if (field.value !== field.defaultValue) take(step, field);
});

/** @param {any} step @param {any} field */
function take(step, field) {
  const key = step.dataset.step;
  const minutes = step.querySelector("[data-minutes]"), people = step.querySelector("[data-people]");
  const values = [minutes.value, people.value];
  inTurn({ do: "taking", key, minutes: values[0], people: values[1] }, (html) => {
    field.toggleAttribute("aria-invalid", html === null);
    if (html === null) return;
    for (const one of [minutes, people]) one.removeAttribute("aria-invalid");
    minutes.defaultValue = values[0];
    people.defaultValue = values[1];
    say("");
    // times alone: what is typed meanwhile stays
    const fresh = new DOMParser().parseFromString(html, "text/html");
    for (const when of document.querySelectorAll("[data-when]")) {
      const now = fresh.querySelector(`[data-when="${/** @type {any} */ (when).dataset.when}"]`);
      if (now) when.replaceChildren(...now.childNodes);
    }
    const sum = fresh.querySelector(".work-sum");
    if (sum) document.querySelector(".work-sum").replaceChildren(...sum.childNodes);
  });
}
