/**
 * Simulated authors, each with the room of the web application, in one process without a screen.
 *
 * Reads one line of JSON (`Orders`) from its input, then commands, a line each: `rest` (write no more; wait until all is
 * saved and all texts are the same, then print what was found, as JSON) and `figures` (print times so far, and begin anew).
 */
import * as Y from "yjs";
import { Room } from "../../src/workspace/room/room";
import { dice } from "../dice.mjs";

declare const process: {
  stdin: { setEncoding: (name: string) => void; on: (event: "data", heard: (text: string) => void) => void };
  stdout: { write: (text: string) => void };
  exit: (code: number) => never;
  memoryUsage: () => { rss: number };
};

interface Orders {
  /** Host and port. */
  host: string;
  report: string;
  /** The session of every author. */
  sessions: string[];
  /** Milliseconds between two actions of one author, on average. */
  pace: number;
  /** Whether they only type, or also move, mark, delete and undo. */
  typing: boolean;
  /** Whether they move sections, and type words into whatever there is. */
  moving?: boolean;
  seed: number;
}

/** Blocks at the start of the text that are never moved or deleted: what is typed there must be there at the end. */
const KEPT = 30;

const toStored: number[] = [];
const toOthers: number[] = [];

/** What each connection sent and has had confirmed, read off the wire: the room itself is not asked. */
class Wire extends WebSocket {
  private sent: { clock: number; at: number }[] = [];
  private confirmed = 0;

  constructor(address: string) {
    const author = authors[Number(new URL(address).searchParams.get("author"))] as Author;
    super(address, {
      headers: { cookie: `sessionid=${author.session}`, origin: `http://${new URL(address).host}` },
    } as unknown as string[]);
    this.author = author;
    this.addEventListener("message", (event) => {
      const { data } = event as { data: unknown };
      // Fifty browsers are fifty machines; here one shows the view for all of them.
      if (typeof data === "string" && data.startsWith('{"type": "changes"') && author !== authors[0]) event.stopImmediatePropagation();
      if (typeof data !== "string" || !data.startsWith('{"type": "stored"')) return;
      const { count } = JSON.parse(data) as { count: number };
      for (const { clock, at } of this.sent.slice(this.confirmed, count)) {
        author.confirmedClock = Math.max(author.confirmedClock, clock);
        author.confirmed += 1;
        toStored.push(performance.now() - at);
      }
      this.confirmed = count;
    });
  }

  private readonly author: Author;

  override send(data: Uint8Array<ArrayBuffer>): void {
    super.send(data);
    if (data[0] !== 0 || data[1] === 0) return;
    this.sent.push({ clock: this.author.clock(), at: performance.now() });
  }
}

class Author {
  readonly room: Room;
  readonly undo: Y.UndoManager;
  edits = 0;
  confirmed = 0;
  confirmedClock = 0;
  /** Words typed where nothing is ever taken out, and the clock after each. */
  words: { word: string; clock: number }[] = [];
  /** What the server said that it left out. */
  readonly leftOut = new Set<string>();
  private readonly random: () => number;
  private readonly own = {};
  private typed = 0;

  constructor(
    private readonly number: number,
    readonly session: string,
    private readonly orders: Orders,
  ) {
    this.random = dice(orders.seed + number);
    this.room = new Room(`${orders.report}?author=${number}`);
    this.undo = new Y.UndoManager(this.text, { trackedOrigins: new Set([this.own]), captureTimeout: 300 });
    this.room.subscribe(() => {
      const { leftOut, aside } = this.room.state;
      for (const why of [...leftOut, ...(aside ? [aside.why] : [])]) this.leftOut.add(why);
    });
    this.room.document.on("update", (_update: Uint8Array, origin: unknown) => {
      if (origin === this.own || origin === this.undo) {
        this.edits += 1;
        if (this.room.state.line === "live") written.set(this.room.document.clientID, { clock: this.clock(), at: performance.now() });
      }
    });
  }

  get text(): Y.XmlFragment {
    return this.room.document.getXmlFragment("text");
  }

  clock(): number {
    return Y.getState(this.room.document.store, this.room.document.clientID);
  }

