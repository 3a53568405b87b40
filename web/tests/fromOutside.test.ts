/** What others write comes into an editor as what it is, and moves nothing that hangs on a place in the text. */
import { afterEach, expect, test } from "vitest";
import type { Editor } from "@tiptap/core";
import { yUndoPluginKey, yXmlFragmentToProsemirrorJSON } from "@tiptap/y-tiptap";
import * as Y from "yjs";
import { carryOut } from "../src/workspace/text-leaf/plan";
import { computed } from "../src/workspace/text-leaf/pageEdges";
import { EMPTY_VIEW } from "../src/workspace/view";
import { at, editorOver, ids, writing, written } from "./writing";

const open: Editor[] = [];
afterEach(() => open.splice(0).forEach((editor) => editor.destroy()));

const documentOf = (editor: Editor) =>
  (editor.extensionManager.extensions.find(({ name }) => name === "collaboration")?.options as { document: Y.Doc }).document;

/** Two people at one text; what each writes reaches the other at once. */
function together(...blocks: string[]): [Editor, Editor] {
  const one = writing(...blocks);
  const document = new Y.Doc();
  Y.applyUpdate(document, Y.encodeStateAsUpdate(documentOf(one)));
  const other = editorOver(document);
  const join = (from: Y.Doc, to: Y.Doc) =>
    from.on("update", (update: Uint8Array, origin: unknown) => origin !== "joined" && Y.applyUpdate(to, update, "joined"));
  join(documentOf(one), document);
  join(document, documentOf(one));
  open.push(one, other);
  return [one, other];
}

const showEdges = (editor: Editor, ...edges: [block: string, offset: number][]) =>
  editor.view.dispatch(
    editor.state.tr.setMeta(computed, {
      ...EMPTY_VIEW,
      edges: edges.map(([block, offset], index) => ({ block, offset, label: String(index + 2) })),
    }),
  );

/** The page edges that are drawn, each with the words before and behind it in its block. */
const edges = (editor: Editor) =>
  [...editor.view.dom.querySelectorAll(".page-edge")].map(
    (edge) => `${edge.previousSibling?.textContent ?? ""}|${edge.nextSibling?.textContent ?? ""}`,
  );

/** What is drawn, what the editor holds and what is shared. */
function expectOneText(editor: Editor): void {
  const shared = yXmlFragmentToProsemirrorJSON(documentOf(editor).getXmlFragment("text")) as { content: { content?: unknown }[] };
  const words = (content: unknown) =>
    ((content as { text: string }[] | undefined) ?? []).map(({ text }) => text).join("");
  expect(shared.content.map(({ content }) => words(content))).toEqual(written(editor).map((block) => block.replace(/^[^:]+: /, "")));
  expect([...editor.view.dom.querySelectorAll("p")].map((p) => p.textContent)).toEqual(
    written(editor).map((block) => block.replace(/^[^:]+: /, "")),
  );
}

test("page edges stay where they are while another writes", () => {
  const [one, other] = together("The weir", "Water falls over the weir.", "The gate", "It is shut.");
  showEdges(one, ["b2", 11], ["b4", 0]);
  const before = edges(one);
  expect(before).toEqual(["Water falls| over the weir.", "The gate|It is shut."]);
  at(other, 1);
  other.commands.insertContent(" of stone");
  at(other, 2);
  other.commands.insertContent(" Loudly.");
  expect(edges(one)).toEqual(["Water falls| over the weir. Loudly.", "The gate|It is shut."]);
  at(other, 4, 0);
  other.commands.splitBlock();
  expect(edges(one)).toHaveLength(2);
  expectOneText(one);
});

test("the cursor is at the start of a text that arrives", () => {
  const [one] = together("The weir", "Water falls over the weir.");
  const late = editorOver(new Y.Doc());
  open.push(late);
  Y.applyUpdate(documentOf(late), Y.encodeStateAsUpdate(documentOf(one)));
  expect(written(late)).toEqual(written(one));
  expect(late.state.selection.from).toBe(1);
});

test("undo moves no page edge either", () => {
  const [one] = together("The weir", "Water falls over the weir.");
  showEdges(one, ["b2", 11]);
  (yUndoPluginKey.getState(one.state) as { undoManager: Y.UndoManager }).undoManager.stopCapturing();
  at(one, 1);
  one.commands.insertContent(" of stone");
  one.commands.undo();
  expect(written(one)[0]).toBe("body: The weir");
  expect(edges(one)).toEqual(["Water falls| over the weir."]);
});

test("a cursor stays in its words, and what is selected stays selected", () => {
  const [one, other] = together("The weir", "Water falls.", "The gate");
  at(one, 2, 2, [2, 7]);
  at(other, 2, 0);
  other.commands.insertContent("Then ");
  at(other, 1, 0);
  other.commands.splitBlock();
  const { from, to } = one.state.selection;
  expect(one.state.doc.textBetween(from, to)).toBe("ter f");
});

