/** A thematic break: a line across the column. */
import { mergeAttributes, Node } from "@tiptap/core";
import { insertBlock } from "../insert";
import { id } from "./attributes";
import type { BlockKind } from "./kind";
import { takeAway } from "./takeAway";

const NAME = "Line across the page";

const ThematicBreak = Node.create({
  name: "thematicBreak",
  group: "block",
  atom: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [{ tag: "hr" }, { tag: "div[data-thematic-break]" }],
  renderHTML: ({ HTMLAttributes }) => ["div", mergeAttributes(HTMLAttributes, { "data-thematic-break": "", role: "separator", "aria-label": NAME })],
  addNodeView:
    () =>
    ({ HTMLAttributes, getPos, editor }) => {
      const dom = document.createElement("div");
      for (const [name, value] of Object.entries(HTMLAttributes)) dom.setAttribute(name, String(value));
      dom.dataset.thematicBreak = "";
      dom.role = "group";
      dom.ariaLabel = NAME;
      if (editor.isEditable) dom.append(takeAway("line", editor, getPos));
      return { dom, ignoreMutation: () => true, stopEvent: ({ target }) => target instanceof HTMLButtonElement };
    },
});

export const thematicBreak: BlockKind = {
  name: "thematicBreak",
  nodes: () => [ThematicBreak],
  puts: [{ key: "line", label: NAME, insert: (editor) => insertBlock(editor, "thematicBreak", {}) }],
};
