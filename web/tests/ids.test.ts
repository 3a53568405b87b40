/** Tables, links and bookmarks hang on ids: each block has one of its own, and keeps it when it is moved. */
import type { Editor } from "@tiptap/core";
import { Fragment, Slice } from "@tiptap/pm/model";
import { afterEach, expect, test } from "vitest";
import { insertTable } from "../src/workspace/text-leaf/kinds/placedTable";
import { newId } from "../src/workspace/text-leaf/ids";
import { ids, writing, written } from "./writing";

let editor: Editor;
afterEach(() => editor?.destroy());

const end = () => editor.state.doc.content.size;
const copy = (from: number, to: number) => new Slice(Fragment.from(editor.state.doc.slice(from, to).content), 0, 0);

test("a copy gets an id of its own, the original keeps its", () => {
  editor = writing("heading-1: Head", "Text");
  const first = editor.state.doc.child(0).nodeSize;
  editor.view.dispatch(editor.state.tr.replace(end(), end(), copy(0, first)));
  expect(written(editor)).toEqual(["heading-1: Head", "body: Text", "heading-1: Head"]);
  expect(ids(editor).slice(0, 2)).toEqual(["b1", "b2"]);
  expect(ids(editor)[2]).toMatch(/^[a-z0-9]{12}$/);
});

test("a copy in front of the original does not take its id away", () => {
  editor = writing("heading-1: Head", "Text");
  editor.view.dispatch(editor.state.tr.replace(0, 0, copy(0, editor.state.doc.child(0).nodeSize)));
  expect(ids(editor).slice(1)).toEqual(["b1", "b2"]);
  expect(ids(editor)[0]).not.toBe("b1");
});

test("what is cut and put in elsewhere keeps its id", () => {
  editor = writing("heading-1: Alpha", "Text", "heading-1: Beta");
  const first = editor.state.doc.child(0).nodeSize;
  const held = copy(0, first);
  editor.view.dispatch(editor.state.tr.delete(0, first));
  editor.view.dispatch(editor.state.tr.replace(end(), end(), held));
  expect(written(editor)).toEqual(["body: Text", "heading-1: Beta", "heading-1: Alpha"]);
  expect(ids(editor)).toEqual(["b2", "b3", "b1"]);
});

test("words that leave an empty paragraph behind take its id along", () => {
  editor = writing("heading-1: Alpha", "Text");
  const held = copy(0, editor.state.doc.child(0).nodeSize);
  editor.view.dispatch(editor.state.tr.delete(1, editor.state.doc.child(0).nodeSize - 1));
  editor.view.dispatch(editor.state.tr.replace(end(), end(), held));
  expect(ids(editor)[2]).toBe("b1");
  expect(ids(editor)[0]).not.toBe("b1");
});

test("a copied table is a table of its own", () => {
  editor = writing("");
  insertTable(editor, "contents", "here", []);
  const table = editor.state.doc.child(0);
  editor.view.dispatch(editor.state.tr.replace(end(), end(), copy(0, table.nodeSize)));
  const tables = editor.state.doc.content.content.filter((node) => node.type.name === "placedTable");
  expect(tables).toHaveLength(2);
  expect(tables[0]?.attrs.table).toBe(table.attrs.table);
  expect(tables[1]?.attrs.table).not.toBe(table.attrs.table);
});

test("new ids differ", () => {
  expect(new Set(Array.from({ length: 2000 }, newId)).size).toBe(2000);
});
