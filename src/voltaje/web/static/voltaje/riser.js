// The riser: drag to move it, buttons or the wheel to come nearer, arrows to walk.
"use strict";

{
  const window_ = document.getElementById("riser");
  const svg = document.getElementById("riser-drawing");
  if (svg) {
    const whole = svg.viewBox.baseVal;
    const full = { x: 0, y: 0, width: whole.width, height: whole.height };
    const view = { ...full };
    /** @type {any} where the hand took hold of it */
    let held = null;

    // at least a fifth of the window always shows some of the drawing
    const within = (/** @type {number} */ at, /** @type {number} */ size, /** @type {number} */ whole_) => Math.min(whole_ - size * 0.2, Math.max(-size * 0.8, at));
    function show() {
      view.x = within(view.x, view.width, full.width);
      view.y = within(view.y, view.height, full.height);
      svg.setAttribute("viewBox", `${view.x} ${view.y} ${view.width} ${view.height}`);
    }

    // a link that comes into focus by a key comes into view; under a pointer nothing moves
    svg.addEventListener("focusin", (/** @type {FocusEvent & On} */ event) => {
      if (!event.target.matches(":focus-visible")) return;
      const box = event.target.getBBox?.();
      if (!box) return;
      if (box.x < view.x || box.x + box.width > view.x + view.width) view.x = box.x - view.width / 4;
      if (box.y < view.y || box.y + box.height > view.y + view.height) view.y = box.y - view.height / 3;
      show();
    });

    function legible() { // about one drawing unit to a pixel, from the top left
      const box = window_.getBoundingClientRect();
      view.width = Math.min(full.width, box.width);
      view.height = view.width * box.height / box.width;
      view.x = 0;
      view.y = 0;
      show();
    }

    /** @param {number} by */
    function zoom(by, cx = view.x + view.width / 2, cy = view.y + view.height / 2) {
      const width = Math.min(full.width * 1.6, Math.max(220, view.width * by));
      const scale = width / view.width;
      view.x = cx - (cx - view.x) * scale;
      view.y = cy - (cy - view.y) * scale;
      view.width = width;
      view.height *= scale;
      show();
    }

    document.addEventListener("click", (event) => {
      const how = event.target.closest("[data-zoom]")?.dataset.zoom;
      if (how === "in") zoom(0.75);
      if (how === "out") zoom(1 / 0.75);
      if (how === "all") { Object.assign(view, full); show(); }
    });
    window_.addEventListener("wheel", (/** @type {WheelEvent & On} */ event) => {
      if (!event.ctrlKey) return;
      event.preventDefault();
      const box = svg.getBoundingClientRect();
      zoom(event.deltaY > 0 ? 1.15 : 0.87, view.x + view.width * (event.clientX - box.left) / box.width,
        view.y + view.height * (event.clientY - box.top) / box.height);
    }, { passive: false });
    window_.addEventListener("pointerdown", (/** @type {PointerEvent & On} */ event) => {
      if (event.target.closest("a")) return;
      held = { x: event.clientX, y: event.clientY, at: { ...view } };
      window_.setPointerCapture(event.pointerId);
    });
    window_.addEventListener("pointermove", (/** @type {PointerEvent & On} */ event) => {
      if (!held) return;
      const scale = view.width / svg.getBoundingClientRect().width;
      view.x = held.at.x - (event.clientX - held.x) * scale;
      view.y = held.at.y - (event.clientY - held.y) * scale;
      show();
    });
    window_.addEventListener("pointerup", () => { held = null; });
    window_.addEventListener("keydown", (/** @type {KeyboardEvent & On} */ event) => {
      const step = view.width / 8;
      const move = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
      if (move) { event.preventDefault(); view.x += move[0]; view.y += move[1]; show(); }
      if (event.key === "+") zoom(0.75);
      if (event.key === "-") zoom(1 / 0.75);
    });
    window.addEventListener("beforeprint", () => { Object.assign(view, full); show(); });
    legible();
  }
  document.querySelector("[data-print]")?.addEventListener("click", () => window.print());
}
