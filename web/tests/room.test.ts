/** The connection to a room, with a server of the test's own at the other end. */
import * as decoding from "lib0/decoding";
import * as encoding from "lib0/encoding";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Awareness, encodeAwarenessUpdate } from "y-protocols/awareness";
import { readSyncMessage, writeSyncStep1, writeUpdate } from "y-protocols/sync";
import * as Y from "yjs";
import { Room } from "../src/workspace/room/room";
import { editorOver } from "./writing";

const bytes = (kind: number, write: (encoder: encoding.Encoder) => void) => {
  const encoder = encoding.createEncoder();
  encoding.writeVarUint(encoder, kind);
  write(encoder);
  return encoding.toUint8Array(encoder);
};

/** The other end of one connection. It holds a document as the server does, and counts what it has stored. */
class Server extends EventTarget {
  static all: Server[] = [];
  static readonly OPEN = 1;
  static text = new Y.Doc();
  readyState = 0;
  stored = 0;
  heard: Uint8Array[] = [];
  onopen: () => void = () => undefined;
  onmessage: ((event: { data: unknown }) => void) | null = () => undefined;
  onclose: (event: { code: number; reason: string }) => void = () => undefined;

  constructor(readonly address: string) {
    super();
    Server.all.push(this);
  }

  /** What the browser has asked for, until it is given. */
  private answer: Uint8Array | null = null;

  /** Takes the connection as the real server does: says who is there, asks for what the browser has, then gives its own. */
  accept(role = "owner", give = true, schema = 13): void {
    this.readyState = 1;
    this.onopen();
    this.receive({ type: "hello", role, person: {}, schema });
    this.ask();
    if (give) this.give();
  }

  ask(): void {
    this.notify(bytes(0, (encoder) => writeSyncStep1(encoder, Server.text)));
  }

  give(): void {
    if (this.answer) this.notify(this.answer);
  }

  send(data: Uint8Array): void {
    this.heard.push(data);
    const decoder = decoding.createDecoder(data);
    if (decoding.readVarUint(decoder) !== 0) return;
    const reply = encoding.createEncoder();
    encoding.writeVarUint(reply, 0);
    const step = readSyncMessage(decoder, reply, Server.text, this);
    if (encoding.length(reply) > 1) this.answer = encoding.toUint8Array(reply);
    if (step !== 0) this.stored += 1;
  }

  /** Shows the view of a report of one page. */
  show(): void {
    this.receive({ type: "state", labels: { at: 0, remove: 0, insert: ["1"] } });
  }

  confirm(): void {
    this.receive({ type: "stored", count: this.stored });
  }

  notify(data: Uint8Array): void {
    this.onmessage?.({ data: data.slice().buffer });
  }

  receive(message: unknown): void {
    this.onmessage?.({ data: JSON.stringify(message) });
  }

  lose(code = 1006, reason = ""): void {
    this.readyState = 3;
    this.onclose({ code, reason });
  }

  close(): void {
    this.readyState = 3;
  }
}

