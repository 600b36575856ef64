// Forms that are sent as a whole (prices, settings, readings, amendments, cases, a load list): what
// is typed and not saved yet outlives a page that is left, a lost connection and a closed tab. It is
// put back where the form still says what it said then; where it does not, both are told.

import { Drafts, newRowId } from "./tab.js";
import { told } from "./words.js";

const SAVED = "voltaje_saved";

/** The fields that are typed, by name and place among those of one name. @param {HTMLFormElement} form */
function fields(form) {
  const found = new Map();
  /** @type {Record<string, number>} */
  const count = {};
  for (const f of /** @type {Iterable<Field>} */ (form.elements)) {
    if (!f.name || ["hidden", "file", "password", "submit", "button"].includes(f.type)) continue;
    count[f.name] = (count[f.name] ?? -1) + 1;
    found.set(`${f.name}#${count[f.name]}`, f);
  }
  return found;
}

/** What the page was served with.
 * @param {Field} f
 */
function served(f) {
  if (f.type === "checkbox" || f.type === "radio") return String(f.defaultChecked);
  if (f.tagName !== "SELECT") return f.defaultValue;
  return ([...f.options].find((o) => o.defaultSelected) || f.options[0])?.value ?? "";
}

/** @param {Field} f */
function text(f) {
  return f.type === "checkbox" || f.type === "radio" ? String(f.checked) : f.value;
}

/** Puts a text in; whether the field takes it.
 * @param {Field} f
 * @param {string} value
 */
function put(f, value) {
  if (f.type === "checkbox" || f.type === "radio") f.checked = value === "true";
  else if (f.tagName === "SELECT" && ![...f.options].some((o) => o.value === value)) return false;
  else f.value = value;
  return true;
}

const labelOf = (/** @type {Field} */ f) => f.labels?.[0]?.textContent.trim() || f.getAttribute("aria-label") || f.name;

/** @param {string} token */
function saved(token) {
  return document.cookie.split("; ").some((one) => one === `${SAVED}=${token}`);
}

class Form {
  /** @param {HTMLFormElement} form */
  constructor(form) {
    this.form = form;
    this.drafts = new Drafts(`form:${form.dataset.draft}`);
    /** @type {Record<string, Typed>} */
    this.texts = {};
    this.token = newRowId();
    this.mark();
    form.addEventListener("input", (/** @type {Event & On} */ event) => this.typed(event.target));
    form.addEventListener("change", (/** @type {Event & On} */ event) => this.typed(event.target));
    form.addEventListener("click", (event) => { if (event.target.closest("[data-discard]")) this.forget(); });
    this.again();
  }

  /** The mark of this draft, by which the server says that it was saved. */
  mark() {
    let holder = this.form.querySelector("input[name=draft]");
    if (!holder) {
      holder = Object.assign(document.createElement("input"), { type: "hidden", name: "draft" });
      this.form.append(holder);
    }
    holder.value = this.token;
  }

  /** What was typed and not saved, put back. */
  async again() {
    for (const draft of await this.drafts.take()) {
      if (draft.token && saved(draft.token)) continue;
      this.token = draft.token || this.token;
      this.texts = { ...draft.texts, ...this.texts }; // what was typed just now comes first
    }
    this.mark();
    const mine = fields(this.form);
    const back = [], other = [];
    for (const [key, [typed, base]] of Object.entries(this.texts)) {
      const f = mine.get(key);
      if (!f || f === document.activeElement && text(f) !== served(f)) continue;
      if (served(f) === typed) continue; // the answer to a form with something wrong: it is there
      if (served(f) !== base && served(f) !== "") other.push(told("{label}: you typed “{typed}”, meanwhile it was saved as “{now}”.", { label: labelOf(f), typed, now: served(f) }));
      else if (text(f) === typed) continue;
      else if (put(f, typed)) {
        back.push(f);
        if (f.hasAttribute("hx-get")) window.htmx?.trigger(f, "change");
      }
    }
    this.keep();
    if (back.length || other.length) this.say(back, other);
  }

  /** @param {Field} f */
  typed(f) {
    for (const [key, one] of fields(this.form)) {
      if (one !== f) continue;
      const base = this.texts[key]?.[1] ?? served(f);
      if (text(f) === base) delete this.texts[key];
      else this.texts[key] = [text(f), base];
    }
    this.keep();
  }

  keep() {
    const any = Object.keys(this.texts).length;
    this.drafts.keep(any ? { texts: this.texts, token: this.token } : null);
  }

  forget() {
    this.texts = {};
    this.drafts.keep(null);
  }

  /**
   * @param {any} back
   * @param {any} other
   */
  say(back, other) {
    this.form.previousElementSibling?.matches(".put-back") && this.form.previousElementSibling.remove();
    const box = Object.assign(document.createElement("div"), { className: "note put-back" });
    box.setAttribute("role", "status");
    const words = back.length ? [told("Unsaved entries were restored."), ...other] : other;
    for (const one of words) box.append(Object.assign(document.createElement("p"), { textContent: one }));
    const button = Object.assign(document.createElement("button"), { type: "button", className: "link", textContent: told("Discard") });
    button.addEventListener("click", () => {
      for (const f of back) put(f, served(f));
      this.forget();
      box.remove();
      (back[0] || this.form.elements[0]).focus();
    });
    box.append(button);
    this.form.before(box);
  }
}

/** @type {WeakMap<HTMLFormElement, Form>} */
const known = new WeakMap();
/** @param {any} put */
function look(put) {
  for (const form of document.querySelectorAll("form[data-draft]")) {
    if (!known.has(form)) known.set(form, new Form(form));
    else if (form === put) known.get(form).again(); // its fields were put anew
  }
}
look(null);
document.body.addEventListener("htmx:afterSettle", (event) => look(event.target));
