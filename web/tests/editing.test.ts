/** What the commands do to the text. */
import { afterEach, expect, test } from "vitest";
import type { Editor } from "@tiptap/core";
import {
  giveStyle,
  insertContents,
  insertDataTable,
  insertPageBreak,
  isOn,
  removeTable,
  setOnParagraphs,
  shiftLevel,
  splitParagraph,
  toggle,
} from "../src/workspace/text-leaf/commands";
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
  insertContents(editor, true);
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
  insertDataTable(editor);
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

test("alignment and space go to whole paragraphs", () => {
  open("One", "Two");
  at(editor, 1, 1, [2, 1]);
  setOnParagraphs(editor, "align", "right");
  setOnParagraphs(editor, "after", 12);
  expect(editor.getHTML().match(/text-align: right/g)).toHaveLength(2);
  setOnParagraphs(editor, "align", null);
  expect(editor.getHTML()).not.toContain("text-align");
  expect(editor.getHTML()).toContain("margin-bottom: 12pt");
});
