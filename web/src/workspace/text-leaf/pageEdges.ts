/** Page edges in the text, and lines that lead back to the contents, where the server computed them to be. */
import { Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { Plugin, PluginKey } from "@tiptap/pm/state";
import { Decoration, DecorationSet } from "@tiptap/pm/view";
import type { Edge, View } from "../view";
import type { BlockKind } from "./kinds/kind";

export const computed = new PluginKey<DecorationSet>("computed");

/** By name of the node, how an edge within it is shown. */
type EdgesWithin = Readonly<Record<string, BlockKind["edge"]>>;

/** "page A-3", as page edges say it. */
export const pageWords = ({ label, empty }: Pick<Edge, "label" | "empty">): string =>
  `${label ? `page ${label}` : "a page without a number"}${empty ? ", left empty" : ""}`;

function edgeElement(edge: Edge): HTMLElement {
  const element = document.createElement("span");
  element.className = "page-edge";
  element.contentEditable = "false";
  element.dataset.label = pageWords(edge);
  element.dataset.page = String(edge.page);
  element.setAttribute("aria-hidden", "true");
  return element;
}

function shown(node: Node, pos: number, edge: Edge, within: EdgesWithin): Decoration | null {
  const widget = (at: number) =>
    Decoration.widget(at, () => edgeElement(edge), {
      side: -1,
      key: `${edge.block}/${edge.offset}/${edge.page}/${pageWords(edge)}`,
      ignoreSelection: true,
    });
  if (edge.offset === 0) return widget(pos);
  if (node.isTextblock) return widget(pos + 1 + Math.min(edge.offset, node.content.size));
  return within[node.type.name]?.(node, pos, edge) ?? null;
}

/** A line that leads back to the contents. It is no part of the text: nobody's cursor goes into it. */
function backElement(says: string, toContents: () => void): HTMLElement {
  const element = document.createElement("div");
  element.className = "way-back";
  element.contentEditable = "false";
  const press = element.appendChild(document.createElement("button"));
  press.type = "button";
  press.textContent = says;
  press.addEventListener("click", toContents);
  return element;
}

function decorate(doc: Node, view: View, { within, toContents }: Options): DecorationSet {
  const edges = new Map<string, Edge[]>();
  for (const edge of view.edges) edges.set(edge.block, [...(edges.get(edge.block) ?? []), edge]);
  const found: Decoration[] = [];
  doc.forEach((node, pos) => {
    for (const edge of edges.get(node.attrs.id as string) ?? []) {
      const decoration = shown(node, pos, edge, within);
      if (decoration) found.push(decoration);
    }
    const says = view.backs.get(node.attrs.id as string);
    if (says !== undefined) {
      // In front of a page edge, which stands at the same place.
      found.push(
        Decoration.widget(pos + node.nodeSize, () => backElement(says, toContents), {
          side: -2,
          key: `back/${says}`,
          ignoreSelection: true,
          stopEvent: () => true,
        }),
      );
    }
  });
  return DecorationSet.create(doc, found);
}

interface Options {
  within: EdgesWithin;
  /** Leads to the first table in the text. */
  toContents: () => void;
}

export const PageEdges = Extension.create<Options>({
  name: "pageEdges",
  addOptions: () => ({ within: {}, toContents: () => undefined }),
  addProseMirrorPlugins() {
    const { options } = this;
    return [
      new Plugin<DecorationSet>({
        key: computed,
        state: {
          init: () => DecorationSet.empty,
          apply: (transaction, set) => {
            const view = transaction.getMeta(computed) as View | undefined;
            return view ? decorate(transaction.doc, view, options) : set.map(transaction.mapping, transaction.doc);
          },
        },
        props: { decorations: (state) => computed.getState(state) },
      }),
    ];
  },
});