  private below(count: number): number {
    return Math.floor(this.random() * count);
  }

  private change(what: () => void): void {
    this.room.document.transact(what, this.own);
  }

  private paragraphs(from: number, to: number): Y.XmlText[] {
    return this.text
      .toArray()
      .slice(from, to)
      .flatMap((block) => (block instanceof Y.XmlElement && block.nodeName === "paragraph" ? block.toArray() : []))
      .filter((child) => child instanceof Y.XmlText);
  }

  act(): void {
    if (!this.room.state.ready) return;
    if (this.orders.moving) {
      if (this.random() < 0.7) this.writeWord(0);
      else this.moveSection();
      return;
    }
    const kind = this.orders.typing ? 0 : this.random();
    if (kind < 0.66) this.type();
    else if (kind < 0.76) this.takeOut();
    else if (kind < 0.84) this.mark();
    else if (kind < 0.92) this.move();
    else if (kind < 0.97) this.undo.undo();
    else this.undo.redo();
  }

  /** One key of a word; words go into the kept blocks half of the time. */
  private type(): void {
    if (this.orders.typing || this.random() < 0.5) {
      const places = this.orders.typing ? this.paragraphs(0, this.text.length) : this.paragraphs(KEPT, this.text.length);
      const text = places[this.below(places.length)];
      if (text) this.change(() => text.insert(this.below(text.length + 1), "abcdefghij klmno"[this.below(16)] ?? "x"));
      return;
    }
    this.writeWord(0, KEPT);
  }

  private writeWord(from: number, to = this.text.length): void {
    const places = this.paragraphs(from, to);
    const text = places[this.below(places.length)];
    // All equally long: none begins like another, as hardly any two words do that two people write at one place.
    const word = ` w${this.number}x${String((this.typed += 1)).padStart(4, "0")} `;
    // In front, so that no other author's key falls into the word.
    this.room.document.transact(() => text?.insert(0, word), "never undone");
    this.edits += 1;
    if (text) this.words.push({ word, clock: this.clock() });
  }

  private takeOut(): void {
    const places = this.paragraphs(KEPT, this.text.length);
    const text = places[this.below(places.length)];
    if (!text || text.length < 12) return;
    const length = 1 + this.below(8);
    this.change(() => text.delete(this.below(text.length - length), length));
  }

  private mark(): void {
    const block = this.text.get(this.below(this.text.length));
    const style = ["body", "heading-2", "heading-3", "quotation"][this.below(4)] ?? "body";
    if (block instanceof Y.XmlElement && block.nodeName === "paragraph") this.change(() => block.setAttribute("style", style));
  }

  /** Takes a section out and puts it in somewhere else in front of another, with its ids, as the plan for it does. */
  private moveSection(): void {
    const blocks = this.text.toArray();
    const heads = blocks.flatMap((block, index) => (isHead(block) ? [index] : []));
    const nth = this.below(heads.length);
    const from = heads[nth];
    if (from === undefined) return;
    const end = heads[nth + 1] ?? blocks.length;
    const places = heads.filter((head) => head < from || head > end);
    const to = places[this.below(places.length)];
    if (to === undefined) return;
    this.change(() => {
      const copies = this.text.slice(from, end).map((block) => (block as Y.XmlElement).clone());
      this.text.delete(from, end - from);
      this.text.insert(to > from ? to - (end - from) : to, copies);
    });
  }

  /** Cuts up to four blocks and puts them in elsewhere, with their ids, as cutting and pasting does. */
  private move(): void {
    if (this.text.length < KEPT + 10) return;
    const from = KEPT + this.below(this.text.length - KEPT - 5);
    const count = 1 + this.below(4);
    this.change(() => {
      const copies = this.text.slice(from, from + count).map((block) => (block as Y.XmlElement).clone());
      this.text.delete(from, count);
      this.text.insert(KEPT + this.below(this.text.length - KEPT), copies);
    });
  }
}

/** Where sections begin: at headings of the first two levels. */
const isHead = (block: unknown) => block instanceof Y.XmlElement && /^heading-[12]$/.test(block.getAttribute("style") ?? "");

