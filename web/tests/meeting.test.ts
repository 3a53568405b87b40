/** Whatever several people do to one text at once opens in every browser, and is the same in all. */
import { Editor } from "@tiptap/core";
import { TextSelection, type Command } from "@tiptap/pm/state";
import {
  addColumnAfter,
  addRowAfter,
  cellAround,
  CellSelection,
  deleteColumn,
  deleteRow,
  deleteTable,
  findTable,
  goToNextCell,
  mergeCells,
  splitCell,
  TableMap,
} from "@tiptap/pm/tables";
import type { Plan } from "../src/api/plan";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import * as Y from "yjs";
import { beginList, giveStyle, setLook, splitParagraph, toggle } from "../src/workspace/text-leaf/commands";
import { CORE, textExtensions } from "../src/workspace/text-leaf/extensions";
import { onGrid, widthsByWords } from "../src/workspace/text-leaf/grids";
import { newId } from "../src/workspace/text-leaf/ids";
import { insertDataTable } from "../src/workspace/text-leaf/kinds/dataTable";
import { blockOf } from "../src/workspace/text-leaf/insert";
import { insertPageBreak } from "../src/workspace/text-leaf/kinds/pageBreak";
import { backspaceInNote, newLineInNote, putNote, removeNote, setNoteKind } from "../src/workspace/text-leaf/notes";
import { insertPicture } from "../src/workspace/text-leaf/kinds/picture";
import { insertTable } from "../src/workspace/text-leaf/kinds/placedTable";
import { carryOut } from "../src/workspace/text-leaf/plan";
import { Unshown } from "../src/workspace/text-leaf/unshown";
import { dice } from "./dice.mjs";
import { STYLES } from "./writing";

const onFailure = vi.fn();
/** Whence an update comes that others wrote. */
const OTHERS = "others";
let editors: Editor[] = [];
vi.stubGlobal("ClipboardEvent", Event); // jsdom has none
/** All that the editors wrote, in the order of time, as updates in base 64; the server's tests give it to the gate. */
let written: string[] = [];
/** What each wrote that is not told yet: it is told merged, as by a browser that was offline. */
const offline = new Map<Y.Doc, Uint8Array[]>();
const isOffline = dice(7);
const TELLS = import.meta.env.VITE_TELLS_UPDATES === "yes";
beforeEach(() => onFailure.mockClear());
afterEach(() => {
  for (const document of offline.keys()) tell(document);
  if (TELLS) console.log(`UPDATES ${JSON.stringify(written)}`);
  written = [];
  offline.clear();
  for (const editor of editors) editor.destroy();
  editors = [];
});

/** An editor as in a browser, over a text of its own that is brought together with others by hand. */
function open(document = new Y.Doc()): Editor {
  const around = { report: "r", styles: () => STYLES, room: null, goTo: () => undefined, toContents: () => undefined };
  document.on("update", (update: Uint8Array, origin: unknown) => {
    if (!TELLS || origin === OTHERS) return;
    offline.set(document, [...(offline.get(document) ?? []), update]);
    if (isOffline() < 0.75) tell(document);
  });
  const editor = new Editor({ ...CORE, extensions: [...textExtensions(document, around), Unshown.configure({ onFailure })] });
  editors.push(editor);
  return editor;
}

function tell(document: Y.Doc): void {
  const updates = offline.get(document) ?? [];
  if (updates.length > 0) written.push(btoa(String.fromCharCode(...Y.mergeUpdates(updates))));
  offline.set(document, []);
}

const shared = (editor: Editor): Y.Doc => (editor.extensionManager.extensions.find(({ name }) => name === "collaboration")?.options as { document: Y.Doc }).document;

function send(from: Editor, to: Editor): void {
  tell(shared(from));
  Y.applyUpdate(shared(to), Y.encodeStateAsUpdate(shared(from), Y.encodeStateVector(shared(to))), OTHERS);
}

const words = (...text: string[]) => text.map((one) => ({ type: "paragraph", attrs: { id: newId(), style: "cell" }, ...(one && { content: [{ type: "text", text: one }] }) }));
const grid = (rows: number, columns: number) => ({
  type: "dataTable",
  attrs: { id: newId(), headerRows: 1 },
  content: Array.from({ length: rows }, (_, row) => ({
    type: "dataRow",
    content: Array.from({ length: columns }, (_, column) => ({ type: "dataCell", content: words(`${row}.${column}`, "more") })),
  })),
});

