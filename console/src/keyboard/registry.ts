/** Every key of the console: where it acts, what it is called in code, and its words under `?`. */

export interface Binding {
  key: string;
  words: string;
}
interface Group {
  /** The heading under which its keys are listed. */
  heading: string;
  /** Scopes of one page can be active at the same time, so no two of them may have the same key. */
  page: string;
  keys: Record<string, Binding>;
}

const scope = <Keys extends Record<string, Binding>>(heading: string, page: string, keys: Keys) => ({
  heading,
  page,
  keys,
});

export const SCOPES = {
  frame: scope("Everywhere", "", {
    find: { key: "/", words: "find a serial, packet, person" },
    note: { key: "n", words: "note a packet" },
    today: { key: "t", words: "Today" },
    packets: { key: "p", words: "Packets" },
    assets: { key: "a", words: "Assets" },
    contracts: { key: "c", words: "Contracts" },
    ahead: { key: "h", words: "Looking ahead" },
    desks: { key: "d", words: "Desks" },
    overview: { key: "q", words: "Overview: how packets went" },
    notices: { key: "g", words: "Notices" },
    knowHow: { key: "w", words: "Know-how: articles, known issues, kits" },
    imports: { key: "i", words: "Imports" },
    keys: { key: "?", words: "this list" },
  }),
  table: scope("In lists", "list", { choose: { key: "x", words: "choose the row" } }),
  records: scope("In lists", "list", {
    edit: { key: "e", words: "change the chosen records" },
    merge: { key: "m", words: "merge the two chosen records" },
    add: { key: "+", words: "add a record" },
    release: { key: "Escape", words: "choose none" },
  }),
  todays: scope("On Today", "today", { others: { key: "o", words: "what others look after, too" } }),
  labels: scope("In lists", "list", { print: { key: "l", words: "print labels of the chosen assets" } }),
  notices: scope("On Notices", "notices", {
    readAll: { key: "y", words: "mark all as read" },
    unread: { key: "u", words: "only what was not read" },
  }),
  shelf: scope("In lists", "shelf", { add: { key: "+", words: "add a record" } }),
  accounts: scope("In lists", "accounts", { add: { key: "+", words: "add an account" } }),
  webhooks: scope("In lists", "webhooks", { add: { key: "+", words: "add a webhook" } }),
  asset: scope("On an asset or a contract", "asset", {
    move: { key: "v", words: "move the asset" },
    transfer: { key: "o", words: "list it on another entitlement" },
  }),
  contract: scope("On an asset or a contract", "contract", {
    renew: { key: "r", words: "renew the contract" },
    decide: { key: "e", words: "decide about the end of its term" },
  }),
  orderDocument: scope("On imports, order documents and statements", "order document", {
    enter: { key: "y", words: "enter the order document" },
  }),
  imported: scope("On imports, order documents and statements", "import", {
    apply: { key: "y", words: "apply the import" },
  }),
  statement: scope("On imports, order documents and statements", "statement", {
    choose: { key: "x", words: "choose the difference" },
    ours: { key: "o", words: "ours is right" },
    theirs: { key: "v", words: "the vendor is right" },
    ask: { key: "m", words: "make a packet that asks" },
    release: { key: "Escape", words: "choose none" },
  }),
  packet: scope("On a packet", "packet", {
    thing: { key: "1", words: "asset" },
    ruling: { key: "2", words: "ruling" },
    questions: { key: "3", words: "questions" },
    exhibits: { key: "4", words: "exhibits" },
    letter: { key: "5", words: "letter" },
    thread: { key: "6", words: "thread" },
    seal: { key: "s", words: "seal" },
    lodge: { key: "l", words: "lodge" },
    follow: { key: "f", words: "ask the desk for the status" },
    tryNow: { key: "y", words: "retry at once" },
  }),
  thread: scope("On the thread of a packet", "packet thread", {
    look: { key: "z", words: "note that you have seen all of it" },
  }),
  kits: scope("On a packet", "packet exhibits", { collect: { key: "k", words: "collect with a kit" } }),
  answer: scope("On the replies of a packet", "packet replies", { write: { key: "r", words: "write to the desk" } }),
  answerFiles: scope("On the replies of a packet", "packet replies", {
    add: { key: "+", words: "add files to the message" },
  }),
  actions: scope("On the replies of a packet", "packet replies", {
    more: { key: "m", words: "further acts on the case" },
  }),
  follows: scope("On the replies of a packet", "packet replies", {
    take: { key: "v", words: "take into the register what follows from the answer" },
    undo: { key: "u", words: "undo that" },
  }),
  legend: scope("On the replies of a packet", "packet replies", {
    open: { key: "o", words: "open the legend: read the replies in clear" },
  }),
  lines: scope("In the review of an exhibit", "packet review of lines", {
    next: { key: "j", words: "next finding" },
    previous: { key: "k", words: "previous finding" },
    view: { key: "v", words: "findings by value, or by line" },
    letGo: { key: "u", words: "let the value go out" },
    mask: { key: "m", words: "mask the selected text" },
    down: { key: "PageDown", words: "lines after" },
    up: { key: "PageUp", words: "lines before" },
  }),
  pages: scope("In the review of a picture or PDF", "packet review of pages", {
    next: { key: "j", words: "next finding" },
    previous: { key: "k", words: "previous finding" },
    view: { key: "v", words: "findings by value, or by page" },
    letGo: { key: "u", words: "let the value go out" },
    box: { key: "b", words: "draw a box; arrows move it" },
    cover: { key: "m", words: "cover the drawn boxes" },
    larger: { key: "+", words: "enlarge the page" },
    smaller: { key: "-", words: "reduce the page" },
    down: { key: "PageDown", words: "page after" },
    up: { key: "PageUp", words: "page before" },
  }),
} satisfies Record<string, Group>;

export type Scope = keyof typeof SCOPES;
export type ActionOf<Of extends Scope> = keyof (typeof SCOPES)[Of]["keys"] & string;

/** The key of an action. */
export function keyOf<Of extends Scope>(name: Of, action: ActionOf<Of>): string {
  return (SCOPES[name] as Group).keys[action]?.key ?? "";
}

/** The headings of the list under `?`, each with its keys; the same words once. */
export function headings(): [string, Binding[]][] {
  const found = new Map<string, Binding[]>([
    ["Everywhere", []],
    [
      "In lists",
      [
        { key: "↑ ↓", words: "move" },
        { key: "Enter", words: "open" },
      ],
    ],
  ]);
  for (const group of Object.values(SCOPES) as Group[]) {
    const known = found.get(group.heading) ?? [];
    const fresh = Object.values(group.keys).filter((one) => !known.some((other) => other.words === one.words));
    found.set(group.heading, [...known, ...fresh]);
  }
  return [...found];
}
