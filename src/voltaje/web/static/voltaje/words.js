// The words of the page's scripts, in the reader's language: the page brings along those that are
// not English. Every sentence is one text with its figures named, so that it can be put otherwise.

/** @type {Object<string, string>} */
const table = JSON.parse(document.getElementById("words")?.textContent || "{}");

/**
 * A text of the program: `told("kept {time}", { time })`.
 * @param {string} words in English, written out where it is used
 * @param {Object<string, unknown>} [given]
 */
export function told(words, given = {}) {
  return (table[words] ?? words).replace(/\{(\w+)\}/g, (whole, name) => String(given[name] ?? whole));
}