let orders: Orders | null = null;
const authors: Author[] = [];
/** The last edit of every author that the others have not been seen to hear of. */
const written = new Map<number, { clock: number; at: number }>();
let writing = true;

function begin(given: Orders): void {
  orders = given;
  Object.assign(globalThis, {
    WebSocket: Wire,
    window: Object.assign(Object.create(globalThis) as object, {
      location: { protocol: "http:", host: given.host },
      addEventListener: () => undefined,
      removeEventListener: () => undefined,
      setTimeout: setTimeout.bind(globalThis),
      clearTimeout: clearTimeout.bind(globalThis),
      setInterval: setInterval.bind(globalThis),
      clearInterval: clearInterval.bind(globalThis),
    }),
  });
  given.sessions.forEach((session, number) => authors.push(new Author(number, session, given)));
  for (const [number, author] of authors.entries()) {
    author.room.open();
    const random = dice(given.seed * 1000 + number);
    const next = () => {
      if (writing) author.act();
      setTimeout(next, given.pace * (0.2 + 1.6 * random()));
    };
    setTimeout(next, 3000 + given.pace * random());
    setInterval(() => author.room.awareness.setLocalStateField("heading", `b${Math.floor(random() * 20)}`), 20 * given.pace);
  }
  const listener = authors[0]?.room.document;
  listener?.on("update", () => {
    for (const [client, { clock, at }] of written) {
      if (client === listener.clientID || Y.getState(listener.store, client) < clock) continue;
      toOthers.push(performance.now() - at);
      written.delete(client);
    }
  });
}

/** What the first author is shown of the structure, once nothing of it moves any more. */
async function view(): Promise<Record<string, unknown>> {
  const room = authors[0]?.room;
  for (let before = null; before !== room?.state.view; ) {
    before = room?.state.view ?? null;
    await new Promise((done) => setTimeout(done, 3000));
  }
  const { headings = [], markers = new Map<string, string>(), edges = [] } = room?.state.view ?? {};
  return {
    headings: headings.map(({ id, level, number, text, label }) => [id, level, number, text, label]),
    markers: Object.fromEntries(markers),
    edges: edges.map(({ block, offset }) => [block, offset]),
  };
}

const plain = (author: Author) => author.text.toArray().map((block) => block.toString()).join("\n");

function figures(): Record<string, unknown> {
  return { stored: toStored.splice(0), others: toOthers.splice(0), memory: process.memoryUsage().rss, edits: total("edits"), confirmed: total("confirmed") };
}

const total = (name: "edits" | "confirmed") => authors.reduce((sum, author) => sum + author[name], 0);

async function rest(): Promise<Record<string, unknown>> {
  writing = false;
  const until = performance.now() + 120_000;
  let same = false;
  while (performance.now() < until) {
    await new Promise((done) => setTimeout(done, 500));
    const quiet = authors.every(({ room }) => room.state.line === "live" && room.state.unsaved === 0);
    same = quiet && new Set(authors.map(plain)).size === 1;
    if (same) break;
  }
  return {
    same,
    view: await view(),
    texts: [...new Set(authors.map(plain))],
    leftOut: authors.flatMap(({ leftOut }) => [...leftOut]),
    lines: authors.map(({ room }) => `${room.state.line}, ${room.state.unsaved} unsaved, ${room.state.trouble}`),
    clocks: authors.map((author) => [author.room.document.clientID, author.confirmedClock]),
    words: authors.flatMap((author) => author.words.filter(({ clock }) => clock <= author.confirmedClock).map(({ word }) => word)),
    ...figures(),
  };
}

const notify = (found: unknown) => process.stdout.write(`${JSON.stringify(found)}\n`);
let heard = "";
process.stdin.setEncoding("utf8");
process.stdin.on("data", (text) => {
  heard += text;
  const lines = heard.split("\n");
  heard = lines.pop() ?? "";
  for (const line of lines) {
    if (!orders) begin(JSON.parse(line) as Orders);
    else if (line === "figures") notify(figures());
    else if (line === "rest") void rest().then((found) => notify(found));
    else if (line === "end") process.exit(0);
  }
});