/** Several editors with the same text. */
function together(count: number, content: unknown[]): Editor[] {
  const first = open();
  first.commands.setContent({ type: "doc", content: content as never });
  tell(shared(first));
  return [first, ...Array.from({ length: count - 1 }, () => {
    const document = new Y.Doc();
    Y.applyUpdate(document, Y.encodeStateAsUpdate(shared(first)), OTHERS);
    return open(document);
  })];
}

function pair(content: unknown[]): [Editor, Editor] {
  const [one, other] = together(2, content);
  if (!one || !other) throw new Error("two were asked for");
  return [one, other];
}

function nth<T>(from: readonly T[], index: number): T {
  const found = from[index];
  if (found === undefined) throw new Error(`there is no number ${index} among ${from.length}`);
  return found;
}

/** Brings everybody together, and says what they see; a browser that opens it afterwards changes nothing in it. */
const bare = (doc: unknown): unknown => JSON.parse(JSON.stringify(doc, (name, value: unknown) => (name === "marks" && (value as { type: string }[])[0]?.type === "band" ? undefined : value)));

function meet(all: Editor[]): unknown {
  for (const one of all) for (const other of all) if (one !== other) send(one, other);
  for (const one of all) for (const other of all) if (one !== other) send(one, other);
  const first = nth(all, 0);
  const late = new Y.Doc();
  Y.applyUpdate(late, Y.encodeStateAsUpdate(shared(first)), OTHERS);
  const before = Y.encodeStateAsUpdate(late);
  const seen = bare(open(late).getJSON());
  expect(onFailure).not.toHaveBeenCalled();
  expect(Y.encodeStateAsUpdate(late)).toEqual(before);
  for (const one of all) expect(bare(one.getJSON())).toEqual(seen);
  return seen;
}

/** Puts the cursor into the paragraph with these words. */
function into(editor: Editor, text: string): void {
  let at: number | null = null;
  editor.state.doc.descendants((node, pos) => {
    if (node.isTextblock && node.textContent === text) at ??= pos + 1;
  });
  if (at === null) throw new Error(`there is no “${text}”`);
  editor.view.dispatch(editor.state.tr.setSelection(TextSelection.create(editor.state.doc, at)));
}

const run = (editor: Editor, command: typeof deleteRow) => onGrid(command, STYLES)(editor.view);

test("one takes out the first half of the rows, another the second: the table is there, without rows, and opens", () => {
  const [one, other] = pair([...words("Before"), grid(2, 2), ...words("Behind")]);
  into(one, "0.0");
  run(one, deleteRow);
  into(other, "1.0");
  run(other, deleteRow);
  const { content } = meet([one, other]) as { content: { type: string; content?: unknown }[] };
  expect(content.map(({ type }) => type)).toEqual(["paragraph", "dataTable", "paragraph"]);
  expect(content[1]?.content).toBeUndefined();
  other.commands.undo();
  expect(JSON.stringify(meet([one, other]))).toContain("1.1");
});

test("each takes out one of the two paragraphs of a cell", () => {
  const [one, other] = pair([grid(1, 1), ...words("Behind")]);
  const cut = (editor: Editor, text: string) => {
    let range: [number, number] = [0, 0];
    editor.state.doc.descendants((node, pos) => {
      if (node.isTextblock && node.textContent === text) range = [pos, pos + node.nodeSize];
    });
    editor.view.dispatch(editor.state.tr.delete(...range));
  };
  cut(one, "0.0");
  cut(other, "more");
  expect(JSON.stringify(meet([one, other]))).not.toContain('"text":"0.0"');
});

test("each takes out one of two columns", () => {
  const [one, other] = pair([grid(2, 2), ...words("Behind")]);
  into(one, "0.0");
  run(one, deleteColumn);
  into(other, "0.1");
  run(other, deleteColumn);
  meet([one, other]);
});

test("of two who take out half of the blocks each, a text is left that opens", () => {
  const [one, other] = pair(words("One", "Two", "Three", "Four"));
  const { doc } = one.state;
  const half = doc.child(0).nodeSize + doc.child(1).nodeSize;
  one.view.dispatch(one.state.tr.delete(0, half));
  other.view.dispatch(other.state.tr.delete(half, doc.content.size));
  meet([one, other]);
  one.commands.insertContentAt(1, "written");
  expect(JSON.stringify(meet([one, other]))).toContain("written");
});

