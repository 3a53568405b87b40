/** Page edges in the text, where the server computed them to be. */
import { Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { Plugin, PluginKey } from "@tiptap/pm/state";
import { Decoration, DecorationSet } from "@tiptap/pm/view";
import type { Edge, View } from "../view";

export const computed = new PluginKey<DecorationSet>("computed");

function edgeElement(label: string): HTMLElement {
  const element = document.createElement("span");
  element.className = "page-edge";
  element.contentEditable = "false";
  element.dataset.label = `page ${label}`;
  element.setAttribute("aria-hidden", "true");
  return element;
}

function decorate(doc: Node, view: View): DecorationSet {
  const edges = new Map<string, Edge[]>();
  for (const edge of view.edges) {
    const list = edges.get(edge.block);
    if (list) list.push(edge);
    else edges.set(edge.block, [edge]);
  }
  const found: Decoration[] = [];
  doc.forEach((node, pos) => {
    const id = node.attrs.id as string;
    for (const edge of edges.get(id) ?? []) {
      const key = `${edge.block}/${edge.offset}/${edge.label}`;
      if (edge.offset === 0) {
        found.push(Decoration.widget(pos, () => edgeElement(edge.label), { side: -1, key, ignoreSelection: true }));
      } else if (node.isTextblock) {
        const at = pos + 1 + Math.min(edge.offset, node.content.size);
        found.push(Decoration.widget(at, () => edgeElement(edge.label), { side: -1, key, ignoreSelection: true }));
      } else if (node.type.name === "dataTable" && edge.offset < node.childCount) {
        let at = pos + 1;
        for (let row = 0; row < edge.offset; row += 1) at += node.child(row).nodeSize;
        const end = at + node.child(edge.offset).nodeSize;
        found.push(Decoration.node(at, end, { "data-edge": `page ${edge.label}` }));
      }
    }
  });
  return DecorationSet.create(doc, found);
}

export const PageEdges = Extension.create({
  name: "pageEdges",
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key: computed,
      state: {
        init: () => DecorationSet.empty,
        apply: (transaction, set) => {
          const view = transaction.getMeta(computed) as View | undefined;
          return view ? decorate(transaction.doc, view) : set.map(transaction.mapping, transaction.doc);
        },
      },
      props: { decorations: (state) => computed.getState(state) },
    }),
  ],
});