test("words repeated beside themselves, and all of a text taken out", () => {
  const [one, other] = together("aa", "aa", "b");
  at(other, 1);
  other.commands.insertContent("a");
  expect(written(one)).toEqual(["body: aaa", "body: aa", "body: b"]);
  at(other, 1, 1, [1, 3]);
  other.commands.deleteSelection();
  expect(written(one)).toEqual(["body: a", "body: aa", "body: b"]);
  other.commands.selectAll();
  other.commands.deleteSelection();
  expect(written(one)).toEqual(written(other));
  expectOneText(one);
});

test("much that comes at once leaves alone what it does not touch", () => {
  const [one, other] = together("The weir", "Water falls.", "The gate", "It is shut.", "The pier");
  showEdges(one, ["b2", 6], ["b4", 3]);
  at(one, 4, 6);
  documentOf(other).transact(() => {
    const text = documentOf(other).getXmlFragment("text");
    const paragraph = (index: number) => text.get(index) as Y.XmlElement;
    (paragraph(1).get(0) as Y.XmlText).insert(0, "Cold ");
    paragraph(3).setAttribute("style", "heading-2");
    const added = new Y.XmlElement("paragraph");
    added.setAttribute("id", "new");
    text.insert(3, [added]);
    text.delete(2, 1);
    text.delete(4, 1);
  });
  expect(written(one)).toEqual(["body: The weir", "body: Cold Water falls.", "body: ", "heading-2: It is shut."]);
  expect(edges(one)).toEqual(["Cold Water |falls.", "It |is shut."]);
  const { $from } = one.state.selection;
  expect([$from.parent.textContent, $from.parentOffset]).toEqual(["It is shut.", 6]);
  expectOneText(one);
});

test("a section that another moves takes its blocks along, and the others stay", () => {
  const [one, other] = together("A", "B", "C", "D", "E");
  const move = (from: number, to: number) => {
    const { doc, tr } = other.state;
    const block = doc.child(from);
    const start = doc.content.content.slice(0, from).reduce((size, node) => size + node.nodeSize, 0);
    tr.delete(start, start + block.nodeSize);
    const aim = tr.doc.content.content.slice(0, to).reduce((size, node) => size + node.nodeSize, 0);
    other.view.dispatch(tr.insert(aim, block));
  };
  at(one, 3, 1);
  move(0, 4);
  expect(ids(one)).toEqual(["b2", "b3", "b4", "b5", "b1"]);
  expect(one.state.selection.$from.parent.textContent).toBe("C");
  move(4, 0);
  expect(ids(one)).toEqual(["b1", "b2", "b3", "b4", "b5"]);
  expect(one.state.selection.$from.parent.textContent).toBe("C");
});

test("a cursor goes along with its block when another moves that, to behind the same words", () => {
  const [one, other] = together("Water falls", "B", "C", "D", "E");
  at(one, 1, 5);
  carryOut(other, [{ step: "move", blocks: ["b1"], after: "b5" }]);
  expect(ids(one)).toEqual(["b2", "b3", "b4", "b5", "b1"]);
  const here = () => [one.state.selection.$from.parent.textContent, one.state.selection.$from.parentOffset];
  expect(here()).toEqual(["Water falls", 5]);
  // As it arrives where the mover had not heard of the last words yet: they come a moment later.
  other.commands.undo();
  expect(here()).toEqual(["Water falls", 5]);
  expectOneText(one);
});

test("whoever moves the block with the cursor keeps it there", () => {
  const [one] = together("A", "Water", "C", "D");
  at(one, 2, 3);
  carryOut(one, [{ step: "move", blocks: ["b2"], after: "b4" }]);
  expect(ids(one)).toEqual(["b1", "b3", "b4", "b2"]);
  expect([one.state.selection.$from.parent.textContent, one.state.selection.$from.parentOffset]).toEqual(["Water", 3]);
});

test("a hundred random edits by two people leave both with one text, every block with its id", () => {
  const [one, other] = together(...Array.from({ length: 12 }, (_, number) => `Paragraph ${number}`));
  let seed = 20;
  const random = (below: number) => {
    seed = (seed * 1103515245 + 12345) % 2147483648;
    return Math.floor((seed / 2147483648) * below);
  };
  for (let round = 0; round < 100; round += 1) {
    const editor = random(2) ? one : other;
    const block = 1 + random(editor.state.doc.childCount);
    at(editor, block, random(editor.state.doc.child(block - 1).content.size + 1));
    const kind = random(5);
    if (kind < 2) editor.commands.insertContent("water "[random(6)] ?? "w");
    else if (kind === 2) editor.commands.splitBlock();
    else if (kind === 3) editor.commands.joinBackward();
    else editor.commands.undo();
    expect(written(one)).toEqual(written(other));
  }
  expectOneText(one);
  expectOneText(other);
  expect(ids(one)).toEqual(ids(other));
  expect(new Set(ids(one)).size).toBe(ids(one).length);
});
