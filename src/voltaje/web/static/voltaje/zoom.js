// A drawing in a window: dragged, zoomed by the wheel with Ctrl, by two fingers, by + and -, moved by
// arrows; its place is kept for the page.

const NEAREST = 220; // drawing units across
const FAR = 0.62; // px of a drawing unit below which only names are shown

/**
 * @param {any} box the window
 * @param {any} svg
 * @param {{key?: string, wheel?: "ctrl" | "plain"}} [how] `key`: where its place is kept
 */
export function zoomable(box, svg, how = {}) {
  const own = svg.viewBox.baseVal;
  const full = { x: own.x, y: own.y, width: own.width, height: own.height };
  const view = { ...full };
  /** @type {Map<number, {x: number, y: number}>} */
  const hands = new Map();
  /** @type {any} where the hand took hold of it */
  let held = null;

  // at least a fifth of the window always shows some of the drawing
  const within = (/** @type {number} */ at, /** @type {number} */ size, /** @type {number} */ whole) => Math.min(whole - size * 0.2, Math.max(-size * 0.8, at));
  function show() {
    view.x = within(view.x, view.width, full.width);
    view.y = within(view.y, view.height, full.height);
    svg.setAttribute("viewBox", `${view.x} ${view.y} ${view.width} ${view.height}`);
    svg.classList.toggle("far", box.getBoundingClientRect().width / view.width < FAR);
    if (how.key) try { sessionStorage.setItem(how.key, JSON.stringify(view)); } catch { /* for this page */ }
  }

  /** All of it, as large as the window takes it. */
  function fit() {
    const room = box.getBoundingClientRect();
    const scale = Math.max(full.width / room.width, full.height / room.height) || 1;
    view.width = room.width * scale;
    view.height = room.height * scale;
    view.x = full.x + (full.width - view.width) / 2;
    view.y = full.y + (full.height - view.height) / 2;
    show();
  }

  /** All of it where that can be read, else its whole width from the top, or what of it can be read. */
  function begin() {
    const room = box.getBoundingClientRect();
    fit();
    if (room.width / view.width >= FAR) return;
    const scale = Math.min(full.width / room.width, 0.99 / FAR);
    Object.assign(view, { x: full.x, y: full.y, width: room.width * scale, height: room.height * scale });
    show();
  }

  /** @param {number} by */
  function zoom(by, cx = view.x + view.width / 2, cy = view.y + view.height / 2) {
    const widest = Math.max(full.width, view.width / view.height * full.height) * 1.6;
    const width = Math.min(widest, Math.max(NEAREST, view.width * by));
    const scale = width / view.width;
    view.x = cx - (cx - view.x) * scale;
    view.y = cy - (cy - view.y) * scale;
    view.width = width;
    view.height *= scale;
    show();
  }

  /** Where a point of the window is in the drawing. @param {number} x @param {number} y */
  function at(x, y) {
    const room = svg.getBoundingClientRect();
    return /** @type {[number, number]} */ ([view.x + view.width * (x - room.left) / room.width, view.y + view.height * (y - room.top) / room.height]);
  }

  const apart = () => { const [a, b] = [...hands.values()]; return Math.hypot(a.x - b.x, a.y - b.y); };
  const between = () => { const [a, b] = [...hands.values()]; return /** @type {[number, number]} */ ([(a.x + b.x) / 2, (a.y + b.y) / 2]); };

  // a link that comes into focus by a key comes into view; under a pointer nothing moves
  svg.addEventListener("focusin", (/** @type {any} */ event) => {
    if (!event.target.matches(":focus-visible")) return;
    const room = event.target.getBBox?.();
    if (!room) return;
    if (room.x < view.x || room.x + room.width > view.x + view.width) view.x = room.x - view.width / 4;
    if (room.y < view.y || room.y + room.height > view.y + view.height) view.y = room.y - view.height / 3;
    show();
  });
  box.addEventListener("wheel", (/** @type {any} */ event) => {
    if (!event.ctrlKey && how.wheel !== "plain") return;
    event.preventDefault();
    zoom(event.deltaY > 0 ? 1.15 : 0.87, ...at(event.clientX, event.clientY));
  }, { passive: false });
  box.addEventListener("pointerdown", (/** @type {any} */ event) => {
    if (event.target.closest("a")) return;
    hands.set(event.pointerId, { x: event.clientX, y: event.clientY });
    held = hands.size === 2 ? { apart: apart() } : { x: event.clientX, y: event.clientY, at: { ...view } };
    box.setPointerCapture(event.pointerId);
  });
  box.addEventListener("pointermove", (/** @type {any} */ event) => {
    if (!hands.has(event.pointerId)) return;
    hands.set(event.pointerId, { x: event.clientX, y: event.clientY });
    if (hands.size === 2) {
      const now = apart();
      if (held.apart && now) zoom(held.apart / now, ...at(...between()));
      held = { apart: now };
    } else if (held?.at) {
      const scale = view.width / svg.getBoundingClientRect().width;
      view.x = held.at.x - (event.clientX - held.x) * scale;
      view.y = held.at.y - (event.clientY - held.y) * scale;
      show();
    }
  });
  for (const name of ["pointerup", "pointercancel"]) {
    box.addEventListener(name, (/** @type {any} */ event) => { hands.delete(event.pointerId); held = null; });
  }
  box.addEventListener("keydown", (/** @type {any} */ event) => {
    const step = view.width / 8;
    /** @type {Record<string, number[]>} */
    const moves = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] };
    const move = moves[event.key];
    if (move) { event.preventDefault(); view.x += move[0]; view.y += move[1]; show(); }
    if (event.key === "+") zoom(0.75);
    if (event.key === "-") zoom(1 / 0.75);
    if (event.key === "0") fit();
  });

  let kept = null;
  try { kept = how.key && JSON.parse(sessionStorage.getItem(how.key) || "null"); } catch { /* as a whole */ }
  if (kept && kept.width > 0 && kept.height > 0) { Object.assign(view, kept); show(); } else begin();
  return {
    fit,
    /** @param {string} name */
    press(name) {
      if (name === "in") zoom(0.75);
      if (name === "out") zoom(1 / 0.75);
      if (name === "all") fit();
    },
    whole() { Object.assign(view, full); show(); },
  };
}