test("a column and a row at once: rows of unlike length are nobody's to fill by themselves", () => {
  const [one, other] = pair([grid(2, 2), ...words("Behind")]);
  into(one, "0.1");
  run(one, addColumnAfter);
  into(other, "1.0");
  run(other, addRowAfter);
  const lengths = () => {
    const found: number[] = [];
    one.state.doc.child(0).forEach((row) => found.push(row.childCount));
    return found;
  };
  meet([one, other]);
  expect(lengths()).toEqual([3, 3, 2]);
  // Both go on writing in it, at the same time.
  for (const more of ["", "!", "!!"]) {
    into(one, `0.0${more}`);
    one.commands.insertContentAt(one.state.selection.$from.end(), "!");
    into(other, `1.1${more}`);
    other.commands.insertContentAt(other.state.selection.$from.end(), "!");
    meet([one, other]);
  }
  expect(lengths()).toEqual([3, 3, 2]);
  // Whoever adds to it then makes it even.
  into(one, "0.0!!!");
  run(one, addRowAfter);
  expect(lengths()).toEqual([3, 3, 3, 3]);
  meet([one, other]);
});

test("cells are joined in both directions and split again; a row in which none begins any more goes", () => {
  const [one] = pair([grid(3, 2)]);
  const table = () => one.state.doc.child(0);
  const spans = () => table().children.map((row) => row.children.map(({ attrs }) => [attrs.colspan, attrs.rowspan] as [number, number]));
  const select = (from: number, to: number) => {
    const { map } = TableMap.get(table());
    one.view.dispatch(one.state.tr.setSelection(CellSelection.create(one.state.doc, 1 + (map[from] ?? 0), 1 + (map[to] ?? 0))));
  };
  select(0, 2);
  run(one, mergeCells);
  expect(spans()).toEqual([[[1, 2], [1, 1]], [[1, 1]], [[1, 1], [1, 1]]]); // prettier-ignore
  run(one, splitCell);
  expect(spans().every((row) => row.length === 2)).toBe(true);
  select(0, 3);
  run(one, mergeCells);
  expect(spans()).toEqual([[[2, 1]], [[1, 1], [1, 1]]]); // prettier-ignore
  expect(table().child(0).textContent).toBe("0.0more1.0more0.1more1.1more");
});

test("a text of which all is selected is taken out by a plan, and written anew", () => {
  const [one] = together(1, [...words("One", "Two")]) as [Editor];
  one.commands.selectAll();
  carryOut(one, [{ step: "remove", blocks: one.state.doc.children.map((node) => node.attrs.id as string), reads: {} }]);
  expect(one.state.doc.childCount).toBe(1);
  expect(one.state.doc.firstChild?.attrs.id).toMatch(/\w/);
  one.commands.insertContent("anew");
  expect(one.state.doc.textContent).toBe("anew");
});

type Die = (below: number) => number;
const PASTED = [
  "<p>pasted</p>",
  "<h2>Head</h2><p>and <b>words</b></p>",
  "<table><tr><td>a</td><td></td></tr><tr><td colspan=2>b</td></tr></table>",
  "<table><tr><td>ragged</td></tr><tr><td>b</td><td>c</td></tr></table>",
  "<table></table><p>x</p>",
  '<table><tr><td data-widths="90">a</td><td colspan="2" data-widths="40,0.5">b</td></tr><tr><td data-widths="x">c</td><td>d</td><td data-widths="-1">e</td></tr></table>',
  "<table><tr><td rowspan=2>a</td><td>b</td></tr><tr><td>c</td></tr><tr><td rowspan=9 colspan=2>d</td></tr></table>",
  "<table><tr><td rowspan=2>a</td><td rowspan=2>b</td></tr><tr></tr><tr><td rowspan=2>c</td><td>d</td></tr><tr><td colspan=3>e</td></tr></table>",
  '<table headerrows="x"><tr><td rowspan="2" colwidth="10,20" colspan="99">a</td><td colspan="1.5">b</td></tr></table>',
  '<p data-style="x" align="center" style="text-align:up" indent="9999" lines="x" number="7">odd</p>',
  '<p><a href="https://x.example" class="big" target="_blank" rel="me" title="t">link</a> <a href="javascript:alert(1)">none</a></p>',
  `<p data-caption="Fig_1" data-id="../x">a caption</p><p><span data-reference="../x">r</span> <span data-bookmark='{"id":"/"}'>b</span></p>`,
  '<figure data-source="../../x" data-width="0.2" data-height="99999" align="up"></figure><div data-table="../t" data-kind="kkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkkk"></div>',
  '<p><span style="font-size: 9999pt; font-family: Elsewhere; color: rgb(1,2,300)">sized</span><font face="Carlito" size="7" color="red">f</font></p>',
  "<ul><li>one</li><li>two<ol><li>deep</li></ol></li></ul>",
  "plain",
  '<p>Sea<span data-reference="n1" data-shows="note">1</span></p><p data-note="foot" data-id="n1">at the foot</p><p data-note="up">odd</p>',
];
/** The editor's own attributes and what foreign pages may say in them; any of them on any element. */
const OWN = ["align", "alt", "bookmark", "caption", "citation", "colour", "decorative", "entries", "font", "header-rows", "height", "id", "indexed", "kind", "label", "level", "name", "note", "number", "of", "off", "own-page", "reference", "shows", "size", "source", "style", "table", "typeface", "width"];
const SAID = ["", "x", "5", "-1", "NaN", "1e999", "true", "null", "[]", "{}", '{"id":"/"}', '{"id":"a","name":5}', '{"category":{"a":[1]}}', '["a","b"]', "9".repeat(40), "x".repeat(5000), "[".repeat(50)];
const ELEMENTS = ["p", "h2", "span", "b", "a", "sup", "code", "figure", "div", "li", "img", "table"];

