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
