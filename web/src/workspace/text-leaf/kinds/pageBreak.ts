/** A page break: what follows it begins on a new page. */
import { mergeAttributes, Node, type Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import { newId } from "../ids";
import { insertBlock, perform } from "../insert";
import { id } from "./attributes";
import type { BlockKind } from "./kind";
import { takeAway } from "./takeAway";

const PageBreak = Node.create({
  name: "pageBreak",
  group: "block",
  atom: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [{ tag: "div[data-page-break]" }],
  renderHTML: ({ HTMLAttributes }) => [
    "div",
    mergeAttributes(HTMLAttributes, { "data-page-break": "", role: "separator", "aria-label": "Page break" }),
  ],
  addNodeView:
    () =>
    ({ HTMLAttributes, getPos, editor }) => {
      const dom = document.createElement("div");
      for (const [name, value] of Object.entries(HTMLAttributes)) dom.setAttribute(name, String(value));
      dom.dataset.pageBreak = "";
      dom.role = "group";
      dom.ariaLabel = "Page break";
      if (editor.isEditable) dom.append(takeAway("page break", editor, getPos));
      return { dom, ignoreMutation: () => true, stopEvent: ({ target }) => target instanceof HTMLButtonElement };
    },
});

/** A page break at the cursor: a paragraph with text on both sides is split there. */
export function insertPageBreak(editor: Editor): void {
  const { state } = editor;
  const { $from } = state.selection;
  if ($from.depth !== 1 || $from.parent.type.name !== "paragraph") {
    insertBlock(editor, "pageBreak", {});
    return;
  }
  const { schema } = state;
  const change = state.tr.deleteSelection();
  const paragraph = change.selection.$from;
  let at: number;
  if (paragraph.parentOffset === 0) at = paragraph.before(1);
  else if (paragraph.parentOffset === paragraph.parent.content.size) at = paragraph.after(1);
  else {
    change.split(paragraph.pos);
    at = paragraph.pos + 1;
  }
  const pageBreak = schema.nodes.pageBreak?.create({ id: newId() });
  if (!pageBreak) return;
  change.insert(at, pageBreak);
  if (change.doc.nodeAt(at + 1)?.type.name !== "paragraph") {
    change.insert(at + 1, schema.nodes.paragraph?.create({ id: newId() }) ?? []);
  }
  change.setSelection(TextSelection.near(change.doc.resolve(at + 2)));
  perform(editor, change.scrollIntoView());
}

export const pageBreak: BlockKind = {
  name: "pageBreak",
  nodes: () => [PageBreak],
  puts: [{ key: "break", label: "Page break (Ctrl+Enter)", insert: insertPageBreak }],
};
