/** Page edges stand in the text where the server says, and go along with what is written until it says so again. */
import type { Editor } from "@tiptap/core";
import { afterEach, expect, test } from "vitest";
import { insertDataTable } from "../src/workspace/text-leaf/kinds/dataTable";
import { computed } from "../src/workspace/text-leaf/pageEdges";
import { EMPTY_VIEW, type Edge } from "../src/workspace/view";
import { STYLES, at, ids, writing } from "./writing";

let editor: Editor;
afterEach(() => editor.destroy());

/** As the server sends edges, with their pages. */
const edge = (block: string, offset: number, label: string, page = 2): Edge => ({ block, offset, label, page, empty: false });

const show = (...edges: Edge[]) => editor.view.dispatch(editor.state.tr.setMeta(computed, { ...EMPTY_VIEW, edges }));

/** The text with its edges, as somebody reads it who goes through it. */
const read = () => {
  const parts: string[] = [];
  const walk = (node: Node) => {
    if (node instanceof HTMLElement && node.classList.contains("page-edge")) parts.push(`[${node.dataset.label ?? ""}]`);
    else if (node instanceof Text) parts.push(node.data);
    else node.childNodes.forEach(walk);
  };
  walk(editor.view.dom);
  return parts.join("");
};

test("between blocks and within a paragraph", () => {
  editor = writing("heading-1: Head", "Some words", "heading-1: Next");
  show(edge("b2", 5, "ii"), edge("b3", 0, "1"));
  expect(read()).toBe("HeadSome [page ii]words[page 1]Next");
});

test("they go along with what is written before them", () => {
  editor = writing("heading-1: Head", "Some words");
  show(edge("b2", 5, "2"));
  at(editor, 1);
  editor.commands.insertContent("way");
  at(editor, 2, 0);
  editor.commands.insertContent("Now ");
  expect(read()).toBe("HeadwayNow Some [page 2]words");
});

test("new edges take the place of old ones", () => {
  editor = writing("Some words");
  show(edge("b1", 5, "2"));
  show(edge("b1", 4, "3"));
  expect(read()).toBe("Some[page 3] words");
});

test("an edge in a block that has gone, or behind its end, does no harm", () => {
  editor = writing("Some words");
  show(edge("gone", 0, "2"), edge("b1", 99, "3"));
  expect(read()).toBe("Some words[page 3]");
});

test("a data table that goes over a page shows it at the row", () => {
  editor = writing("Before");
  insertDataTable(editor, STYLES);
  show(edge(ids(editor)[1] ?? "", 2, "2"));
  const rows = [...editor.view.dom.querySelectorAll("tr")];
  expect(rows.map((row) => row.getAttribute("data-edge"))).toEqual([null, null, "page 2"]);
});

test("a way back stands beneath its block, in front of a page edge, and leads to the contents", () => {
  editor = writing("heading-1: Head", "Some words", "heading-1: Next");
  editor.view.dispatch(
    editor.state.tr.setMeta(computed, { ...EMPTY_VIEW, edges: [edge("b3", 0, "2")], backs: new Map([["b2", "Back to contents"]]) }),
  );
  const way = editor.view.dom.querySelector(".way-back");
  expect(way?.previousElementSibling?.textContent).toBe("Some words");
  expect(way?.nextElementSibling?.classList).toContain("page-edge");
  expect(way?.querySelector("button")?.textContent).toBe("Back to contents");
});
