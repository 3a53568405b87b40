/** What the commands do to the text. */
import { afterEach, expect, test } from "vitest";
import type { Editor } from "@tiptap/core";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import {
  beginList,
  clearLook,
  giveStyle,
  isOn,
  leaveList,
  setLook,
  shiftLevel,
  splitParagraph,
  toggle,
  typeAfter,
} from "../src/workspace/text-leaf/commands";
import { beginBelow } from "../src/workspace/text-leaf/hint";
import { KINDS } from "../src/workspace/text-leaf/kinds";
import { insertDataTable } from "../src/workspace/text-leaf/kinds/dataTable";
import { insertPageBreak } from "../src/workspace/text-leaf/kinds/pageBreak";
import { insertPicture } from "../src/workspace/text-leaf/kinds/picture";
import { insertTable, removeTable } from "../src/workspace/text-leaf/kinds/placedTable";
import { lookOf } from "../src/workspace/text-leaf/useLook";
import { at, ids, STYLES, writing, written } from "./writing";

let editor: Editor;
const open = (...blocks: string[]) => (editor = writing(...blocks));
afterEach(() => editor.destroy());

test("a style goes to every paragraph that the selection touches", () => {
  open("One", "Two", "Three");
  at(editor, 1, 2, [2, 1]);
  expect(giveStyle(editor, "heading-2")).toBe(2);
  expect(written(editor)).toEqual(["heading-2: One", "heading-2: Two", "body: Three"]);
});

test("a style goes to the named paragraphs alone, and only those that change are counted", () => {
  open("One", "heading-1: Two", "Three");
  at(editor, 3);
  expect(giveStyle(editor, "heading-1", ["b1", "b2", "gone"])).toBe(1);
  expect(written(editor)).toEqual(["heading-1: One", "heading-1: Two", "body: Three"]);
});

test("undo takes back one giving of a style at a time", () => {
  open("One");
  giveStyle(editor, "heading-1");
  giveStyle(editor, "heading-2");
  editor.commands.undo();
  expect(written(editor)).toEqual(["heading-1: One"]);
  editor.commands.undo();
  expect(written(editor)).toEqual(["body: One"]);
});

test("levels shift within 1 to 9; body text becomes level 1", () => {
  open("Words", "heading-1: Top", "heading-9: Deepest");
  at(editor, 1, 0, [3, "end"]);
  shiftLevel(editor, 1, STYLES);
  expect(written(editor)).toEqual(["heading-1: Words", "heading-2: Top", "heading-9: Deepest"]);
  shiftLevel(editor, -1, STYLES);
  shiftLevel(editor, -1, STYLES);
  expect(written(editor)).toEqual(["heading-1: Words", "heading-1: Top", "heading-7: Deepest"]);
});

test("Enter behind a heading goes on in body text", () => {
  open("heading-1: Head", "Text");
  at(editor, 1);
  splitParagraph(editor, STYLES);
  expect(written(editor)).toEqual(["heading-1: Head", "body: ", "body: Text"]);
  expect(ids(editor)[0]).toBe("b1");
  expect(new Set(ids(editor)).size).toBe(3);
});

test("Enter within a heading parts it; the first half keeps the id", () => {
  open("heading-1: Headway");
  at(editor, 1, 4);
  splitParagraph(editor, STYLES);
  expect(written(editor)).toEqual(["heading-1: Head", "heading-1: way"]);
  expect(ids(editor)[0]).toBe("b1");
  expect(ids(editor)[1]).not.toBe("b1");
});

test("Enter within an item that counting begins with does not begin it again", () => {
  open("item-1: Third");
  editor.commands.updateAttributes("paragraph", { numberFrom: 3 });
  at(editor, 1, 2);
  splitParagraph(editor, STYLES);
  expect(editor.state.doc.children.map(({ attrs }) => attrs.numberFrom as unknown)).toEqual([3, null]);
});

test("Enter in front of a heading makes room above it; the heading keeps its id", () => {
  open("heading-1: Head");
  at(editor, 1, 0);
  splitParagraph(editor, STYLES);
  expect(written(editor)).toEqual(["body: ", "heading-1: Head"]);
  expect(ids(editor)[1]).toBe("b1");
});

test("Enter in an empty item ends the list", () => {
  open("bullet-1: Item", "bullet-1: ");
  at(editor, 1);
  splitParagraph(editor, STYLES);
  expect(written(editor)).toEqual(["bullet-1: Item", "bullet-1: ", "bullet-1: "]);
  splitParagraph(editor, STYLES);
  expect(written(editor)).toEqual(["bullet-1: Item", "body: ", "bullet-1: "]);
});

test("a page break within a paragraph parts it there", () => {
  open("Before after");
  at(editor, 1, 7);
  insertPageBreak(editor);
  expect(written(editor)).toEqual(["body: Before ", "pageBreak", "body: after"]);
  expect(new Set(ids(editor)).size).toBe(3);
});

