// The queue between a page and the server: one request at a time, in order, each with its number;
// what failed is sent again after a while, ever longer; every state is told.

import { nextTurn, tab } from "./tab.js";
import { told } from "./words.js";

const TIME_OUT = 20_000;
const FIRST_WAIT = 1_000;
const LONGEST_WAIT = 30_000;
const KEEPALIVE_MOST = 60_000;

/** @typedef {[string, string][]} Pairs */

export class Keeper {
  /**
   * @param {{url: string, collect: (all: boolean, turn: number) => {pairs: Pairs, sent: any} | null,
   *   settled: (state: any, page: Document, sent: any) => void,
   *   refused: (words: string, gone: boolean) => void,
   *   tell: (words: string, state: string) => void}} face
   */
  constructor(face) {
    this.face = face;
    this.token = JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
    /** idle, keeping, waiting (for the next try), refused, signed out */
    this.state = "idle";
    this.wait = FIRST_WAIT;
    this.timer = 0;
    this.all = false;
    this.busy = false;
    /** @type {any[]} */
    this.acts = [];
    this.last = "";
    window.addEventListener("online", () => this.again());
    window.addEventListener("pagehide", () => this.leave());
    document.addEventListener("visibilitychange", () => { if (document.visibilityState === "hidden") this.poke(true); });
  }

  /** Something has changed: it is sent as soon as the line is free. `all`: also what is being typed. */
  poke(all = false) {
    this.all ||= all;
    if (this.state === "signed out" || this.timer) return;
    this.run();
  }

  /** Tries at once what waits for its next try. */
  again() {
    if (!this.timer) return;
    clearTimeout(this.timer);
    this.timer = 0;
    this.run();
  }

  /** An act such as undo, once everything typed is kept. Resolves with the page's new state, or
   * with null where it could not be done.
   * @param {string} url @param {Pairs} [pairs] @returns {Promise<any>} */
  act(url, pairs = []) {
    return new Promise((done) => {
      this.acts.push({ url, pairs, turn: 0, done });
      if (this.state === "waiting") this.again();
      else this.poke(true);
    });
  }

  async run() {
    if (this.busy) return;
    this.busy = true;
    try {
      while (await this.step());
    } finally {
      this.busy = false;
    }
  }

  /** Sends what is next. Whether there may be more. */
  async step() {
    const begun = this.acts[0];
    if (begun?.turn) return this.doAct(begun); // sent before, without an answer: it goes first
    const turn = nextTurn();
    const what = this.face.collect(this.all || this.acts.length > 0, turn);
    this.all = false;
    if (what) {
      const text = JSON.stringify(what.pairs);
      if (text === this.last) return false; // the server has taken it and it is still there
      const answer = await this.send(this.face.url, what.pairs, turn);
      if (!answer) return false;
      this.last = text;
      this.face.settled(answer.state, answer.page, what.sent);
      return true;
    }
    this.last = "";
    if (!begun) return false;
    begun.turn = turn;
    return this.doAct(begun);
  }

  /** @param {any} act */
  async doAct(act) {
    const answer = await this.send(act.url, act.pairs, act.turn);
    if (!answer && this.timer) return false; // tried again later
    if (this.acts[0] === act) this.acts.shift();
    if (answer) this.face.settled(answer.state, answer.page, null);
    act.done(answer ? answer.state : null);
    return Boolean(answer);
  }

  /** One request. null where it failed; what then is to be done is told and begun.
   * @param {string} url @param {Pairs} pairs @param {number} turn */
  async send(url, pairs, turn) {
    this.state = "keeping";
    this.face.tell(told("keeping…"), this.state);
    const stop = new AbortController();
    const clock = setTimeout(() => stop.abort(), TIME_OUT);
    let answer, text;
    try {
      answer = await fetch(url, { method: "POST", body: this.body(pairs, turn), headers: this.headers(), signal: stop.signal });
      text = await answer.text();
    } catch {
      return this.failed(stop.signal.aborted ? told("no answer") : told("no connection"));
    } finally {
      clearTimeout(clock);
    }
    if (answer.status >= 500) return this.failed(told("a fault of the server"));
    if (answer.status === 429) return this.failed(told("too many requests"));
    if (!answer.ok) return this.refused(text, answer.status);
    const page = new DOMParser().parseFromString(text, "text/html");
    const holder = page.getElementById("state");
    if (!holder) { // the sign-in page came instead: what is typed stays here as a draft
      this.state = "signed out";
      this.face.tell(told("not kept: signed out"), this.state);
      for (const act of this.acts.splice(0)) act.done(null);
      return null;
    }
    this.state = "idle";
    this.wait = FIRST_WAIT;
    return { state: JSON.parse(holder.dataset.state), page };
  }

  /**
   * @param {string} why
   * @returns {null}
   */
  failed(why) {
    this.state = "waiting";
    const seconds = Math.round(this.wait / 1000);
    this.face.tell(told("not kept yet: {why}; tried again in {seconds} s", { why, seconds }), this.state);
    this.timer = setTimeout(() => { this.timer = 0; this.run(); }, this.wait);
    this.wait = Math.min(LONGEST_WAIT, this.wait * 2);
    return null;
  }

  /**
   * @param {string} text
   * @param {number} status
   * @returns {null}
   */
  refused(text, status) {
    let words = status === 403 ? told("This page is too old to be kept: reload it.") : told("The server did not take it.");
    let gone = status === 404;
    try { ({ words, gone } = JSON.parse(text)); } catch { /* a page instead of a reason */ }
    this.state = "refused";
    this.face.tell(told("not kept"), this.state);
    this.face.refused(words, gone);
    for (const act of this.acts.splice(0)) act.done(null);
    return null;
  }

  /** The page goes: what is not kept yet is sent on its way. The draft stays for the next visit. */
  leave() {
    if (this.state === "signed out") return;
    const turn = nextTurn();
    const what = this.face.collect(true, turn);
    if (!what) return;
    const body = this.body(what.pairs, turn);
    if (body.toString().length > KEEPALIVE_MOST) return;
    fetch(this.face.url, { method: "POST", body, headers: this.headers(), keepalive: true }).catch(() => {});
  }

  /**
   * @param {[string, string][]} pairs
   * @param {number} turn
   */
  body(pairs, turn) {
    return new URLSearchParams([...pairs, ["tab", tab], ["turn", String(turn)]]);
  }

  headers() {
    return { "X-CSRFToken": this.token, "HX-Request": "true" };
  }
}
