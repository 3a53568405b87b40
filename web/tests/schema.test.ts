/** What a text may hold is the same for the editor as for the core, which wrote its side down. */
import { Editor, getSchema } from "@tiptap/core";
import type { NodeType } from "@tiptap/pm/model";
import { expect, test, vi } from "vitest";
import * as Y from "yjs";
import { familyOf, STAND_INS, standIn } from "../src/workspace/controls/fonts";
import { Bounds, MOST } from "../src/workspace/text-leaf/bounds";
import { CORE, textExtensions } from "../src/workspace/text-leaf/extensions";
import core from "./schema.json";

const extensions = () => textExtensions(new Y.Doc(), { report: "r", styles: () => [], room: null, goTo: () => undefined, toContents: () => undefined });
const schema = getSchema(extensions());

/** The names of all nodes that can stand somewhere in another. */
function held(type: NodeType): string[] {
  const found = new Set<string>();
  const seen = new Set([type.contentMatch]);
  for (const match of seen)
    for (let edge = 0; edge < match.edgeCount; edge += 1) {
      const { type: child, next } = match.edge(edge);
      found.add(child.name);
      seen.add(next);
    }
  return [...found];
}

test("elements, their attributes and what they hold", () => {
  const ours = Object.values(schema.nodes)
    .filter((type) => !type.isText)
    .map((type) => {
      const holds = held(type);
      const shape = { attributes: Object.keys(type.spec.attrs ?? {}).sort(), holds: holds.filter((name) => name !== "text").sort(), words: holds.includes("text") };
      return [type.name, shape] as const;
    });
  expect(Object.fromEntries(ours)).toEqual(core.elements);
});

test("no element promises that it holds anything: two people may each have taken out half", () => {
  expect(Object.values(schema.nodes).filter((type) => type !== schema.topNodeType && !type.contentMatch.validEnd)).toEqual([]);
});

test("formatting", () => {
  // `band` is how blocks are drawn, and is never shared.
  expect(Object.keys(schema.marks).filter((name) => name !== "band").sort()).toEqual(core.marks);
  // Words with a mark that paragraphs may not have would be lost where others draw them.
  expect(Object.values(schema.marks).filter((type) => type.name !== "band" && !schema.nodes.paragraph?.allowsMarkType(type))).toEqual([]);
});

test("what there is room for: no more is put in, and it is said", () => {
  expect(MOST).toEqual(core.most);
  const notify = vi.fn();
  const editor = new Editor({ ...CORE, extensions: [...extensions(), Bounds.configure({ notify })] });
  const wide = (cells: number) => `<table><tr>${"<td><p>x</p></td>".repeat(cells)}</tr></table>`;
  editor.commands.insertContent(wide(63));
  expect(notify).not.toHaveBeenCalled();
  const before = editor.getHTML();
  editor.commands.insertContent(wide(64));
  expect(notify).toHaveBeenLastCalledWith("A data table has room for 63 columns; make two of it.");
  editor.commands.insertContent('<div data-table="t" data-kind="contents"></div>'.repeat(51));
  expect(notify).toHaveBeenLastCalledWith("A report has room for 50 tables; take one out first.");
  expect(editor.getHTML()).toBe(before);
  editor.destroy();
});

test("a paragraph has room for so much: typed, put in, joined; and one can take away from what is longer", () => {
  const notify = vi.fn();
  const editor = new Editor({ ...CORE, extensions: [...extensions(), Bounds.configure({ notify })] });
  const lengths = () => editor.state.doc.content.content.map((block) => block.content.size);
  const words = (count: number) => ({ type: "paragraph", content: [{ type: "text", text: "x".repeat(count) }] });
  editor.commands.setContent({ type: "doc", content: [words(60_000), words(40_000)] });
  editor.commands.setTextSelection(60_003);
  editor.commands.joinBackward();
  expect(lengths()).toEqual([100_000]);
  expect(notify).not.toHaveBeenCalled();
  const full = "A paragraph has room for 100,000 characters; make several of it.";
  for (const deed of [
    () => editor.commands.insertContentAt(500, "y"),
    () => editor.view.dispatch(editor.state.tr.replaceWith(500, 600, editor.schema.text("z".repeat(101)))),
    () => editor.commands.insertContentAt(100_002, words(100_001)),
    () => editor.view.dispatch(editor.state.tr.replaceWith(500, 500, [1, 2].map(() => editor.schema.node("hardBreak")))),
  ]) {
    notify.mockClear();
    deed();
    expect(lengths()).toEqual([100_000]);
    expect(notify).toHaveBeenCalledWith(full);
  }
  editor.commands.insertContentAt(100_002, words(2));
  editor.commands.setTextSelection(100_003);
  editor.commands.joinBackward();
  expect(lengths()).toEqual([100_000, 2]);
  // Two people met: neither had put in too much.
  editor.view.dispatch(editor.state.tr.insertText("x".repeat(50_000), 1).setMeta("y-sync$", { isChangeOrigin: true }));
  expect(lengths()).toEqual([150_000, 2]);
  editor.commands.insertContentAt(9, "y");
  expect(lengths()).toEqual([150_000, 2]);
  editor.commands.deleteRange({ from: 10, to: 20 });
  editor.commands.setTextSelection(75_001);
  editor.commands.splitBlock();
  expect(lengths()).toEqual([75_000, 74_990, 2]);
  editor.destroy();
});

test("which family stands in for one that lacks a character", () => {
  expect(STAND_INS).toEqual(core.standIns);
  for (const [name, shown] of Object.entries(core.shownIn)) expect([name, standIn(name)]).toEqual([name, shown]);
  expect(familyOf("Caladea")).toBe('"Caladea", "Liberation Serif", "Liberation Sans", "Liberation Mono", "DejaVu Sans"');
  expect(familyOf("Garamond")).toBe('"of this report, Garamond", "Liberation Serif", "Liberation Sans", "Carlito", "Liberation Mono", "DejaVu Sans"');
  expect(familyOf('Evil"; } *')).toBe(familyOf("Liberation Sans"));
});