test("a page break at the end of the text leaves a line to write on", () => {
  open("All");
  at(editor, 1);
  insertPageBreak(editor);
  editor.commands.insertContent("More");
  expect(written(editor)).toEqual(["body: All", "pageBreak", "body: More"]);
});

test("a contents table takes the place of an empty paragraph, and goes again", () => {
  open("Before", "", "Behind");
  at(editor, 2);
  insertTable(editor, "contents", "page", []);
  expect(written(editor)).toEqual(["body: Before", "placedTable", "body: Behind"]);
  const { table, ownPage } = editor.state.doc.child(1).attrs as { table: string; ownPage: boolean };
  expect(ownPage).toBe(true);
  removeTable(editor, "another");
  expect(written(editor)).toContain("placedTable");
  removeTable(editor, table);
  expect(written(editor)).toEqual(["body: Before", "body: Behind"]);
  editor.commands.undo();
  expect(editor.state.doc.child(1).attrs.table).toBe(table);
});

test("a data table comes with the cursor in its first cell", () => {
  open("Before");
  insertDataTable(editor, STYLES);
  editor.commands.insertContent("Gate");
  expect(written(editor)).toEqual(["body: Before", "dataTable", "body: "]);
  const table = editor.state.doc.child(1);
  expect(table.childCount).toBe(3);
  expect(table.child(0).child(0).textContent).toBe("Gate");
});

test("bold comes and goes whatever the style says", () => {
  open("heading-1: Bold by style", "Plain by style");
  at(editor, 1, 0, [1, 4]);
  expect(isOn(editor, "bold", STYLES)).toBe(true);
  toggle(editor, "bold", STYLES);
  expect(isOn(editor, "bold", STYLES)).toBe(false);
  toggle(editor, "bold", STYLES);
  expect(isOn(editor, "bold", STYLES)).toBe(true);
  at(editor, 2, 0, [2, 5]);
  expect(isOn(editor, "bold", STYLES)).toBe(false);
  toggle(editor, "bold", STYLES);
  expect(editor.getHTML()).toContain("<strong>Plain</strong>");
  toggle(editor, "bold", STYLES);
  expect(editor.getHTML()).not.toContain("<strong>");
});

test("underline comes and goes over several paragraphs", () => {
  open("One", "Two");
  at(editor, 1, 0, [2, 3]);
  toggle(editor, "underline", STYLES);
  expect(isOn(editor, "underline", STYLES)).toBe(true);
  expect(editor.getHTML().match(/<u>/g)).toHaveLength(2);
  at(editor, 1, 0, [1, 1]);
  toggle(editor, "underline", STYLES);
  at(editor, 1, 0, [2, 3]);
  expect(isOn(editor, "underline", STYLES)).toBe(false);
});

test("alignment and space go to whole paragraphs", () => {
  open("One", "Two");
  at(editor, 1, 1, [2, 1]);
  setLook(editor, STYLES, "align", "right");
  setLook(editor, STYLES, "space_after", 12);
  expect(editor.getHTML().match(/text-align: right/g)).toHaveLength(2);
  setLook(editor, STYLES, "align", "left");
  expect(editor.getHTML()).not.toContain("text-align");
  expect(editor.getHTML()).toContain("margin-bottom: 12pt");
});

const sizes = () =>
  editor.state.doc.child(0).content.content.map((node) => [
    node.text,
    ...["size", "colour"].map((name) => node.marks.find((mark) => mark.type.name === "typeface")?.attrs[name] as unknown),
  ]);

test("how a selection looks, and where that differs from its style", () => {
  open("Plain words");
  expect(lookOf(editor, STYLES)).toMatchObject({ of: "paragraph", paragraphs: 1, block: "b1", style: "body", departs: [] });
  setLook(editor, STYLES, "size", 14);
  setLook(editor, STYLES, "align", "center");
  at(editor, 1, 6, [1, 11]);
  setLook(editor, STYLES, "bold", true);
  expect(lookOf(editor, STYLES)).toMatchObject({ of: "words", look: { size: 14, bold: true, align: "center", font: "Caladea" } });
  at(editor, 1, 2);
  const whole = lookOf(editor, STYLES);
  expect(whole?.departs).toEqual(["size", "bold", "align"]);
  expect(whole?.look.size).toBe(14);
  expect(whole?.look).not.toHaveProperty("bold");
  clearLook(editor);
  expect(lookOf(editor, STYLES)?.departs).toEqual([]);
});

test("what is given as the style has it is not said by hand", () => {
  open("Plain words");
  for (const [property, other, styles] of [["size", 14, 11], ["bold", true, false], ["indent", 20, 0], ["underline", true, false]] as const) {
    setLook(editor, STYLES, property, other);
    expect(lookOf(editor, STYLES)?.departs).toEqual([property]);
    setLook(editor, STYLES, property, styles);
  }
  expect(editor.state.doc.child(0).toJSON()).toEqual(writing("Plain words").state.doc.child(0).toJSON());
});

