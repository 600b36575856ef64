// What a field knows of its own text: what is kept (its base), what of it is on the way, whether
// somebody is in it. An answer puts texts only into fields that nobody is in.

/** Texts that were sent and have no answer yet, with the number of the last request. */
const awaited = new WeakMap();

/** @param {Field} f */
export const textOf = (f) => (f.type === "checkbox" ? (/** @type {HTMLInputElement} */ (f).checked ? "yes" : "") : f.value);

/** @param {Field} f @param {string} text */
export function setText(f, text) {
  if (f.type === "checkbox") /** @type {HTMLInputElement} */ (f).checked = text === "yes";
  else f.value = text;
}

/** Whether the text is another than what is kept, in whatever form it was typed. @param {Field} f */
export const isDirty = (f) => textOf(f) !== f.dataset.base && textOf(f) !== f.dataset.typed;

/** @param {Field} f */
export const isAwaited = (f) => awaited.has(f);

/** Whether a field is being typed in: it is sent once it is left. @param {Field} f */
export const isOpen = (f) => f.dataset.open === "1" && f === document.activeElement;

/** Whether a field is to be sent; `all` sends also what is being typed. @param {Field} f
 * @param {boolean} all
 */
export function isWaiting(f, all) {
  if (f.dataset.clash !== undefined) return false;
  if (isAwaited(f)) return true;
  return isDirty(f) && (all || !isOpen(f));
}

/** The texts that the server may hold: the one it gave, and those on the way. @param {Field} f */
export const basesOf = (f) => [...new Set([f.dataset.base, ...(awaited.get(f)?.texts || [])])];

/** The number of the request in which the present text went out, 0 where it did not. @param {Field} f */
export function turnOf(f) {
  const on = awaited.get(f);
  return on && on.texts.at(-1) === textOf(f) ? on.turn : 0;
}

/** @param {Field} f @param {number} turn */
export function markSent(f, turn) {
  const on = awaited.get(f) || { texts: [], turn: 0 };
  on.texts.push(textOf(f));
  on.turn = turn;
  awaited.set(f, on);
}

/** Takes up what a draft knows. @param {Field} f
 * @param {string} text
 * @param {string} base
 * @param {string[]} texts
 */
export function takeUp(f, text, base, texts) {
  f.dataset.base = base;
  setText(f, text);
  if (texts.length) awaited.set(f, { texts: [...texts], turn: 0 });
}

/** What the server keeps for a field; `sent` is the text that this answers, if it was sent. With
 * `asked` the user has asked for it (an undo): it is shown even where the hand is.
 * @param {Field} f @param {string} kept @param {string} [sent] @param {boolean} [asked] */
export function settle(f, kept, sent, asked = false) {
  const now = textOf(f);
  const { base, typed } = f.dataset;
  if (sent !== undefined) awaited.delete(f);
  else if (isAwaited(f)) return; // its own answer is still to come
  if (now === sent) {
    f.dataset.base = kept;
    delete f.dataset.next;
    if (f === document.activeElement && now !== kept) f.dataset.typed = now;
    else show(f, kept);
  } else if (sent !== undefined) { // typed further since it was sent, perhaps back to what stood there
    f.dataset.base = kept;
    delete f.dataset.typed;
    delete f.dataset.next;
  } else if (now !== base && now !== typed) {
    return; // typed, and not sent yet
  } else if (f === document.activeElement && !asked) {
    if (kept !== base) f.dataset.next = kept; // shown once the field is left
  } else {
    f.dataset.base = kept;
    show(f, kept);
  }
}

/** @param {Field} f @param {string} kept */
function show(f, kept) {
  delete f.dataset.typed;
  delete f.dataset.next;
  if (textOf(f) !== kept) setText(f, kept);
}

/** A field is left: what came meanwhile is shown, unless something was typed. @param {Field} f */
export function left(f) {
  delete f.dataset.open;
  if (f.dataset.next !== undefined && !isDirty(f)) {
    f.dataset.base = f.dataset.next;
    setText(f, f.dataset.base);
  } else if (f.dataset.typed !== undefined && textOf(f) === f.dataset.typed) {
    setText(f, f.dataset.base);
  }
  delete f.dataset.next;
  delete f.dataset.typed;
}

/** The text back to what was last entered: sent, or else kept. Whether that was another one.
 * @param {Field} f
 */
export function takeBack(f) {
  const sent = awaited.get(f)?.texts.at(-1);
  const was = sent === undefined ? isDirty(f) : textOf(f) !== sent;
  if (was) setText(f, sent ?? f.dataset.base);
  delete f.dataset.open;
  return was;
}

/** A text as the page shows it. @param {Field} f @param {string} text */
export function label(f, text) {
  const option = f.tagName === "SELECT" && [...f.options].find((o) => o.value === text);
  return option ? option.textContent.trim() : text || "nothing";
}

/** Two buttons and a sentence: two texts for one thing, and the user chooses.
 * @param {HTMLElement} box @param {string} words @param {[string, () => void][]} ways */
export function choice(box, words, ways) {
  box.replaceChildren(words + " ");
  for (const [text, act] of ways) {
    const button = document.createElement("button");
    button.type = "button";
    button.className = "link";
    button.textContent = text;
    button.addEventListener("click", act);
    box.append(button, " ");
  }
  box.hidden = false;
}
