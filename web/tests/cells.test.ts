/** Pictures in the cells of data tables. */
import { Fragment, Slice } from "@tiptap/pm/model";
import { NodeSelection, TextSelection } from "@tiptap/pm/state";
import type { Editor } from "@tiptap/core";
import { afterEach, expect, test } from "vitest";
import { pasteInFront, splitParagraph, typeAfter } from "../src/workspace/text-leaf/commands";
import { toCell } from "../src/workspace/text-leaf/grids";
import { blockOf, findBlock } from "../src/workspace/text-leaf/insert";
import { insertDataTable } from "../src/workspace/text-leaf/kinds/dataTable";
import { insertPicture } from "../src/workspace/text-leaf/kinds/picture";
import { atHand, setOnPicture } from "../src/workspace/text-leaf/placing";
import { at, STYLES, writing } from "./writing";

const GATE = { source: `${"0".repeat(32)}.png`, width: 90, height: 60 };
let editor: Editor;
afterEach(() => editor.destroy());

/** A data table of three by three empty cells, with the cursor in the first. */
function open(): void {
  editor = writing("One", "Two");
  at(editor, 1);
  insertDataTable(editor, STYLES);
}

/** What stands in the first cells: `style: words`, or the kind of block. */
const cells = (): string[][] => {
  const found: string[][] = [];
  editor.state.doc.descendants((node) => {
    if (node.type.name === "dataCell") found.push(node.children.map((one) => (one.isTextblock ? `${one.attrs.style as string}: ${one.textContent}` : one.type.name)));
    return !node.isTextblock;
  });
  return found.slice(0, 3);
};
const here = () => blockOf(editor.state, editor.state.selection.from);
const choose = (id: string) => editor.view.dispatch(editor.state.tr.setSelection(NodeSelection.create(editor.state.doc, findBlock(editor.state.doc, id)?.pos ?? -1)));

test("a picture goes into the cell with the cursor: in the place of nothing, or behind its words", () => {
  open();
  const id = insertPicture(editor, here(), GATE);
  expect(cells()).toEqual([["image"], ["cell: "], ["cell: "]]);
  expect(here()).toBe(id);
  expect(editor.state.doc.childCount).toBe(3);
  toCell(1)(editor.state, editor.view.dispatch);
  editor.commands.insertContent("words");
  const first = insertPicture(editor, here(), GATE);
  insertPicture(editor, first, GATE);
  expect(cells()).toEqual([["image"], ["cell: words", "image", "image"], ["cell: "]]);
});

test("Tab goes through cells that are a picture alone", () => {
  open();
  const id = insertPicture(editor, here(), GATE);
  toCell(1)(editor.state, editor.view.dispatch);
  editor.commands.insertContent("words");
  expect(toCell(-1)(editor.state, editor.view.dispatch)).toBe(true);
  expect(here()).toBe(id);
  expect(toCell(-1)(editor.state, editor.view.dispatch)).toBe(false);
  toCell(1)(editor.state, editor.view.dispatch);
  expect(editor.state.doc.textBetween(editor.state.selection.from, editor.state.selection.to)).toBe("words");
});

test("what is typed while one is selected stands behind it in the style of cells, and Enter begins a line there", () => {
  open();
  const id = insertPicture(editor, here(), GATE);
  choose(id);
  expect(typeAfter(editor.view, "x", STYLES)).toBe(true);
  expect(cells()[0]).toEqual(["image", "cell: x"]);
  choose(id);
  expect(splitParagraph(editor, STYLES)).toBe(true);
  expect(cells()[0]).toEqual(["image", "cell: ", "cell: x"]);
});

test("a cell whose only picture is taken out has a place to write on", () => {
  open();
  choose(insertPicture(editor, here(), GATE));
  editor.commands.deleteSelection();
  expect(cells()[0]).toEqual(["cell: "]);
  expect(here()).not.toBe("");
});

test("it is at hand with what is said of it, and says so itself", () => {
  open();
  choose(insertPicture(editor, here(), GATE));
  setOnPicture(editor, { align: "right", alt: "A gate" });
  expect(atHand(editor)).toMatchObject({ kind: "image", inCell: true, align: "right", alt: "A gate" });
});

test("no page break and no data table goes into a cell", () => {
  open();
  expect(() => editor.schema.nodes.dataCell?.createChecked(null, editor.schema.nodes.pageBreak?.create())).toThrow(RangeError);
});

test.each([
  ["start", ["image", "cell: words"]],
  ["end", ["cell: words", "image"]],
])("one that is pasted at the %s of words leaves no line without any", (where, expected) => {
  open();
  editor.commands.insertContent("words");
  const words = editor.state.selection.$from;
  editor.view.dispatch(editor.state.tr.setSelection(TextSelection.create(editor.state.doc, where === "start" ? words.start() : words.end())));
  const slice = new Slice(Fragment.from(editor.schema.nodes.image?.create({ id: "i", ...GATE })), 0, 0);
  if (!pasteInFront(editor.view, slice)) editor.view.dispatch(editor.state.tr.replaceSelection(slice));
  expect(cells()[0]).toEqual(expected);
});
