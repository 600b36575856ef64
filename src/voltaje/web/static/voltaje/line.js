// A whole line typed in one field, read into the entries of an empty item.

import { set } from "./entries.js";
import { told } from "./words.js";

/** @type {any} */
const field = document.getElementById("one-line");
const says = document.getElementById("one-line-says");

async function read() {
  if (!field.value.trim()) return;
  let found;
  try {
    const answer = await fetch(field.dataset.at, { method: "POST", body: new URLSearchParams({ q: field.value }), headers: JSON.parse(document.body.getAttribute("hx-headers")) });
    found = answer.ok ? await answer.json() : null;
  } catch { found = null; }
  if (!found) { says.textContent = told("The line was not read: there is no connection. What you typed stays."); return; }
  const names = Object.keys(found.entries);
  for (const name of names) set(name, found.entries[name]);
  const left = found.unread.length ? told("Not taken: {figures}.", { figures: found.unread.join(", ") }) : "";
  says.textContent = names.length ? `${told("Put into the entries below.")} ${left}` : told("Nothing of it is known here. Type the entries below.");
}

field?.addEventListener("keydown", (/** @type {any} */ event) => {
  if (event.key !== "Enter") return;
  event.preventDefault();
  read();
});
field?.addEventListener("change", read);
