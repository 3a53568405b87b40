/** What an empty report says at its first line, so that nobody looks for the place to write. */
import { Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { Plugin } from "@tiptap/pm/state";
import { Decoration, DecorationSet } from "@tiptap/pm/view";

export const isEmpty = (doc: Node) =>
  doc.childCount <= 2 && doc.textContent === "" && doc.content.content.every((node) => node.isTextblock);

export const Hint = Extension.create({
  name: "hint",
  addProseMirrorPlugins: () => [
    new Plugin({
      props: {
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
