// A longer look for the best spread: the seconds count, the best so far is shown as it is found, and
// it can be stopped with what there is.

import { told } from "./words.js";

const form = /** @type {HTMLFormElement | null} */ (document.querySelector("[data-longer]"));
const box = document.getElementById("balance-found");

/** @param {string} words */
const say = (words) => { form.querySelector("[data-told]").textContent = words; };

async function look() {
  const seconds = Number(new FormData(form).get("seconds"));
  const stop = form.querySelector("[data-stop]");
  const go = form.querySelector("[type=submit]");
  const giveUp = new AbortController();
  stop.hidden = false;
  go.disabled = true;
  stop.onclick = () => giveUp.abort();
  const began = performance.now();
  /** @type {any} the last line that was told */
  let last = null;
  const count = () => {
    const words = { gone: Math.floor((performance.now() - began) / 1000), seconds };
    if (last?.moves) say(told("{gone} s: the best after {moves} moves is found, and so on", { ...words, moves: last.moves }));
    else say(last ? told("{gone} s of {seconds} s: {best} {unit}, nothing below {bound} {unit}", { ...words, best: last.best, unit: last.unit, bound: last.bound }) : told("{gone} s of {seconds} s", words));
  };
  const clock = setInterval(count, 250);
  count();
  let ended = "", busy = "";
  try {
    const answer = await fetch(`${form.dataset.longer}&seconds=${seconds}`, { signal: giveUp.signal });
    if (answer.status === 429) busy = await answer.text();
    if (!answer.ok || !(answer.headers.get("content-type") || "").includes("ndjson")) throw new Error(String(answer.status));
    const reader = answer.body.pipeThrough(new TextDecoderStream()).getReader();
    let text = "";
    for (;;) {
      const { value, done } = await reader.read();
      if (done) break;
      text += value;
      const lines = text.split("\n");
      text = lines.pop();
      for (const line of lines) {
        last = JSON.parse(line);
        box.innerHTML = last.html;
      }
    }
    ended = last?.proven ? told("proven after {seconds} s", { seconds: last.seconds }) : told("the time was up: within {gap} of the best", { gap: last ? `${last.best} − ${last.bound} ${last.unit}` : "" });
  } catch (error) {
    ended = giveUp.signal.aborted ? told("stopped: the best so far stands below") : busy || told("No answer from the server: try again.");
  }
  clearInterval(clock);
  say(ended);
  stop.hidden = true;
  go.disabled = false;
}

form?.addEventListener("submit", (event) => { event.preventDefault(); look(); });
