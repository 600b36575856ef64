// Cells copied in a spreadsheet come as lines with tabs between. A first line that names columns
// says what is what; what a choice does not know is marked and asked, never guessed.

import { choice } from "./fields.js";
import { told } from "./words.js";

/** @param {HTMLTableElement} table
 * @param {Hands} hands
 */
export function begin(table, hands) {
  const body = table.tBodies[0];
  const titles = new Map();
  for (const th of table.tHead.querySelectorAll("th[data-col]")) for (const also of (th.dataset.also || "").split("|").filter(Boolean)) titles.set(also, th.dataset.col);
  for (const th of table.tHead.querySelectorAll("th[data-col]")) titles.set(plain(th.textContent), th.dataset.col);
  const choices = new Map(hands.cells(body.lastElementChild).filter((/** @type {Field} */ f) => f.tagName === "SELECT").map((/** @type {Field} */ f) => [hands.column(f), f]));

  body.addEventListener("paste", (/** @type {ClipboardEvent & On} */ event) => {
    const text = event.clipboardData.getData("text/plain").replace(/\r/g, "").replace(/\n+$/, "");
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const row = event.target.closest("tr");
    if (!text.includes("\t") && /\d/.test(text)) {
      readLines(table, titles, text, hands.column(event.target) === "name").then((taken) => {
        if (taken) preview(table, titles, taken, LINE, false, (chosen, rows) => put(body, row, rows, chosen, hands));
        else put(body, row, text.split("\n").map((line) => [line.trim()]), [hands.column(event.target)], hands);
      });
      return;
    }
    const lines = text.split("\n").map((line) => line.split("\t").map((cell) => cell.trim()));
    const order = hands.cells(body.lastElementChild).map(hands.column);
    const start = hands.column(event.target);
    const titled = lines[0].map((cell) => titleOf(cell, titles));
    const named = titled.map((title) => title.column);
    const headed = named.filter(Boolean).length >= Math.min(2, lines[0].length);
    if (headed) for (const line of lines.slice(1)) line.forEach((cell, index) => { line[index] = withUnit(cell, titled[index]?.unit || ""); });
    const columns = headed ? named : guess(lines, order.slice(order.indexOf(start)), choices);
    preview(table, titles, lines, columns, headed, (/** @type {string[]} */ chosen, /** @type {string[][]} */ rows) => put(body, event.target.closest("tr"), rows, chosen, hands));
  });
}

const plain = (/** @type {string} */ text) => text.trim().toLowerCase().replace(/\s+/g, " ");

/** @type {Record<string, string>} units that a title may carry for the bare figures below it */
const UNITS = { kva: "kVA", va: "VA", kw: "kW", w: "W", watts: "W", a: "A", amps: "A", amp: "A", hp: "hp", ft: "ft", feet: "ft", m: "m", metres: "m", meters: "m" };
const UNIT = new RegExp(`[\\s,(/\\[]*\\b(${Object.keys(UNITS).join("|")})\\.?[)\\]]?$`);
const BARE = /^[\d.,½¼¾/ -]*\d[\d.,½¼¾/ -]*$/;

/** What a column is by its title, and the unit that the title carries: "Load (kVA)", "Length, ft".
 * @param {string} cell
 * @param {Map<string, string>} titles
 */
function titleOf(cell, titles) {
  const text = plain(cell);
  if (titles.has(text)) return { column: titles.get(text), unit: UNITS[text] || "" };
  const unit = text.match(UNIT);
  const column = unit && titles.get(text.slice(0, unit.index));
  const fits = column && column === (["ft", "m"].includes(UNITS[unit[1]]) ? "length" : "load"); // "Phase A" is no line
  return fits ? { column, unit: UNITS[unit[1]] } : { column: "", unit: "" };
}

const withUnit = (/** @type {string} */ text, /** @type {string} */ unit) => unit && BARE.test(text) ? `${text} ${unit}` : text;

const LINE = ["name", "use", "load", "connection", "length"];

/** Lines as people write them ("Range 12 kW 240 V 45 ft"), read into cells by the server; null where they are
 * but a column of texts.
 * @param {HTMLTableElement} table
 * @param {Map<string, string>} titles
 * @param {string} text
 * @param {boolean} names whether they were pasted into the column of names
 * @returns {Promise<string[][] | null>}
 */
async function readLines(table, titles, text, names) {
  if (!names) return null;
  const at = /** @type {any} */ (table.closest("[data-line-at]")).dataset.lineAt;
  try {
    const answer = await fetch(at, { method: "POST", body: new URLSearchParams({ q: text }), headers: JSON.parse(document.body.getAttribute("hx-headers")) });
    if (!answer.ok) return null;
    const { rows } = await answer.json();
    const some = rows.filter((/** @type {any} */ row) => row.load || row.length);
    return some.length ? rows.map((/** @type {any} */ row) => LINE.map((column) => row[column] || "")) : null;
  } catch { return null; }
}

