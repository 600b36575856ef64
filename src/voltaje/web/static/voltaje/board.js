// A board's table of circuits: type down a column, paste from a spreadsheet; each change is kept
// and every row's result comes back.
"use strict";

{
  const table = document.getElementById("circuits");
  const body = table.tBodies[0];
  const blankRow = body.lastElementChild.cloneNode(true);
  const draftKey = "voltaje:table:" + table.dataset.draft;
  const token = JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
  const RETRY_AFTER = 4000;
  let saving = false;
  let again = false;
  let next = 0;

  const cells = (root = body) => [...root.querySelectorAll("input[name], select[name]")];
  const isDirty = (f) => f.value !== f.dataset.base;
  const byName = (name) => body.querySelector(`[name="${CSS.escape(name)}"]`);
  const column = (f) => f.name.split(":")[1];
  const rowOf = (f) => f.closest("tr");
  const say = (words) => { document.getElementById("table-note").textContent = words; };

  function typed(row) {
    return cells(row).some((f) => ["name", "load", "length"].includes(column(f)) && f.value.trim());
  }

  // a row that was typed into gets a key of its own, and an empty one comes after it
  function ownKey(row) {
    if (row.dataset.part !== "new" || !typed(row)) return;
    next += 1;
    row.dataset.part = "new" + next;
    for (const f of cells(row)) f.name = f.name.replace("new:", row.dataset.part + ":");
    body.append(blankRow.cloneNode(true));
  }

  function dirty() {
    return cells().filter((f) => {
      const row = rowOf(f);
      if (row.dataset.part === "new") return false;
      if (row.dataset.part.startsWith("new")) return true;
      return isDirty(f) && !f.dataset.conflict;
    });
  }

  function keepDraft() {
    const texts = Object.fromEntries(dirty().map((f) => [f.name, [f.value, f.dataset.base]]));
    try {
      if (Object.keys(texts).length) localStorage.setItem(draftKey, JSON.stringify(texts));
      else localStorage.removeItem(draftKey);
    } catch { /* no storage: the page itself still holds the texts */ }
  }

  function takeDraft() {
    let texts = null;
    try { texts = JSON.parse(localStorage.getItem(draftKey)); } catch { /* unreadable: none */ }
    if (!texts) return false;
    const made = {};
    for (const [name, [text, base]] of Object.entries(texts)) {
      let [key, col] = name.split(":");
      if (key.startsWith("new")) {
        if (!made[key]) {
          made[key] = body.lastElementChild;
          next += 1;
          const own = "new" + next;
          made[key].dataset.part = own;
          for (const f of cells(made[key])) f.name = f.name.replace("new:", own + ":");
          body.append(blankRow.cloneNode(true));
        }
        key = made[key].dataset.part;
      }
      const f = byName(key + ":" + col);
      if (!f) continue;
      f.value = text;
      f.dataset.base = base;
    }
    return true;
  }

  async function save(dropped = []) {
    if (saving) { again = again || true; if (dropped.length) pending.push(...dropped); return; }
    const changed = dirty();
    if (!changed.length && !dropped.length) return;
    saving = true;
    say("keeping…");
    const form = new FormData();
    for (const f of changed) {
      form.append("cell:" + f.name, f.value);
      if (!f.name.startsWith("new")) form.append("base:" + f.name, f.dataset.base);
    }
    for (const key of dropped) form.append("drop", key);
    const sent = new Map(changed.map((f) => [f.name, f.value]));
    let answer = null;
    try {
      answer = await fetch(table.dataset.save, { method: "POST", body: form, headers: { "X-CSRFToken": token, "HX-Request": "true" } });
    } catch { /* no connection: tried again below */ }
    saving = false;
    keepDraft();
    if (!answer || answer.status >= 500) {
      say("not kept: no connection");
      setTimeout(() => save(dropped), RETRY_AFTER);
      return;
    }
    const doc = new DOMParser().parseFromString(await answer.text(), "text/html");
    const holder = doc.getElementById("board-state");
    if (!holder) { // refused, or the sign-in page came instead: what is typed stays here
      trouble(answer.ok ? "You were signed out. What you typed waits in this browser." : "Not kept.", answer.ok ? "Sign in again" : "Reload the page");
      return;
    }
    show(JSON.parse(holder.dataset.state), doc, sent, dropped);
    if (again || pending.length) { again = false; save(pending.splice(0)); }
  }
  const pending = [];

  function trouble(words, link) {
    const box = document.getElementById("table-trouble");
    const a = document.createElement("a");
    a.href = location.pathname;
    a.textContent = link;
    box.replaceChildren(words + " ", a);
    say("not kept");
  }

  function swapRow(row, html) {
    const box = document.createElement("tbody");
    box.innerHTML = html;
    const fresh = box.firstElementChild;
    const active = row.contains(document.activeElement) ? column(document.activeElement) : "";
    row.replaceWith(fresh);
    if (active) cells(fresh).find((f) => column(f) === active)?.focus();
  }

  function show(state, doc, sent, dropped) {
    for (const [from, to] of Object.entries(state.made)) {
      const row = body.querySelector(`tr[data-part="${from}"]`);
      if (row && state.rows[to]) swapRow(row, state.rows[to]);
    }
    for (const [key, html] of Object.entries(state.rows)) {
      const row = body.querySelector(`tr[data-part="${key}"]`);
      if (row && !Object.values(state.made).includes(key)) swapRow(row, html);
    }
    for (const key of dropped) body.querySelector(`tr[data-part="${key}"]`)?.remove();
    const clashing = new Set(state.conflicts.map((c) => c.cell));
    for (const [name, kept] of Object.entries(state.values)) {
      const f = byName(name);
      if (!f || clashing.has(name)) continue;
      const untouched = f.value === f.dataset.base || f.value === sent.get(name);
      f.dataset.base = kept;
      if (untouched && f !== document.activeElement) f.value = kept;
      else if (untouched) f.dataset.typed = f.value;
    }
    for (const f of cells()) {
      const words = state.problems[f.name];
      if (words) { f.setAttribute("aria-invalid", "true"); f.title = words; }
      else { f.removeAttribute("aria-invalid"); f.removeAttribute("title"); }
    }
    for (const [key, found] of Object.entries(state.answers)) {
      const row = body.querySelector(`tr[data-part="${key}"]`);
      if (!row) continue;
      for (const td of row.querySelectorAll("[data-out]")) { td.textContent = found[td.dataset.out] || ""; if (td.dataset.out === "words") td.title = found.words; }
    }
    for (const part of doc.querySelectorAll("[data-for]")) {
      const target = document.getElementById(part.dataset.for);
      if (!target) continue;
      target.innerHTML = part.innerHTML;
      htmx.process(target);
    }
    for (const link of body.querySelectorAll("td.n a")) {
      const key = rowOf(link).dataset.part;
      const shape = document.querySelector(`[data-shape="${key}"]`);
      if (shape) link.innerHTML = shape.innerHTML;
    }
    for (const clash of state.conflicts) ask(clash);
    document.getElementById("revision").textContent = state.revision;
    document.getElementById("kept").textContent = "kept " + state.kept;
    document.querySelector("#undo button").disabled = false;
    say("kept " + state.kept);
    keepDraft();
  }

  function ask({ cell, mine, theirs }) {
    const f = byName(cell);
    if (!f) return;
    const box = document.getElementById("table-trouble");
    const line = document.createElement("p");
    line.append(`${f.getAttribute("aria-label")}: another tab has kept “${theirs || "nothing"}”, this one says “${mine || "nothing"}”. `);
    f.dataset.conflict = "1";
    for (const [words, text] of [["Keep this one", mine], ["Take the other", theirs]]) {
      const button = document.createElement("button");
      button.type = "button";
      button.className = "link";
      button.textContent = words;
      button.addEventListener("click", () => {
        delete f.dataset.conflict;
        f.dataset.base = theirs;
        f.value = text;
        line.remove();
        save();
      });
      line.append(button, " ");
    }
    box.append(line);
  }

  body.addEventListener("input", (event) => { ownKey(rowOf(event.target)); keepDraft(); });
  body.addEventListener("change", () => save());
  body.addEventListener("focusout", (event) => {
    const f = event.target;
    if (f.dataset?.typed !== undefined && f.value === f.dataset.typed) f.value = f.dataset.base;
    if (f.dataset) delete f.dataset.typed;
  });

  function beside(f, by) {
    const rows = [...body.children];
    const row = rows[rows.indexOf(rowOf(f)) + by];
    return row && cells(row).find((g) => column(g) === column(f));
  }

  body.addEventListener("keydown", (event) => {
    const f = event.target;
    if (!f.matches("input, select")) return;
    if (event.altKey && event.code === "Backspace") {
      event.preventDefault();
      event.stopPropagation();
      const row = rowOf(f);
      const near = beside(f, 1) || beside(f, -1);
      if (row.dataset.part === "new") return;
      near?.focus();
      if (row.dataset.part.startsWith("new")) { row.remove(); keepDraft(); } else save([row.dataset.part]);
      return;
    }
    if (event.altKey || event.ctrlKey || event.metaKey) return;
    const by = event.key === "Enter" ? (event.shiftKey ? -1 : 1)
      : f.matches("input") && event.key === "ArrowDown" ? 1
      : f.matches("input") && event.key === "ArrowUp" ? -1 : 0;
    if (!by) return;
    event.preventDefault();
    if (isDirty(f)) save();
    const other = beside(f, by);
    if (other) { other.focus(); other.select?.(); }
  });

  function setCell(f, text) {
    if (f.tagName === "SELECT") {
      const wanted = text.trim().toLowerCase();
      const option = [...f.options].find((o) => o.value.toLowerCase() === wanted || o.textContent.trim().toLowerCase() === wanted);
      if (option) f.value = option.value;
    } else f.value = text.trim();
  }

  // cells copied in a spreadsheet come as lines with tabs between
  body.addEventListener("paste", (event) => {
    const text = event.clipboardData.getData("text/plain").replace(/\r/g, "").replace(/\n$/, "");
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const start = event.target;
    const order = [...new Set(cells(blankRow).map(column))];
    const first = order.indexOf(column(start));
    let row = rowOf(start);
    for (const line of text.split("\n")) {
      if (!row) break;
      line.split("\t").forEach((value, index) => {
        const f = cells(row).find((g) => column(g) === order[first + index]);
        if (f) setCell(f, value);
      });
      ownKey(row);
      row = row.nextElementSibling;
    }
    keepDraft();
    save();
  });

  window.addEventListener("beforeunload", keepDraft);
  if (takeDraft()) save();
}