function oddHtml(die: Die): string {
  const element = (deep: number): string => {
    const tag = nth(ELEMENTS, die(ELEMENTS.length));
    const attributes = Array.from({ length: 1 + die(4) }, () => ` data-${nth(OWN, die(OWN.length))}='${nth(SAID, die(SAID.length))}'`).join("");
    const inside = deep > 2 ? "words" : Array.from({ length: die(3) }, () => element(deep + 1)).join("words");
    return tag === "img" ? `<img${attributes}>` : tag === "table" ? `<table${attributes}><tr><td${attributes}>${inside}</td></tr></table>` : `<${tag}${attributes}>${inside}</${tag}>`;
  };
  return element(0);
}

/** Steps of a plan as the core makes them, at some place of the text. */
function somePlan(editor: Editor, die: Die): Plan {
  const { doc } = editor.state;
  const block = nth(doc.children, die(doc.childCount));
  const id = block.attrs.id as string;
  const made = () => ({ tag: "paragraph", attributes: { id: newId(), style: nth(STYLES, die(STYLES.length)).id }, children: [{ text: "planned", attributes: die(2) ? { bold: {} } : {} }] });
  const length = block.isTextblock ? block.content.size : 0;
  const start = die(length + 1);
  const words = block.textBetween(start, start + die(length - start + 1), "", "\ufffc");
  const steps: Plan = [
    { step: "set", block: id, values: { style: nth(STYLES, die(STYLES.length)).id, align: die(2) ? "right" : null } },
    { step: "format", block: id, start, end: length, values: { italic: die(2) ? {} : null, link: die(2) ? { href: "https://x.example" } : null } },
    { step: "cut", block: id, start, words, instead: die(2) ? [{ text: "instead", attributes: {} }] : [] },
    { step: "insert", after: die(3) ? id : null, blocks: [made(), made()] },
  ];
  return steps.filter(() => die(2));
}

/** Selects cells from that with the cursor on to some other of its table, and joins them. */
const joinSome: Command = (state, dispatch) => {
  const cell = cellAround(state.selection.$from);
  const table = findTable(state.selection.$from);
  if (!cell || !table || TableMap.get(table.node).problems) return false;
  const places = [...new Set(TableMap.get(table.node).map)].filter((at) => at > 0);
  const other = table.start + (places[cell.pos % places.length] ?? 1);
  return mergeCells(state.apply(state.tr.setSelection(CellSelection.create(state.doc, cell.pos, other))), dispatch);
};
const COMMANDS = [
  ...[addRowAfter, addColumnAfter, deleteRow, deleteColumn, deleteRow, deleteColumn, deleteTable],
  ...[goToNextCell(1), goToNextCell(-1), widthsByWords, joinSome, joinSome, splitCell],
];