const LENGTH = /^[\d.,½¼¾/ -]+ *(ft|feet|foot|'|m|metres?|meters?)$/i;
const LOAD = /^[\d.,½¼¾/ -]+ *(kva|va|kw|w|a|amps?|hp)$/i;

/** Columns without a title, in the table's order from where the paste begins; one whose texts do
 * not fit there goes where they do, or nowhere.
 * @param {string[][]} lines
 * @param {string[]} order
 * @param {Map<string, Field>} choices
 */
function guess(lines, order, choices) {
  const most = (/** @type {number} */ index, /** @type {(text: string) => boolean} */ fits) => lines.filter((/** @type {string[]} */ line) => fits(line[index] ?? "")).length * 2 > lines.length;
  const known = (/** @type {string} */ column) => (/** @type {string} */ text) => text === "" || [...choices.get(column).options].some((o) => plain(o.value) === plain(text) || plain(o.textContent) === plain(text));
  const taken = new Set();
  return lines[0].map((/** @type {string} */ _, /** @type {number} */ index) => {
    const fits = [
      most(index, (/** @type {string} */ text) => LENGTH.test(text)) ? "length" : null,
      most(index, (/** @type {string} */ text) => LOAD.test(text)) ? "load" : null,
      choices.has(order[index]) && !most(index, known(order[index])) ? "" : order[index],
    ].find((column) => column !== null && !taken.has(column)) || "";
    taken.add(fits);
    return fits;
  });
}

/** What would go where, before anything does. One column of one pasted column goes in at once.
 * @param {HTMLTableElement} table
 * @param {Map<string, string>} titles
 * @param {string[][]} lines
 * @param {string[]} columns
 * @param {boolean} headed
 * @param {(chosen: string[], rows: string[][]) => void} then
 */
function preview(table, titles, lines, columns, headed, then) {
  if (columns.length === 1 && !headed) { then(columns, lines); return; }
  const dialog = document.getElementById("paste");
  const head = dialog.querySelector("thead tr");
  const body = dialog.querySelector("tbody");
  const names = [...new Set(titles.values())].map((column) => [column, table.tHead.querySelector(`th[data-col="${column}"]`).textContent.trim()]);
  const widest = Math.max(...lines.map((/** @type {string[]} */ line) => line.length));
  head.replaceChildren(...Array.from({ length: widest }, (_, index) => {
    const th = document.createElement("th");
    const select = document.createElement("select");
    select.setAttribute("aria-label", told("What pasted column {number} holds", { number: index + 1 }));
    select.append(new Option(told("leave out"), ""), ...names.map(([value, title]) => new Option(title, value)));
    select.value = columns[index] || "";
    th.append(select);
    return th;
  }));
  const first = dialog.querySelector("[data-first]");
  first.checked = headed;
  const show = () => {
    const rows = first.checked ? lines.slice(1) : lines;
    body.replaceChildren(...rows.slice(0, 8).map((/** @type {string[]} */ line) => {
      const tr = document.createElement("tr");
      for (let index = 0; index < widest; index += 1) tr.insertCell().textContent = line[index] ?? "";
      return tr;
    }));
    const left = lines[0].filter((title, index) => first.checked && title && !head.querySelectorAll("select")[index]?.value);
    const many = rows.length === 1 ? told("one row") : told("{count} rows", { count: rows.length });
    dialog.querySelector("[data-many]").textContent = left.length ? `${many}. ${told("Left out: {titles}.", { titles: left.join(", ") })}` : many;
  };
  first.onchange = show;
  head.onchange = show;
  show();
  dialog.onclose = () => {
    if (dialog.returnValue !== "take") return;
    const chosen = [...head.querySelectorAll("select")].map((select) => select.value);
    then(chosen, first.checked ? lines.slice(1) : lines);
  };
  dialog.returnValue = "";
  dialog.showModal();
}

/**
 * @param {HTMLTableSectionElement} body
 * @param {HTMLTableRowElement} row
 * @param {string[][]} lines
 * @param {string[]} columns
 * @param {Hands} hands
 */
function put(body, row, lines, columns, hands) {
  /** @type {[Field, string][]} */
  const unknown = [];
  /** @type {any} */
  let last = null;
  for (const line of lines) {
    if (!row) break;
    line.forEach((/** @type {string} */ text, /** @type {number} */ index) => {
      const f = columns[index] && hands.cells(row).find((/** @type {Field} */ g) => hands.column(g) === columns[index]);
      if (!f || text === "") return;
      if (f.tagName !== "SELECT") f.value = text;
      else {
        const option = [...f.options].find((o) => plain(o.value) === plain(text) || plain(o.textContent) === plain(text));
        if (option) f.value = option.value;
        else unknown.push([f, text]);
      }
      last = f;
    });
    hands.own(row);
    row = row.nextElementSibling;
  }
  for (const [f, text] of unknown) askUnknown(f, text, hands);
  last?.focus();
  hands.changed();
}

/** The title of the column that a cell stands in. */
const columnTitle = (/** @type {Field} */ f) => f.closest("table").tHead.querySelector(`th[data-col="${f.closest("td").dataset.col}"]`).textContent.trim();

/** A text that is none of a cell's choices: the user says which.
 * @param {Field} f
 * @param {string} text
 * @param {Hands} hands
 */
function askUnknown(f, text, hands) {
  f.dataset.asked = "1";
  f.setAttribute("aria-invalid", "true");
  f.title = told("“{text}” is none of the choices.", { text });
  const box = document.createElement("p");
  const row = f.closest("tr");
  const name = row.querySelector("input[name]")?.value || told("A row");
  document.getElementById("table-trouble").append(box);
  choice(box, told("{name}: “{text}” is not known for “{column}”; it stands at “{choice}” until you choose.", { name, text, column: columnTitle(f), choice: f.selectedOptions[0].textContent }), [
    [told("Choose"), () => { f.focus(); }],
    [told("Leave it so"), () => { answered(); f.focus(); }],
  ]);
  function answered() {
    box.remove();
    delete f.dataset.asked;
    f.removeAttribute("aria-invalid");
    f.removeAttribute("title");
  }
  f.addEventListener("change", answered, { once: true });
}
