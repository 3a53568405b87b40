/** What is pasted: structure comes along; what could do harm does not. */
import type { Editor } from "@tiptap/core";
import { afterEach, expect, test } from "vitest";
import { writing, written } from "./writing";

let editor: Editor;
const paste = (html: string) => {
  editor = writing("");
  editor.commands.setContent(html);
};
afterEach(() => editor.destroy());

test("headings, lists, quotations and cells become styles", () => {
  paste(`<h2>Head</h2><p>Text</p><ul><li><p>One</p><ul><li><p>Deep</p></li></ul></li></ul><ol><li><p>First</p></li></ol>
    <blockquote><p>Said</p></blockquote><table><tr><td><p>Cell</p></td></tr></table>`);
  expect(written(editor)).toEqual([
    "heading-2: Head",
    "body: Text",
    "bullet-1: One",
    "bullet-2: Deep",
    "item-1: First",
    "quotation: Said",
    "dataTable",
  ]);
  expect(editor.getHTML()).toContain('data-style="cell"');
});

test("the style of a paragraph of ours comes along, a made-up one does not", () => {
  paste(`<p data-style="heading-3">Ours</p><p data-style='x"] * {color:red}'>Odd</p>`);
  expect(written(editor)).toEqual(["heading-3: Ours", "body: Odd"]);
});

test("a style of another report does not come along, but a heading stays one of its level", () => {
  paste(`<p data-style="main-part" data-level="2">Heading there</p><p data-style="pull-quote">Quote there</p>`);
  expect(written(editor)).toEqual(["heading-2: Heading there", "body: Quote there"]);
});

test("scripts, handlers and foreign rules stay outside", () => {
  paste(`<p onclick="alert(1)" style="color: red; text-align: center">Text<script>alert(2)</script></p>
    <span data-typeface data-font="Evil; }" data-size="9999" data-colour="red;x">Run</span>`);
  const html = editor.getHTML();
  expect(html).not.toMatch(/onclick|script|alert|Evil|9999|red/);
  expect(html).toContain("text-align: center");
});

test("a typeface of ours comes along", () => {
  paste(`<p><span data-typeface data-font="Carlito" data-size="14" data-colour="#2f7d6b">Run</span></p>`);
  expect(editor.getHTML()).toMatch(/data-colour="#2f7d6b".*font-family: .*Carlito.*; font-size: 14pt/);
});

test("bold and slanted words stay so", () => {
  paste("<p><b>Bold</b> and <i>slanted</i></p>");
  expect(editor.getHTML()).toContain("<strong>Bold</strong> and <em>slanted</em>");
});

test("values that no text may hold are not taken over", () => {
  paste(`<p data-id="${"x".repeat(100)}"><a href="https://x.org/${"y".repeat(3000)}">Text</a></p>
    <table><tr><td colspan="5000">Wide</td><td colspan="2.5">Half</td><td colspan="1e308">Endless</td></tr></table>
    <figure data-source="../../x.png" data-width="1e9" data-height="-4" data-alt="${"z".repeat(600)}"></figure>
    <div data-table="a b" data-kind="contents"></div>`);
  const attributes: unknown[] = [];
  editor.state.doc.descendants(({ type, attrs, marks }) => {
    if (["dataCell", "image", "placedTable"].includes(type.name)) attributes.push(attrs);
    expect(String(attrs.id ?? "").length).toBeLessThanOrEqual(12);
    expect(String(attrs.alt ?? "").length).toBeLessThanOrEqual(500);
    expect(marks.filter((mark) => mark.type.name !== "band")).toEqual([]);
  });
  expect(attributes).toMatchObject([
    { colspan: 1 },
    { colspan: 2 },
    { colspan: 1 },
    { source: "", width: 200, height: 150 },
    { table: expect.stringMatching(/^[a-z0-9]{12}$/) as string },
  ]);
});

test("cells over several rows come as such, as far as the table goes", () => {
  paste("<table><tr><td rowspan=2>a</td><td>b</td></tr><tr><td>c</td></tr><tr><td rowspan=9>d</td><td>e</td></tr></table>");
  const spans = editor.state.doc.child(0).children.map((row) => row.children.map(({ attrs }) => attrs.rowspan as number));
  expect(spans).toEqual([[2, 1], [1], [1, 1]]);
});