/** What people do, each by the name under which a failure tells of it. */
const DEEDS: Record<string, (editor: Editor, die: Die, held: { slice?: string }) => void> = {
  type: (editor, die) => editor.commands.insertContent("word ".repeat(1 + die(3))),
  enter: (editor) => newLineInNote(editor) || splitParagraph(editor, STYLES),
  note: (editor) => putNote(editor, STYLES),
  noteAtEnd: (editor, die) => (die(2) ? setNoteKind(editor, "end") : removeNote(editor)),
  cutOut: (editor) => editor.commands.deleteSelection(),
  backspace: (editor) => {
    const { $from, empty } = editor.state.selection;
    if (backspaceInNote(editor)) return;
    if (empty && $from.parentOffset > 0) editor.view.dispatch(editor.state.tr.delete($from.pos - 1, $from.pos));
    else editor.commands.joinBackward();
  },
  forward: (editor) => editor.commands.joinForward(),
  style: (editor, die) => giveStyle(editor, nth(STYLES, die(STYLES.length)).id),
  bold: (editor) => toggle(editor, "bold", STYLES),
  size: (editor, die) => setLook(editor, STYLES, "size", 8 + die(10)),
  list: (editor) => beginList(editor, " ", STYLES),
  grid: (editor) => insertDataTable(editor, STYLES),
  table: (editor, die) => (die(4) === 0 ? insertTable(editor, "contents", "here", STYLES) : undefined),
  pageBreak: (editor) => insertPageBreak(editor),
  picture: (editor) => insertPicture(editor, blockOf(editor.state, editor.state.selection.from), { source: `${"0".repeat(32)}.png`, width: 90, height: 60 }),
  inGrid: (editor, die) => run(editor, nth(COMMANDS, die(COMMANDS.length))),
  copy: (editor, _die, held) => {
    held.slice = editor.view.serializeForClipboard(editor.state.selection.content()).dom.innerHTML;
  },
  cut: (editor, _die, held) => {
    held.slice = editor.view.serializeForClipboard(editor.state.selection.content()).dom.innerHTML;
    editor.commands.deleteSelection();
  },
  paste: (editor, die, held) => editor.view.pasteHTML(held.slice && die(2) ? held.slice : nth(PASTED, die(PASTED.length))),
  move: (editor, die) => {
    const ids = editor.state.doc.children.map((node) => node.attrs.id as string);
    const blocks = ids.slice(die(ids.length)).slice(0, 1 + die(3));
    carryOut(editor, [{ step: "move", blocks, after: die(3) ? nth(ids, die(ids.length)) : null }]);
  },
  remove: (editor, die) => {
    const ids = editor.state.doc.children.map((node) => node.attrs.id as string);
    carryOut(editor, [{ step: "remove", blocks: ids.slice(die(ids.length)).slice(0, 1 + die(3)), reads: {} }]);
  },
  pasteOdd: (editor, die) => editor.view.pasteHTML(oddHtml(die)),
  plan: (editor, die) => carryOut(editor, somePlan(editor, die)),
  undo: (editor) => editor.commands.undo(),
  redo: (editor) => editor.commands.redo(),
};

function select(editor: Editor, die: Die): void {
  const { doc } = editor.state;
  const at = () => doc.resolve(die(doc.content.size + 1));
  const from = at();
  const to = die(3) ? from : die(2) ? doc.resolve(Math.min(doc.content.size, from.pos + die(30))) : at();
  editor.view.dispatch(editor.state.tr.setSelection(TextSelection.between(from, to)));
}

/** How often; each takes a third of a second. */
const MEETINGS = 25;

test.each(Array.from({ length: MEETINGS }, (_, seed) => seed))("three people do ordinary things at once (%i)", (seed) => {
  const random = dice(seed + 1);
  const die: Die = (below) => Math.floor(random() * below);
  const all = together(3, [...words("One", "Two"), grid(2, 2), ...words("Three"), grid(3, 1), ...words("Four", "")]);
  const held: { slice?: string }[] = [{}, {}, {}];
  const names = Object.keys(DEEDS);
  const done: string[] = [];
  for (let turn = 0; turn < 40; turn += 1) {
    const who = die(3);
    const editor = nth(all, who);
    const name = nth(names, die(names.length));
    done.push(`${who} ${name}`);
    select(editor, die);
    try {
      DEEDS[name]?.(editor, die, nth(held, who));
    } catch (error) {
      throw new Error(`${done.join(", ")}: ${(error as Error).message}`, { cause: error });
    }
    if (die(4) === 0) send(editor, nth(all, (who + 1 + die(2)) % 3));
    if (onFailure.mock.calls.length) throw new Error(`cannot be shown after ${done.join(", ")}`);
  }
  meet(all);
});
