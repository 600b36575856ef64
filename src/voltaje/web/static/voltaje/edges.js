// Edges between the zones of a page: dragged, moved by arrows, put back by a double press, remembered.

const STEP = 16; // px of an arrow

/**
 * @param {any} edge a separator inside the zone that it sizes
 * @param {string} property the page's variable that holds the size
 * @param {number} usual
 * @param {(x: number, y: number) => number} sizeAt the size that the pointer asks for
 * @param {(px: number) => number} [step] the size's units of so many pixels
 */
function movable(edge, property, usual, sizeAt, step = (px) => px) {
  const sheet = edge.closest("[data-sheet]");
  const key = `voltaje:${property}`;
  const unit = edge.getAttribute("aria-orientation") === "vertical" ? "px" : "%";
  const size = () => Number(edge.getAttribute("aria-valuenow"));

  /** @param {number} to @param {boolean} keep */
  const put = (to, keep) => {
    const least = Number(edge.getAttribute("aria-valuemin")), most = Number(edge.getAttribute("aria-valuemax"));
    const at = Math.round(Math.min(most, Math.max(least, to)));
    sheet.style.setProperty(property, `${at}${unit}`);
    edge.setAttribute("aria-valuenow", String(at));
    if (keep) try { localStorage.setItem(key, String(at)); } catch { /* stays for this page */ }
  };

  edge.addEventListener("pointerdown", (/** @type {any} */ event) => {
    if (event.button !== 0) return;
    event.preventDefault();
    edge.focus();
    edge.setPointerCapture(event.pointerId);
    const move = (/** @type {any} */ moved) => put(sizeAt(moved.clientX, moved.clientY), true);
    edge.addEventListener("pointermove", move);
    edge.addEventListener("lostpointercapture", () => edge.removeEventListener("pointermove", move), { once: true });
  });
  edge.addEventListener("keydown", (/** @type {any} */ event) => {
    const by = ["ArrowLeft", "ArrowUp"].includes(event.key) ? -1 : ["ArrowRight", "ArrowDown"].includes(event.key) ? 1 : 0;
    if (!by || event.altKey || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    put(size() + by * step(STEP), true);
  });
  edge.addEventListener("dblclick", () => put(usual, true));
  let kept = 0;
  try { kept = Number(localStorage.getItem(key)); } catch { /* the usual size */ }
  if (kept) put(kept, false);
}

const tree = document.querySelector(".tree-edge");
if (tree) movable(tree, "--tree", 220, (x) => x - tree.parentElement.getBoundingClientRect().left);
const split = document.querySelector(".split-edge");
if (split) {
  const whole = () => split.closest("[data-sheet]").getBoundingClientRect();
  movable(split, "--above", 46, (_, y) => ((y - whole().top) / whole().height) * 100, (px) => (px / whole().height) * 100);
}
