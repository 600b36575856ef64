// says so where the server did not answer a press; what the page holds stays as it is
const events = ["htmx:responseError", "htmx:sendError", "htmx:timeout"];

/** @param {boolean} hidden */
function show(hidden) {
  for (const words of document.querySelectorAll("[data-unanswered]")) {
    if (words instanceof HTMLElement) words.hidden = hidden;
  }
}

for (const name of events) document.addEventListener(name, () => show(false));
document.addEventListener("htmx:beforeRequest", () => show(true));
