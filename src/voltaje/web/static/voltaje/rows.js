// Several rows of a board's table at once: they are selected by a press, with Shift a range, with Space
// or Alt X by the keyboard; one entry is set on all of them, or all go to another board, in one act.

/** @type {any} */
let table = null;
/** @type {(url: string, pairs: [string, string][]) => Promise<any>} */
let act = async () => null;
let drop = (/** @type {HTMLTableRowElement[]} */ out) => {};
let last = -1; // where a range begins
let asked = 0; // the newest question; an older answer is dropped
let entry = "";

const bar = () => document.getElementById("many");
const boxes = () => /** @type {any[]} */ ([...table.tBodies[0].querySelectorAll("tr:not([data-part=new]) [data-pick=row]")]);
const picked = () => boxes().filter((box) => box.checked).map((box) => box.closest("tr"));
const pairs = () => /** @type {[string, string][]} */ (picked().map((row) => ["row", row.dataset.part]));

const entryOf = (/** @type {any} */ of) => of.querySelector("[data-many=entry]")?.value;

/** What was typed or chosen in the bar and is not applied yet; null where nothing was.
 * @param {any} of */
function typedText(of) {
  const f = of.querySelector("[data-many=text]");
  if (!f) return null;
  const began = f.matches("input") ? f.defaultValue : ([...f.options].find((one) => one.defaultSelected) || f.options[0])?.value;
  return f.value === began ? null : { entry: entryOf(of), tag: f.tagName, text: f.value };
}

/** Shows what can be done with the rows that are selected now. */
export async function look() {
  if (!table) return;
  const rows = picked();
  for (const box of boxes()) box.closest("tr").classList.toggle("picked", box.checked);
  const all = table.querySelector("[data-pick=all]");
  all.checked = rows.length > 0 && rows.length === boxes().length;
  all.indeterminate = rows.length > 0 && !all.checked;
  asked += 1;
  if (!rows.length) { bar().hidden = true; bar().replaceChildren(); return; }
  const mine = asked;
  const query = new URLSearchParams([...pairs(), ["entry", entry]]);
  let html = "";
  try {
    const answer = await fetch(`${bar().dataset.at}?${query}`, { headers: { "HX-Request": "true" } });
    if (answer.ok) html = await answer.text();
  } catch { /* the bar stays as it is until the next press */ }
  if (mine !== asked || !html.includes("many-bar")) return;
  const active = /** @type {any} */ (document.activeElement?.closest("#many [data-many]"));
  const at = active?.matches("input") ? [active.selectionStart, active.selectionEnd] : null;
  const typed = typedText(bar());
  bar().innerHTML = html;
  bar().hidden = false;
  const again = active && bar().querySelector(`[data-many="${active.dataset.many}"]`);
  const text = bar().querySelector("[data-many=text]");
  if (typed && typed.entry === entryOf(bar()) && text?.tagName === typed.tag) text.value = typed.text;
  again?.focus();
  // what was marked stays marked: the next key is to replace it, not to be added to it
  if (at && again?.matches("input")) again.setSelectionRange(at[0], at[1]);
}

/** @param {HTMLTableRowElement} row */
export function toggle(row) {
  const box = row.querySelector("[data-pick]");
  box.checked = !box.checked;
  last = boxes().indexOf(box);
  look();
}

/** @param {any} event */
function pick(event) {
  const box = event.target.closest?.("[data-pick]");
  if (!box) return;
  if (box.dataset.pick === "all") for (const one of boxes()) one.checked = box.checked;
  else {
    const all = boxes(), at = all.indexOf(box);
    if (event.shiftKey && last >= 0) for (const one of all.slice(Math.min(at, last), Math.max(at, last) + 1)) one.checked = box.checked;
    last = at;
  }
  look();
}

/** Shift with an arrow on a box takes the next row along. @param {any} event */
function key(event) {
  const box = event.target.closest?.("[data-pick=row]");
  if (!box || !["ArrowUp", "ArrowDown"].includes(event.key)) return;
  event.preventDefault();
  const all = boxes(), next = all[all.indexOf(box) + (event.key === "ArrowUp" ? -1 : 1)];
  if (!next) return;
  if (event.shiftKey) { box.checked = true; next.checked = true; last = all.indexOf(next); look(); }
  next.focus();
}

async function apply() {
  const text = bar().querySelector("[data-many=text]");
  if (text.matches("select") && text.selectedOptions[0]?.disabled) { text.focus(); return; }
  const sent = text.value;
  const done = await act(bar().firstElementChild.dataset.change, [...pairs(), ["entry", entryOf(bar())], ["text", sent]]);
  const now = bar().querySelector("[data-many=text]");
  if (done && now?.matches("input") && now.value === sent) now.defaultValue = sent; // applied: the answer's words may stand here
  look();
}

/** @param {string} what */
function press(what) {
  if (what === "apply") apply();
  if (what === "delete") drop(picked());
  if (what === "delete" || what === "none") { for (const box of boxes()) box.checked = false; look(); }
}

/**
 * @param {HTMLTableElement} of
 * @param {typeof act} doing
 * @param {typeof drop} dropping
 */
export function begin(of, doing, dropping) {
  table = of;
  act = doing;
  drop = dropping;
  for (const box of boxes()) box.checked = false; // a browser remembers what was ticked
  table.addEventListener("click", pick);
  table.addEventListener("keydown", key);
  bar().addEventListener("click", (/** @type {any} */ event) => press(event.target.closest("[data-many]")?.dataset.many));
  bar().addEventListener("keydown", (/** @type {any} */ event) => { if (event.key === "Enter" && event.target.dataset.many === "text") { event.preventDefault(); apply(); } });
  bar().addEventListener("change", (/** @type {any} */ event) => {
    const what = event.target.dataset.many;
    if (what === "entry") { entry = event.target.value; look(); }
    if (what === "board" && event.target.value) act(bar().firstElementChild.dataset.change, [...pairs(), ["to", event.target.value]]).then(look);
  });
}