let room: Room;
const last = () => Server.all.at(-1) as Server;
const words = (document: Y.Doc) => document.getText("t").toString();
const write = (text: string) => room.document.getText("t").insert(words(room.document).length, text);

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("WebSocket", Server);
  Server.all = [];
  Server.text = new Y.Doc();
  Server.text.getText("t").insert(0, "There.");
  room = new Room("k3y");
  room.open();
});
afterEach(() => {
  room.close();
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

test("it is ready once text and view have come, whichever comes first", () => {
  expect(last().address).toMatch(/\/ws\/reports\/k3y$/);
  expect(room.state).toMatchObject({ line: "opening", ready: false });
  last().accept();
  expect(words(room.document)).toBe("There.");
  expect(room.state).toMatchObject({ line: "live", ready: false });
  last().show();
  expect(room.state).toMatchObject({ line: "live", ready: true });
  last().lose();
  vi.advanceTimersByTime(500);
  last().show();
  expect(room.state.ready).toBe(true);
  const second = new Room("k3y");
  second.open();
  last().show();
  expect(second.state.ready).toBe(false);
  last().accept();
  expect(second.state.ready).toBe(true);
  second.close();
});

test("an edit is unsaved until the server says that it is stored", () => {
  last().accept();
  last().confirm();
  expect(room.state.unsaved).toBe(0);
  write(" Here.");
  write(" Now.");
  expect(words(Server.text)).toBe("There. Here. Now.");
  expect(room.state.unsaved).toBe(2);
  last().confirm();
  expect(room.state.unsaved).toBe(0);
});

const NOTHING_DELETED = "AAA=";

test("what nobody can use is told, and the connection goes on", () => {
  last().accept();
  last().show();
  write(" Here.");
  last().receive({ type: "left-out", what: "“width” of “image” cannot be “6000”", more: 2, update: NOTHING_DELETED });
  expect(room.state.leftOut).toEqual([
    "Something of what was put in last cannot be part of a report: “width” of “image” cannot be “6000”, and 2 more like it. It was left out; the rest is saved.",
  ]);
  expect(room.state.aside).toBeNull();
  write(" Now.");
  last().confirm();
  expect(room.state).toMatchObject({ line: "live", unsaved: 0 });
});

test("what the server takes out is taken out here as well, its words kept aside, and all else goes on being saved", () => {
  const text = room.document.getXmlFragment("text");
  const paragraph = (words: string) => {
    const made = new Y.XmlElement("paragraph");
    made.insert(0, [new Y.XmlText(words)]);
    return made;
  };
  last().accept();
  last().show();
  text.insert(0, [paragraph("Before.")]);
  const table = new Y.XmlElement("odd");
  table.insert(0, [paragraph("One."), paragraph("Two.")]);
  text.insert(1, [table]);
  text.insert(2, [paragraph("Behind, and much more.")]);
  // As the server tells it: from a text that has all of this, by another's deletions.
  const other = new Y.Doc();
  Y.applyUpdate(other, Y.encodeStateAsUpdate(room.document));
  const before = Y.encodeStateVector(other);
  other.transact(() => {
    const shared = other.getXmlFragment("text");
    shared.delete(1, 1);
    ((shared.get(1) as Y.XmlElement).get(0) as Y.XmlText).delete(6, 16);
  });
  const update = btoa(String.fromCharCode(...Y.encodeStateAsUpdate(other, before)));
  last().receive({ type: "left-out", what: "there is no kind of block “odd”", more: 1, update });
  expect(room.state.aside).toMatchObject({ words: "One.\nTwo.\n, and much more." });
  expect(text.toString()).toBe("<paragraph>Before.</paragraph><paragraph>Behind</paragraph>");
  write(" Now.");
  last().confirm();
  expect(room.state).toMatchObject({ line: "live", unsaved: 0 });
  // What is taken out afterwards is put aside as well, also where it reads like some of that.
  const state = Y.encodeStateVector(other);
  Y.applyUpdate(other, Y.encodeStateAsUpdate(room.document));
  const between = Y.encodeStateVector(other);
  expect(between).not.toEqual(state);
  other.getXmlFragment("text").delete(0, 1);
  text.insert(2, [paragraph("One.")]);
  Y.applyUpdate(other, Y.encodeStateAsUpdate(room.document));
  other.getXmlFragment("text").delete(1, 1);
  const again = btoa(String.fromCharCode(...Y.encodeStateAsUpdate(other, between)));
  last().receive({ type: "left-out", what: "a second thing", more: 0, update: again });
  expect(room.state.aside?.words).toBe("One.\nTwo.\n, and much more.\n\nBefore.\nOne.");
  expect(room.state.aside?.why).toMatch(/block “odd”.*a second thing/);
  room.forget();
  expect(room.state.aside).toBeNull();
});

test("who plans with the server's text waits until what was written is there, but not for ever", async () => {
  last().accept();
  last().confirm();
  await room.caughtUp();
  write(" Here.");
  const waits = room.caughtUp(1000);
  const heard = vi.fn();
  void waits.then(heard);
  await vi.advanceTimersByTimeAsync(10);
  expect(heard).not.toHaveBeenCalled();
  last().confirm();
  await waits;
  write(" Now.");
  const refused = expect(room.caughtUp(1000)).rejects.toThrow("not saved yet");
  await vi.advanceTimersByTimeAsync(1001);
  await refused;
});

test("what others write arrives, and is not sent back", () => {
  last().accept();
  const heard = last().heard.length;
  const other = new Y.Doc();
  Y.applyUpdate(other, Y.encodeStateAsUpdate(Server.text));
  other.getText("t").insert(0, "Hello. ");
  last().notify(bytes(0, (encoder) => writeUpdate(encoder, Y.encodeStateAsUpdate(other))));
  expect(words(room.document)).toBe("Hello. There.");
  expect(last().heard).toHaveLength(heard);
});

test("what is written without a connection goes out when it is back", () => {
  last().accept();
  last().show();
  last().confirm();
  last().lose();
  expect(room.state.line).toBe("lost");
  write(" Alone.");
  expect(room.state.unsaved).toBe(1);
  expect(words(Server.text)).toBe("There.");
  vi.advanceTimersByTime(500);
  last().accept();
  expect(words(Server.text)).toBe("There. Alone.");
  last().confirm();
  expect(room.state).toMatchObject({ line: "live", unsaved: 0 });
});

test("what was on its way when the connection was lost counts as unsaved", () => {
  last().accept();
  last().confirm();
  write(" On its way.");
  last().lose();
  expect(room.state.unsaved).toBe(1);
});

test("it tries again after longer and longer pauses, of eight seconds at most", () => {
  last().accept();
  const pauses: number[] = [];
  for (let attempt = 0; attempt < 7; attempt += 1) {
    last().lose();
    const before = Server.all.length;
    let waited = 0;
    while (Server.all.length === before) {
      vi.advanceTimersByTime(100);
      waited += 100;
    }
    pauses.push(waited);
  }
  expect(pauses).toEqual([400, 800, 1600, 3200, 6400, 8000, 8000]);
});

test("the connection is tried at once when the browser is online again", () => {
  last().accept();
  last().lose();
  window.dispatchEvent(new Event("online"));
  expect(Server.all).toHaveLength(2);
});

test.each([
  [4401, "signed out"],
  [4404, "no such report"],
])("a room that may not be entered (%i) is not tried again", (code, sentence) => {
  last().lose(code);
  expect(room.state.line).toBe("closed");
  expect(room.state.trouble).toContain(sentence);
  vi.advanceTimersByTime(60_000);
  expect(Server.all).toHaveLength(1);
});

test("others are no longer here when the connection is lost", () => {
  last().accept();
  const other = new Awareness(new Y.Doc());
  other.setLocalState({ user: { id: 7 } });
  last().notify(bytes(1, (encoder) => encoding.writeVarUint8Array(encoder, encodeAwarenessUpdate(other, [other.clientID]))));
  expect(room.awareness.getStates().has(other.clientID)).toBe(true);
  last().lose();
  expect(room.awareness.getStates().has(other.clientID)).toBe(false);
  other.destroy();
});

test("the browser's own place is told, and others' are not passed on", () => {
  last().accept();
  const heard = last().heard.length;
  room.awareness.setLocalStateField("heading", "b1");
  expect(last().heard).toHaveLength(heard + 1);
  expect(last().heard.at(-1)?.[0]).toBe(1);
});

test("the view follows what the server computes; entering again begins anew", () => {
  last().accept();
  last().receive({ type: "state", labels: { at: 0, remove: 0, insert: ["1"] } });
  last().receive({ type: "changes", labels: { at: 1, remove: 0, insert: ["2"] } });
  expect(room.state.view.labels).toEqual(["1", "2"]);
  last().lose();
  vi.advanceTimersByTime(500);
  last().accept();
  last().receive({ type: "state", labels: { at: 0, remove: 0, insert: ["1"] } });
  expect(room.state.view.labels).toEqual(["1"]);
});

test("what is typed after the server has asked and before it has given its text is sent", () => {
  last().accept("editor", false);
  write("Early. ");
  expect(words(Server.text)).toContain("Early. ");
  last().give();
  write("Late.");
  expect(words(Server.text)).toContain("Late.");
  last().confirm();
  expect(room.state.unsaved).toBe(0);
});

test("what was typed before the server asked is part of the answer", () => {
  write("First. ");
  expect(room.state.unsaved).toBe(1);
  last().accept();
  last().confirm();
  expect(words(Server.text)).toContain("First. ");
  expect(room.state.unsaved).toBe(0);
});

/** The update in a message of the sync protocol. */
function updateIn(message: Uint8Array): Uint8Array {
  const decoder = decoding.createDecoder(message);
  decoding.readVarUint(decoder);
  decoding.readVarUint(decoder);
  return decoding.readVarUint8Array(decoder);
}

test("who comes back sends what they took out as they took it out, and not what came for it meanwhile", () => {
  last().accept();
  last().give();
  last().confirm();
  const list = room.document.getArray<Y.Text>("list");
  room.document.transact(() => list.insert(0, [new Y.Text("One.")]));
  last().confirm();
  last().lose();
  const other = new Y.Doc();
  Y.applyUpdate(other, Y.encodeStateAsUpdate(Server.text));
  const before = Y.encodeStateVector(other);
  room.document.transact(() => list.delete(0, 1));
  // Somebody else writes in it at that moment, and is heard of before the answer.
  other.getArray<Y.Text>("list").get(0).insert(0, "Meanwhile. ");
  const meanwhile = Y.encodeStateAsUpdate(other, before);
  Y.applyUpdate(Server.text, meanwhile);
  Y.applyUpdate(room.document, meanwhile, room);
  vi.advanceTimersByTime(500);
  last().accept();
  const answers = last().heard.filter((data) => data[0] === 0 && data[1] === 1).map(updateIn);
  const named = answers.flatMap((update) => [...Y.decodeUpdate(update).ds.clients.keys()]);
  expect(named).not.toContain(other.clientID);
  expect(named).toContain(room.document.clientID);
});

test("when the server asks again, everything is sent again and counts as unsaved until it is stored", () => {
  last().accept();
  last().confirm();
  write(" More.");
  last().ask();
  expect(room.state.unsaved).toBe(1);
  last().confirm();
  expect(room.state.unsaved).toBe(0);
});

test("a reader sends nothing, has nothing unsaved, and is not asked before leaving", () => {
  last().accept("reader");
  expect(last().stored).toBe(0);
  last().lose();
  vi.advanceTimersByTime(500);
  last().accept("reader");
  expect(last().stored).toBe(0);
  expect(room.state).toMatchObject({ unsaved: 0, trouble: "", role: "reader" });
});

const paragraph = (text: string) => {
  const element = new Y.XmlElement("paragraph");
  element.insert(0, [new Y.XmlText(text)]);
  room.document.getXmlFragment("text").push([element]);
};

test("an editor who is made a reader is told so, and keeps what was not saved", () => {
  last().accept("editor");
  paragraph("Saved.");
  last().confirm();
  paragraph("Not saved.");
  last().receive({ type: "role", role: "reader" });
  expect(room.state).toMatchObject({ role: "reader", unsaved: 0, kept: "Not saved." });
  expect(room.state.trouble).toBe("You can read this report now, but no longer change it.");
  last().receive({ type: "role", role: "editor" });
  last().ask();
  last().confirm();
  expect(room.state).toMatchObject({ role: "editor", unsaved: 0, kept: "", trouble: "" });
});

test("a role that changed while the connection was lost is told as well", () => {
  last().accept("editor");
  last().confirm();
  last().lose();
  paragraph("Alone.");
  vi.advanceTimersByTime(500);
  last().accept("reader");
  expect(room.state).toMatchObject({ role: "reader", kept: "Alone.", unsaved: 0 });
});

test("whoever is signed out keeps what was not saved", () => {
  last().accept("editor");
  last().confirm();
  paragraph("Last words.");
  last().lose(4401);
  expect(room.state).toMatchObject({ line: "closed", kept: "Last words." });
});

test("what is too large for one message is sent edit by edit", () => {
  last().accept("editor");
  last().confirm();
  last().lose();
  const large = "x".repeat(3 * 1024 * 1024);
  for (let n = 0; n < 3; n += 1) write(large);
  expect(room.state.unsaved).toBe(3);
  vi.advanceTimersByTime(500);
  last().accept("editor");
  expect(Math.max(...last().heard.map((message) => message.length))).toBeLessThan(8 * 1024 * 1024);
  expect(words(Server.text)).toHaveLength(6 + 3 * large.length);
  last().receive({ type: "stored", count: last().stored - 1 });
  expect(room.state.unsaved).toBe(1);
  // What was on its way when the connection was lost is sent again, and nothing else is.
  last().lose();
  write("y");
  expect(room.state.unsaved).toBe(2);
  vi.advanceTimersByTime(1000);
  last().accept("editor");
  expect(last().heard.at(-1)?.length).toBeLessThan(4 * 1024 * 1024);
  last().confirm();
  expect(room.state.unsaved).toBe(0);
});

test("what is too large is not sent again and again", () => {
  last().accept("editor");
  last().confirm();
  paragraph("Far too much.");
  last().lose(4413);
  vi.advanceTimersByTime(60_000);
  expect(Server.all).toHaveLength(1);
  expect(room.state).toMatchObject({ line: "stuck", kept: "Far too much.", unsaved: 1 });
});

test("a browser that is older than the server does not touch the text", () => {
  last().accept("owner", true, 14);
  expect(room.state).toMatchObject({ line: "closed", trouble: "Mellow Spine has been renewed since this page was loaded; load it again." });
  expect(words(room.document)).toBe("");
  vi.advanceTimersByTime(60_000);
  expect(Server.all).toHaveLength(1);
});

test("a text that could not be read is not shown as an empty one, nor written into", () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  room.document.once("afterTransaction", () => {
    throw new Error("cannot be shown");
  });
  last().accept();
  expect(room.state).toMatchObject({ line: "closed", ready: false });
  expect(room.state.trouble).toMatch(/^The text could not be shown/);
  write("Lost");
  expect(words(Server.text)).toBe("There.");
});

test("what the server does not understand twice is not sent a third time", () => {
  last().accept("editor");
  last().lose(4400);
  vi.advanceTimersByTime(500);
  expect(room.state.line).not.toBe("stuck");
  last().accept("editor");
  last().lose(4400, "there is no formatting “blink”");
  vi.advanceTimersByTime(60_000);
  expect(Server.all).toHaveLength(2);
  expect(room.state).toMatchObject({ line: "stuck", trouble: "What was written last cannot be part of a report (there is no formatting “blink”)." });
});

test("a connection that ends at once each time is tried ever more slowly, although it opens", () => {
  const waited: number[] = [];
  for (let attempt = 0; attempt < 5; attempt += 1) {
    last().accept();
    last().lose(1011);
    const before = Server.all.length;
    let pause = 0;
    while (Server.all.length === before) vi.advanceTimersByTime(((pause += 100), 100));
    waited.push(pause);
  }
  expect(waited).toEqual([400, 800, 1600, 3200, 6400]);
});

test("a connection that has gone silent is given up within 30 seconds", () => {
  last().accept();
  for (let beat = 0; beat < 6; beat += 1) {
    vi.advanceTimersByTime(10_000);
    last().receive({ type: "beat" });
  }
  expect(Server.all).toHaveLength(1);
  vi.advanceTimersByTime(30_000);
  expect(Server.all).toHaveLength(2);
});

test("others are here again as soon as the connection is, and hear of this browser", () => {
  const other = new Awareness(new Y.Doc());
  other.setLocalState({ user: { id: 7 } });
  const here = () => bytes(1, (encoder) => encoding.writeVarUint8Array(encoder, encodeAwarenessUpdate(other, [other.clientID])));
  room.awareness.setLocalStateField("heading", "b1");
  last().accept();
  last().notify(here());
  const clock = room.awareness.meta.get(room.document.clientID)?.clock ?? 0;
  last().lose();
  vi.advanceTimersByTime(500);
  last().accept();
  last().notify(here());
  expect(room.awareness.getStates().has(other.clientID)).toBe(true);
  expect(room.awareness.meta.get(room.document.clientID)?.clock).toBeGreaterThan(clock);
  expect(last().heard.some(([kind]) => kind === 1)).toBe(true);
  other.destroy();
});

test("a report whose pages cannot be computed can be written all the same", () => {
  last().accept();
  last().receive({ type: "condition", saving: true, lacking: ["pages"] });
  expect(room.state).toMatchObject({ ready: true, lacking: ["pages"] });
});

test("that nothing can be saved is told, and that it can be again", () => {
  last().accept();
  last().receive({ type: "condition", saving: false, lacking: [] });
  expect(room.state.saving).toBe(false);
  last().receive({ type: "condition", saving: true, lacking: [] });
  expect(room.state.saving).toBe(true);
});

test("a refusal, and that the report has changed otherwise, reach whoever listens", () => {
  const heard = vi.fn();
  const stop = room.subscribe(heard);
  last().accept();
  last().receive({ type: "renewed" });
  last().receive({ type: "refused", message: "You may read this report, but not change it." });
  expect(room.state).toMatchObject({ renewed: 1, trouble: "You may read this report, but not change it." });
  const calls = heard.mock.calls.length;
  expect(calls).toBeGreaterThanOrEqual(3);
  stop();
  last().receive({ type: "renewed" });
  expect(heard).toHaveBeenCalledTimes(calls);
});

test("leaving the page with unsaved words asks first", () => {
  last().accept();
  last().confirm();
  const leave = () => {
    const event = new Event("beforeunload", { cancelable: true });
    window.dispatchEvent(event);
    return event.defaultPrevented;
  };
  expect(leave()).toBe(false);
  write(" Unsaved.");
  expect(leave()).toBe(true);
});

test("what this browser cannot show stays in everybody else's text, and the person is told", () => {
  const paragraph = (id: string, said: string, marks = {}) => {
    const element = new Y.XmlElement("paragraph");
    element.setAttribute("id", id);
    const words = new Y.XmlText();
    words.insert(0, said, marks);
    element.insert(0, [words]);
    return element;
  };
  const riddle = new Y.XmlElement("riddle");
  for (const odd of [riddle, paragraph("c", "Nobody’s to lose", { riddle: {} })]) {
    Server.text = new Y.Doc();
    const there = new Room("k3y");
    const editor = editorOver(there.document, undefined, there);
    there.open();
    Server.text.getXmlFragment("text").insert(0, [paragraph("a", "First")]);
    last().accept();
    expect(editor.getText()).toContain("First");
    // Somebody whose browser knows more writes what this one does not know.
    const news: Uint8Array[] = [];
    Server.text.on("update", (update: Uint8Array) => news.push(update));
    Server.text.getXmlFragment("text").insert(1, [odd]);
    const before = last().heard.length;
    for (const update of news) last().notify(bytes(0, (encoder) => writeUpdate(encoder, update)));
    expect(there.state).toMatchObject({ line: "closed", kept: "" });
    expect(there.state.trouble).toContain("it is safe on the server");
    expect(last().heard.length).toBe(before);
    // The same for whoever opens it, and for a reader.
    for (const role of ["owner", "reader"]) {
      const late = new Room("k3y");
      const opened = editorOver(late.document, undefined, late);
      late.open();
      last().accept(role);
      expect(late.state.line).toBe("closed");
      expect(Server.text.getXmlFragment("text").length).toBe(2);
      opened.destroy();
      late.close();
    }
    editor.destroy();
    there.close();
  }
});
