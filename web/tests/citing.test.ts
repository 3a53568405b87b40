/** Citations and terms of the index, as they are put on words, changed and taken off. */
import type { Editor } from "@tiptap/core";
import { afterEach, beforeEach, expect, test } from "vitest";
import * as Y from "yjs";
import type { FoundWords } from "../src/api/client";
import { cite, citeInstead, citeSeveral, elsewhere, indexInstead, indexWords, markAt, uncite, wordsOfStretches, selected } from "../src/workspace/text-leaf/citing";
import { atHand, markedAtHand } from "../src/workspace/text-leaf/placing";
import { entriesOf, MOST_ENTRIES } from "../src/workspace/text-leaf/marks";
import { editorOver } from "./writing";

let editor: Editor;

beforeEach(() => {
  editor = editorOver(new Y.Doc());
  editor.commands.setContent({
    type: "doc",
    content: [
      { type: "paragraph", attrs: { id: "a" }, content: [{ type: "text", text: "The neap tide is low. " }] },
      { type: "paragraph", attrs: { id: "b" }, content: [{ type: "text", text: "A tide comes twice." }] },
    ],
  });
});
afterEach(() => editor.destroy());

/** The words of each mark of this name, with what it says beside its id. */
const marks = (name: "citation" | "indexed") => {
  const found: [string, unknown][] = [];
  editor.state.doc.descendants((node) => {
    const mark = node.marks.find(({ type }) => type.name === name);
    if (mark && node.isText) found.push([node.text ?? "", name === "citation" ? mark.attrs.of : mark.attrs.entries]);
  });
  return found;
};

const select = (from: number, to: number) => editor.commands.setTextSelection({ from, to });
const found = (paragraph: string, start: number, words: string): FoundWords => ({ paragraph, start, end: start + words.length, words, before: "", after: "", how: "long" });

test("what is selected, without the space around it, over paragraphs as well", () => {
  select(4, 14);
  expect(selected(editor)).toEqual([{ block: "a", start: 4, end: 13, words: "neap tide" }]);
  select(15, 31);
  expect(wordsOfStretches(selected(editor))).toBe("is low. A tide");
  select(5, 5);
  expect(selected(editor)).toEqual([]);
});

test("a citation over two paragraphs is one, each further place one of its own", () => {
  select(15, 31);
  expect(cite(editor, "v", selected(editor), [])).toBe(true);
  const ids = new Set<unknown>();
  editor.state.doc.descendants((node) => node.marks.forEach(({ type, attrs }) => type.name === "citation" && ids.add(attrs.id)));
  expect(ids.size).toBe(1);
  cite(editor, "w", [], [found("a", 4, "neap"), found("b", 7, "comes")]);
  expect(marks("citation")).toEqual([["neap", "w"], ["is low.", "v"], ["A tide", "v"], ["comes", "w"]]);
});

test("several authorities are cited in one step of undo, and these citations alone are taken off again", () => {
  cite(editor, "v", [], [found("b", 7, "comes")]);
  const ids = citeSeveral(editor, [{ of: "v", places: [found("a", 4, "neap")] }, { of: "w", places: [found("a", 9, "tide"), found("b", 2, "tide")] }]);
  expect(marks("citation")).toEqual([["neap", "v"], ["tide", "w"], ["tide", "w"], ["comes", "v"]]);
  editor.commands.undo();
  expect(marks("citation")).toEqual([["comes", "v"]]);
  editor.commands.redo();
  expect(uncite(editor, ids)).toBe(true);
  expect(marks("citation")).toEqual([["comes", "v"]]);
});

test("words that somebody has rewritten meanwhile are left alone", () => {
  expect(cite(editor, "v", [], [found("a", 4, "high"), found("gone", 0, "tide")])).toBe(false);
  expect(marks("citation")).toEqual([]);
});

test("of two citations over the same words the later counts; joined, they are of one authority; taken off, the words stay", () => {
  cite(editor, "v", [], [found("a", 4, "neap tide")]);
  cite(editor, "w", [], [found("a", 9, "tide is")]);
  expect(marks("citation")).toEqual([["neap ", "v"], ["tide is", "w"]]);
  citeInstead(editor, "v", "w");
  expect(marks("citation")).toEqual([["neap ", "w"], ["tide is", "w"]]);
  citeInstead(editor, "w", null);
  expect(marks("citation")).toEqual([]);
  expect(editor.getText()).toContain("The neap tide is low.");
});

