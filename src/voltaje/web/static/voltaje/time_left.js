// The minutes that are left of a paper, counted down; as the time ends what is typed is sent. The
// server keeps the time: this only shows it.

const box = document.querySelector("[data-seconds-left]");
const ends = Date.now() + 1000 * Number(box.dataset.secondsLeft);
const SHORT = 5; // minutes from which on it is said louder

function tell() {
  const seconds = Math.max(0, (ends - Date.now()) / 1000);
  box.querySelector("[data-minutes]").textContent = String(Math.floor(seconds / 60));
  box.classList.toggle("short", seconds < 60 * SHORT);
  if (seconds > 0) { setTimeout(tell, Math.min(seconds, 5) * 1000 + 50); return; }
  const form = /** @type {HTMLFormElement} */ (document.querySelector("form[data-paper]"));
  if (form) form.requestSubmit(form.querySelector("button[value=save]")); else location.reload();
}
tell();
