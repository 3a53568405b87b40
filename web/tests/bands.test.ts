/** Which blocks stand in one band. */
import { afterEach, expect, test } from "vitest";
import type { Editor } from "@tiptap/core";
import * as Y from "yjs";
import { bandsOf } from "../src/workspace/text-leaf/bands";
import type { Styles } from "../src/workspace/text-leaf/styles";
import { at, editorOver, style, STYLES, writing } from "./writing";

let editor: Editor | null = null;
afterEach(() => editor?.destroy());

const block = (number: number | null, lap: number | null = 0) => ({ number, lap });
const sizes = (bands: readonly { number: number }[]) => {
  const runs: [number, number][] = [];
  for (const { number } of bands) {
    const last = runs.at(-1);
    if (last?.[0] === number) last[1] += 1;
    else runs.push([number, 1]);
  }
  return runs;
};

test("a long text comes in bands of some dozens", () => {
  expect(sizes(bandsOf(Array<ReturnType<typeof block>>(100).fill(block(null)), 0))).toEqual([[1, 40], [2, 40], [3, 20]]);
});

test("a band begins where no space collapses, and anyhow at twice its size, moved up by what would have collapsed", () => {
  const blocks = Array.from({ length: 60 }, (_, index) => block(null, index === 45 ? 0 : 6));
  expect(sizes(bandsOf(blocks, 0))).toEqual([[1, 45], [2, 15]]);
  const tight = bandsOf(Array<ReturnType<typeof block>>(100).fill(block(null, 6)), 0);
  expect(sizes(tight)).toEqual([[1, 80], [2, 20]]);
  expect(tight.at(-1)).toEqual({ number: 2, lap: 6 });
});

test("no band begins at a block that is not a paragraph, however long that takes", () => {
  expect(sizes(bandsOf(Array<ReturnType<typeof block>>(200).fill(block(null, null)), 0))).toEqual([[1, 200]]);
});

test("blocks stay in their bands; new ones go into the band above, and what was moved into the one where it now is", () => {
  const was = [...Array<number>(40).fill(1), ...Array<number>(40).fill(2)];
  const now = [...was.slice(0, 10), null, ...was.slice(10, 60), 1, ...was.slice(60)].map((number) => block(number));
  expect(sizes(bandsOf(now, 0))).toEqual([[1, 41], [2, 41]]);
});

test("the part of a band in which somebody writes is not drawn anew", () => {
  const blocks = Array<ReturnType<typeof block>>(81).fill(block(7));
  expect(sizes(bandsOf(blocks, 80))).toEqual([[8, 80], [7, 1]]);
  expect(sizes(bandsOf(blocks, 3))).toEqual([[7, 80], [8, 1]]);
});

test("bands are elements around blocks, and nothing of them is shared or copied", () => {
  editor = writing(...Array<string>(100).fill("Water"));
  const bands = [...editor.view.dom.children].map((band) => [band.className, band.childElementCount]);
  expect(bands).toEqual([["band", 40], ["band", 40], ["band", 20]]);
  at(editor, 50);
  const element = editor.view.dom.children[1]?.children[9];
  editor.commands.splitBlock();
  expect(editor.view.dom.children[1]?.childElementCount).toBe(41);
  expect(editor.view.dom.children[1]?.children[9]).toBe(element);
  editor.commands.selectAll();
  const { dom } = editor.view.serializeForClipboard(editor.state.selection.content());
  expect(dom.querySelectorAll("p")).toHaveLength(101);
  expect(dom.querySelector(".band")).toBeNull();
});

test("bands are moved up otherwise once a style has another space", () => {
  let styles: Styles = STYLES;
  editor = editorOver(new Y.Doc(), () => styles);
  editor.commands.setContent({
    type: "doc",
    content: Array.from({ length: 120 }, (_, index) => ({ type: "paragraph", attrs: { id: `b${index}`, style: "body" } })),
  });
  const laps = () => [...new Set(editor?.state.doc.content.content.map((block) => block.marks[0]?.attrs.lap as number))];
  expect(laps()).toEqual([0]);
  styles = [style("body", { role: "body", space_before: 30, space_after: 20 }), ...STYLES.slice(1)];
  editor.view.dispatch(editor.state.tr);
  expect(laps()).toEqual([0, 20]);
});
