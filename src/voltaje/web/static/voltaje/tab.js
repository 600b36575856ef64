// This tab's name, the numbers of its requests, and its drafts: what is typed and not yet kept
// outlives a reload, a lost connection and a closed tab.

const NAME = "voltaje:tab";
const TURN = "voltaje:turn";
const LETTERS = "abcdefghijklmnopqrstuvwxyz0123456789";

/** @param {number} length */
function letters(length) {
  return [...crypto.getRandomValues(new Uint8Array(length))].map((b) => LETTERS[b % 36]).join("");
}

/** A row's id on a sheet. */
export const newRowId = () => "n" + letters(11);

/** An id for what is made here, so that asked for twice it is made once. */
export function newId() {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = (b[6] & 0x0f) | 0x40;
  b[8] = (b[8] & 0x3f) | 0x80;
  const hex = [...b].map((n) => n.toString(16).padStart(2, "0")).join("");
  return [hex.slice(0, 8), hex.slice(8, 12), hex.slice(12, 16), hex.slice(16, 20), hex.slice(20)].join("-");
}

/** @param {"sessionStorage" | "localStorage"} name @returns {Storage | null} */
function store(name) {
  try {
    /** @type {Storage} */
    const found = window[name];
    found.getItem(NAME);
    return found;
  } catch {
    return null; // storage is switched off: the page itself still holds the texts
  }
}
const session = store("sessionStorage");
const local = store("localStorage");

/** The tabs that are open: each holds a lock of its name for as long as it lives. */
async function openTabs() {
  try {
    return new Set((await navigator.locks.query()).held.map((lock) => lock.name));
  } catch {
    return new Set();
  }
}

async function ownName() {
  let name = session?.getItem(NAME) || letters(16);
  if ((await openTabs()).has(`${NAME}:${name}`)) {
    // the page before this one may still be leaving; if not, this tab is a copy of another
    await new Promise((done) => setTimeout(done, 80));
    if ((await openTabs()).has(`${NAME}:${name}`)) name = letters(16);
  }
  session?.setItem(NAME, name);
  navigator.locks?.request(`${NAME}:${name}`, () => new Promise(() => {})).catch(() => {});
  return name;
}

export const tab = await ownName();

let last = 0;
/** The number of the next request. It rises over reloads too. */
export function nextTurn() {
  last = Math.max(Date.now(), last + 1, Number(session?.getItem(TURN) || 0) + 1);
  session?.setItem(TURN, String(last));
  return last;
}

/** The draft of one thing (a part, a quick sheet) in this tab. */
export class Drafts {
  /** @param {string} what */
  constructor(what) {
    this.prefix = `voltaje:draft:${what}:`;
    this.key = this.prefix + tab;
  }

  /** @param {Draft | null} draft */
  keep(draft) {
    try {
      if (draft) local?.setItem(this.key, JSON.stringify({ ...draft, at: Date.now(), tab }));
      else local?.removeItem(this.key);
    } catch { /* full: the page itself still holds the texts */ }
  }

  /** This tab's own draft, and those that closed tabs have left, at most so many, the newest first.
   * They are this tab's from now on. @returns {Promise<Draft[]>} */
  async take(most = Infinity) {
    if (!local) return [];
    const open = await openTabs();
    const found = [];
    for (const key of Object.keys(local)) {
      if (!key.startsWith(this.prefix)) continue;
      if (key !== this.key && open.has(`${NAME}:${key.slice(this.prefix.length)}`)) continue;
      try {
        const draft = JSON.parse(local.getItem(key));
        if (draft?.texts) found.push({ made: [], dropped: [], refused: "", tab: key.slice(this.prefix.length), ...draft, key });
        else local.removeItem(key);
      } catch { local.removeItem(key); /* unreadable: none */ }
    }
    // one's own comes before those of other tabs
    const order = (/** @type {Draft} */ draft) => (draft.key === this.key ? Infinity : draft.at);
    const taken = found.sort((a, b) => order(b) - order(a)).slice(0, most);
    for (const draft of taken) local.removeItem(draft.key);
    return taken;
  }

  /** Forgets the drafts of this thing, those of closed tabs too. */
  async clear() {
    await this.take();
  }
}
