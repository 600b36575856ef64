// What the pages' scripts may count on beyond the browser's own types. A selector says better than
// a type what is found, so what is found is not checked for what it is: names, calls and their
// arguments are.

interface ParentNode {
  querySelector(selectors: string): any;
  querySelectorAll(selectors: string): NodeListOf<any>;
}
interface Document {
  getElementById(id: string): any;
  readonly activeElement: any;
}
interface DocumentFragment {
  getElementById(id: string): any;
}
interface Element {
  closest(selectors: string): any;
  readonly children: HTMLCollectionOf<any>;
  readonly nextElementSibling: any;
  readonly previousElementSibling: any;
  readonly parentElement: any;
  readonly firstElementChild: any;
  readonly lastElementChild: any;
}
interface Node {
  cloneNode(deep?: boolean): any;
}
interface Event {
  readonly target: any;
  readonly currentTarget: any;
  readonly relatedTarget: any;
  readonly detail: any; // htmx tells in it what was asked and answered
  readonly submitter: any;
}
interface EventTarget {
  closest(selectors: string): any;
  matches(selectors: string): boolean;
}
interface Window {
  htmx: any;
  voltaje: any; // what the scripts of a page say to one another
}
declare const htmx: any;

/** A field of a form: typed into or chosen from. */
type Field = HTMLInputElement & Pick<HTMLSelectElement, "options" | "selectedIndex" | "selectedOptions">;

/** A wrong entry: where it stands and what would be accepted. */
interface Problem {
  path: string;
  words: string;
}

/** An entry that another tab has changed since. */
interface Conflict {
  path: string;
  theirs: string;
  [name: string]: any;
}

/** What is typed and not kept yet, as the browser keeps it for the next visit: of each entry the
 * text, what it started from, what was sent before and with which turn. */
interface Draft {
  texts: Record<string, Typed>;
  made?: string[];
  dropped?: [string, [string, string[]][]][];
  refused?: string;
  tab?: string;
  key?: string;
  at?: number;
  token?: string;
}
type Typed = [text: string, base: string, before?: string[], turn?: number];

/** What was sent: the text of each entry by its path, rows that were made, rows taken out. */
interface Sent {
  texts: any;
  made: Iterable<string>;
  gone: string[];
}

/** What the server says of the page after an act, see `kept_response` in part_views.py. */
interface PageState {
  seq: string;
  revision: number;
  problems: Problem[];
  conflicts: Conflict[];
  values: Record<string, string>;
  rows: Record<string, string[]>;
  [name: string]: any;
}

/** A row of joints with its nets, see joints.js. */
interface JointRow {
  path: string;
  nets: string[][];
}

/** How a table that takes a paste is written, see paste.js. */
interface Hands {
  cells(row: Element): Field[];
  column(f: Field): string;
  [name: string]: any;
}

/** An event whose element is known to the script by its selector. */
interface On {
  readonly target: any;
  readonly currentTarget: any;
  readonly relatedTarget?: any;
}
