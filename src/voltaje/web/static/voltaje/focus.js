// What is put anew keeps the hand where it was: the same control is in focus after as before.

const MARKS = ["id", "name", "href", "value", "data-sets", "data-clamp", "data-end", "data-open-line", "data-view", "data-fold", "data-zoom", "aria-label"];

/** @param {Element} el */
function signature(el) {
  // a device keeps its key whatever is told of it
  if (el.hasAttribute("data-seat")) return `${el.tagName}|${el.getAttribute("data-seat")}`;
  return el.tagName + MARKS.map((mark) => `|${el.getAttribute(mark) ?? ""}`).join("");
}

/** Where the focus is inside a box, so that it can be found again. Call `back` afterwards.
 * @param {Element} box */
export function remember(box) {
  const active = document.activeElement;
  if (!active || active === document.body || !box.contains(active)) return () => {};
  const mark = signature(active);
  const nth = [...box.querySelectorAll(active.tagName)].filter((el) => signature(el) === mark).indexOf(active);
  return () => {
    const same = [...box.querySelectorAll(active.tagName)].filter((el) => signature(el) === mark);
    const found = same[nth] || same[0];
    if (found) /** @type {HTMLElement} */ (found).focus({ preventScroll: true });
  };
}

/** @param {Element} box @param {string} html */
export function put(box, html) {
  const back = remember(box);
  box.innerHTML = html;
  window.htmx?.process(box);
  back();
}

/** The same control again after it was put anew somewhere else in the page. @param {Element} lost */
export function findAgain(lost) {
  const mark = signature(lost);
  return [...document.querySelectorAll(lost.tagName)].find((el) => signature(el) === mark);
}
