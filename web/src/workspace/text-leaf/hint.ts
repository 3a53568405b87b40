/** What an empty report says at its first line, so that nobody looks for the place to write. */
import { Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { Plugin, TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { Decoration, DecorationSet } from "@tiptap/pm/view";

export const isEmpty = (doc: Node) =>
  doc.childCount <= 2 && doc.textContent === "" && doc.content.content.every((node) => node.isTextblock);

/**
 * Whoever types below the heading with which an empty report begins wants text: the heading, which they would leave behind
 * empty, goes. False where that is not so.
 */
export function beginBelow(view: EditorView, text: string): boolean {
  const { doc, selection, tr } = view.state;
  const first = doc.firstChild;
  if (!first || !isEmpty(doc) || selection.$from.index(0) === 0) return false;
  tr.delete(0, first.nodeSize).insertText(text, tr.mapping.map(selection.from), tr.mapping.map(selection.to));
  view.dispatch(tr.setSelection(TextSelection.atEnd(tr.doc)));
  return true;
}

export const Hint = Extension.create({
  name: "hint",
  addProseMirrorPlugins: () => [
    new Plugin({
      props: {
        handleTextInput: (view, _from, _to, text) => beginBelow(view, text),
        decorations: ({ doc }) =>
          isEmpty(doc) && doc.firstChild
            ? DecorationSet.create(doc, [
                Decoration.node(0, doc.firstChild.nodeSize, { "data-hint": "Begin here, with the first heading" }),
              ])
            : null,
      },
    }),
  ],
});
