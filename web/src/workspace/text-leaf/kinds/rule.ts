/** A line across the page. */
import { mergeAttributes, Node } from "@tiptap/core";
import { insertBlock } from "../insert";
import { id } from "./attributes";
import type { BlockKind } from "./kind";

const Rule = Node.create({
  name: "rule",
  group: "block",
  atom: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [{ tag: "hr" }],
  renderHTML: ({ HTMLAttributes }) => [
    "div",
    mergeAttributes(HTMLAttributes, { role: "separator", "aria-label": "Line across the page", style: "margin: 6pt 0; height: 12pt" }),
    ["div", { style: "border-top: 1px solid currentcolor; margin-top: 6pt" }],
  ],
});

export const rule: BlockKind = {
  name: "rule",
  nodes: () => [Rule],
  puts: [{ key: "rule", label: "Line across the page", insert: (editor) => insertBlock(editor, "rule", {}) }],
};