test("words stand under several terms, where stretches overlap as well", () => {
  indexWords(editor, [["tide"], false], [], [found("a", 9, "tide")]);
  indexWords(editor, [["tide", "neap"], true], [{ block: "a", start: 4, end: 13, words: "neap tide" }], []);
  expect(marks("indexed")).toEqual([
    ["neap ", [[["tide", "neap"], true]]],
    ["tide", [[["tide"], false], [["tide", "neap"], true]]],
  ]);
  // Marked again under the same term, it stands there once.
  indexWords(editor, [["tide"], true], [], [found("a", 9, "tide")]);
  expect(marks("indexed")[1]).toEqual(["tide", [[["tide", "neap"], true], [["tide"], false]]]);
});

test("words under as many terms as there is room for keep all of them, and that is told", () => {
  const terms = Array.from({ length: MOST_ENTRIES }, (_, n) => `term ${n}`);
  for (const term of terms) expect(indexWords(editor, [[term], false], [], [found("a", 9, "tide")])).toBe(0);
  expect(indexWords(editor, [["one more"], false], [], [found("a", 9, "tide"), found("b", 2, "tide")])).toBe(1);
  expect(marks("indexed")).toEqual([["tide", terms.map((term) => [[term], false])], ["tide", [[["one more"], false]]]]);
  expect(indexWords(editor, [["term 3"], true], [], [found("a", 9, "tide")])).toBe(0);
  expect(indexWords(editor, [["tide"], false], [], [found("a", 9, "gone")])).toBe(null);
});

test("a term renamed everywhere, and taken off; what stands under another as well stays", () => {
  indexWords(editor, [["tide"], false], [], [found("a", 9, "tide"), found("b", 2, "tide")]);
  indexWords(editor, [["sea"], false], [], [found("b", 2, "tide")]);
  indexInstead(editor, ["tide"], (main) => [["tides", "both"], main]);
  expect(marks("indexed")).toEqual([["tide", [[["tides", "both"], false]]], ["tide", [[["tides", "both"], false], [["sea"], false]]]]);
  indexInstead(editor, ["tides", "both"], null);
  expect(marks("indexed")).toEqual([["tide", [[["sea"], false]]]]);
});

test("what was found where words are selected is not marked twice", () => {
  const here = [{ block: "a", start: 4, end: 13, words: "neap tide" }];
  expect(elsewhere([found("a", 9, "tide"), found("b", 2, "tide")], here)).toEqual([found("b", 2, "tide")]);
});

test("the mark at the cursor, in front of it and within", () => {
  cite(editor, "v", [], [found("a", 4, "neap")]);
  for (const [at, there] of [[4, false], [5, true], [7, true], [10, false]] as const) {
    select(at, at);
    expect(markAt(editor, "citation") !== undefined).toBe(there);
  }
});

test("marked words keep what else is at hand: a link, several marks", () => {
  cite(editor, "v", [], [found("a", 4, "neap")]);
  indexWords(editor, [["tide"], false], [], [found("a", 4, "neap")]);
  editor.chain().setTextSelection({ from: 5, to: 9 }).setLink({ href: "https://example.org" }).setTextSelection(7).run();
  expect(atHand(editor)).toMatchObject({ kind: "link", href: "https://example.org" });
  expect(markedAtHand(editor)).toMatchObject({ citation: { of: "v" }, indexed: { entries: [[["tide"], false]] } });
});

test("pasted marks say what they may, or nothing", () => {
  expect(entriesOf([[["a", " b "], true]])).toEqual([[["a", "b"], true]]);
  for (const odd of ["x", [[[], true]], [[["a", "b", "c", "d"], true]], [[["x".repeat(501)], true]], [[[5], true]], Array.from({ length: 17 }, () => [["a"], false])]) {
    expect(entriesOf(odd)).toEqual([]);
  }
  editor.commands.setContent('<p>One <span data-indexed="x" data-entries="[[[&quot;a&quot;],true]]">two</span> <span data-indexed="y" data-entries="{{">three</span> <span data-citation="c" data-of="bad id">four</span></p>');
  expect(marks("indexed").filter(([, entries]) => entries !== null)).toEqual([["two", [[["a"], true]]]]);
});