test("a colour for words of two sizes leaves each its size", () => {
  open("Small large");
  at(editor, 1, 0, [1, 5]);
  setLook(editor, STYLES, "size", 9);
  at(editor, 1, 6, [1, 11]);
  setLook(editor, STYLES, "size", 24);
  at(editor, 1, 0, [1, 11]);
  setLook(editor, STYLES, "colour", "#2f7d6b");
  expect(sizes()).toEqual([
    ["Small", 9, "#2f7d6b"],
    [" ", null, "#2f7d6b"],
    ["large", 24, "#2f7d6b"],
  ]);
  setLook(editor, STYLES, "colour", "#000000");
  expect(sizes()).toEqual([
    ["Small", 9, null],
    [" ", undefined, undefined],
    ["large", 24, null],
  ]);
});

const type = (text: string) => {
  for (const key of text) if (!beginList(editor, key, STYLES)) editor.commands.insertContent(key);
};

test.each([
  ["- Gate", "bullet-1: Gate"],
  ["1. Gate", "item-1: Gate"],
  ["-Gate", "body: -Gate"],
  ["11. Gate", "body: 11. Gate"],
  ["A - b", "body: A - b"],
])("%j typed at the start of a paragraph", (typed, becomes) => {
  open("");
  at(editor, 1);
  type(typed);
  expect(written(editor)).toEqual([becomes]);
});

test("one undo, or one Backspace, takes a list that has just begun back to what was typed", () => {
  for (const takeBack of [() => editor.commands.undo(), () => leaveList(editor, STYLES)]) {
    open("");
    at(editor, 1);
    type("- ");
    expect(written(editor)).toEqual(["bullet-1: "]);
    takeBack();
    expect(written(editor)).toEqual(["body: - "]);
    editor.destroy();
  }
  open("");
  at(editor, 1);
  type("- ");
  leaveList(editor, STYLES);
  type("Gate");
  expect(written(editor)).toEqual(["body: - Gate"]);
});

test("Backspace at the start of a list item that has words takes it out of the list", () => {
  open("bullet-1: One", "bullet-1: Two");
  at(editor, 2, 1);
  expect(leaveList(editor, STYLES)).toBe(false);
  at(editor, 2, 0);
  expect(leaveList(editor, STYLES)).toBe(true);
  expect(written(editor)).toEqual(["bullet-1: One", "body: Two"]);
});

test("a picture goes in where it was asked for, and the cursor stays where it is by then", () => {
  open("One", "Two", "Three");
  at(editor, 3, 2);
  insertPicture(editor, "b1", { source: "p.png", width: 10, height: 10 });
  expect(written(editor)).toEqual(["body: One", "image", "body: Two", "body: Three"]);
  expect(editor.state.selection.$from.parent.textContent).toBe("Three");
  expect(editor.state.selection.$from.parentOffset).toBe(2);
});

test("a picture asked for at a paragraph that has gone goes in at the cursor", () => {
  open("One", "Two");
  at(editor, 1);
  insertPicture(editor, "gone", { source: "p.png", width: 10, height: 10 });
  expect(written(editor)).toEqual(["body: One", "image", "body: Two"]);
});

test("what is typed while a table is selected goes behind it", () => {
  open("One", "Two");
  at(editor, 1);
  insertTable(editor, "contents", "here", []);
  editor.commands.setNodeSelection(editor.state.doc.child(0).nodeSize);
  expect(typeAfter(editor.view, "x", STYLES)).toBe(true);
  expect(written(editor)).toEqual(["body: One", "placedTable", "body: x", "body: Two"]);
  expect(typeAfter(editor.view, "y", STYLES)).toBe(false);
});

test.each(KINDS.flatMap(({ name, puts = [] }) => puts.flatMap((put) => ("choices" in put ? put.choices : [put]).map((way) => ({ name, put: way })))))(
  "$name: $put.label goes in at an empty paragraph, and something can be written behind it",
  ({ name, put }) => {
    if (!("insert" in put)) return;
    const editor = writing("one", "");
    at(editor, 2);
    put.insert(editor, STYLES);
    // What lies on its side ends where it was put in.
    expect(written(editor)).toEqual(["body: one", name, "body: ", ...(put.label.startsWith("on its side") ? [name, "body: "] : [])]);
    expect(ids(editor).every(Boolean)).toBe(true);
  },
);

test("whoever types below the empty heading of a new report leaves none behind, and undo brings it back", () => {
  open("heading-1: ", "");
  at(editor, 1);
  expect(beginBelow(editor.view, "W")).toBe(false);
  at(editor, 2);
  yUndoPluginKey.getState(editor.state)?.undoManager.stopCapturing();
  expect(beginBelow(editor.view, "W")).toBe(true);
  editor.view.dispatch(editor.state.tr.insertText("ords"));
  expect(written(editor)).toEqual(["body: Words"]);
  editor.commands.undo();
  expect(written(editor)).toEqual(["heading-1: ", "body: "]);
  open("heading-1: Aims", "");
  at(editor, 2);
  expect(beginBelow(editor.view, "W")).toBe(false);
});
