// A line fits its connection: what does not fit is not offered, and a line that no longer fits when
// the connection changes goes back to “automatically”. The server refuses what still contradicts.

/** @param {string} line @param {string} connection */
export function fits(line, connection) {
  if (line === "auto" || !line) return true;
  if (connection === "three-phase") return line === "all";
  if (connection === "two-line") return line.includes("-");
  if (connection === "line-neutral") return !line.includes("-") && line !== "all";
  return true;
}

/** The control beside one, by the end of its name. @returns {HTMLSelectElement | null} */
const beside = (/** @type {HTMLSelectElement} */ f, /** @type {string} */ own, /** @type {string} */ other) => f.name.endsWith(own)
  ? document.querySelector(`select[name="${CSS.escape(f.name.slice(0, -own.length) + other)}"]`) : null;

/** @param {Event & On} event */
function offer(event) {
  const f = event.target;
  if (!(f instanceof HTMLSelectElement)) return;
  const connection = beside(f, "line", "connection");
  if (!connection) return;
  for (const option of f.options) option.hidden = option.disabled = option.value !== f.value && !fits(option.value, connection.value);
}

document.addEventListener("focusin", offer);
document.addEventListener("pointerdown", offer);
document.addEventListener("change", (event) => {
  const f = event.target;
  if (!(f instanceof HTMLSelectElement)) return;
  const line = beside(f, "connection", "line");
  if (line && !fits(line.value, f.value)) line.value = "auto";
}, true);
