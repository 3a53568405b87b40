/**
 * A reference: one character of a paragraph's text that says what the server computed, such as "Figure 3" or a page number.
 *
 * Its words stand in the text like others: they are found, copied, and read aloud. They are changed where they stand, without
 * the editor, which would go through all of the text for it.
 */
import { Node } from "@tiptap/core";
import { Plugin, TextSelection, type Selection, type Transaction } from "@tiptap/pm/state";
import { AddMarkStep } from "@tiptap/pm/transform";
import type { Node as PMNode } from "@tiptap/pm/model";
import { Decoration, DecorationSet } from "@tiptap/pm/view";
import type { Room } from "../../room/room";
import { shownAs, type View } from "../../view";
import { nodesWithin, type Stretch } from "../stretches";
import { identifier } from "./attributes";
import { FORMULA } from "./formula";

export const SHOWS = ["label", "number", "title", "page", "way", "note"] as const;
export type Shows = (typeof SHOWS)[number];

/** The character that a reference is in the text of a paragraph. */
export const INLINE_OBJECT = "\ufffc";

/** What stands among words that is none, as one character of their paragraph's text. */
export const characterOf = (node: PMNode): string => (node.type.name === "reference" ? INLINE_OBJECT : node.type.name === "formula" ? FORMULA : "\n");

/** What is a word of its own among words, and has no formatting. */
export const isWord = (node: PMNode): boolean => node.type.name === "reference" || node.type.name === "formula";

export interface Reference {
  to: string;
  shows: Shows;
  /** What it said when it was made: all that is left if its place goes. */
  said: string;
}

export const wordsOf = (view: View, { to, shows, said }: Reference, paragraph: string): string =>
  view.shown.get(shownAs(to, shows, paragraph)) ?? (view.reaches(to) ? said || "…" : `[${said}?]`);

/** The reference at hand: that which is selected by itself, or beside the cursor, in front of it rather than behind. */
export function referenceAt({ $from, $to, empty }: Selection): { node: PMNode; pos: number } | null {
  const is = (node: PMNode | null): node is PMNode => node?.type.name === "reference";
  const { nodeBefore, nodeAfter } = $from;
  if (empty && is(nodeBefore)) return { node: nodeBefore, pos: $from.pos - nodeBefore.nodeSize };
  return is(nodeAfter) && (empty || $to.pos === $from.pos + nodeAfter.nodeSize) ? { node: nodeAfter, pos: $from.pos } : null;
}

interface Drawn {
  reference: Reference;
  paragraph: () => string;
  dom: HTMLElement;
}

/** The references of a text as they are drawn, kept level with what the server says. */
class Words {
  private readonly drawn = new Set<Drawn>();
  private shown: View | null = null;

  constructor(private readonly room: Room | null) {}

  add(one: Drawn): () => void {
    this.drawn.add(one);
    if (this.room) this.write(one, this.room.state.view);
    return () => this.drawn.delete(one);
  }

  readonly show = (): void => {
    const view = this.room?.state.view;
    if (!view || (view.shown === this.shown?.shown && view.places === this.shown.places && view.headings === this.shown.headings)) return;
    this.shown = view;
    for (const one of this.drawn) this.write(one, view);
  };

  private write({ reference, paragraph, dom }: Drawn, view: View): void {
    const words = wordsOf(view, reference, reference.shows === "way" ? paragraph() : "");
    if (dom.textContent !== words) dom.textContent = words;
    dom.classList.toggle("broken", !view.reaches(reference.to));
  }
}

/** The stretches that a transaction put in or formatted, as they are behind it. */
function touched(transaction: Transaction): Stretch[] {
  const found: Stretch[] = [];
  transaction.steps.forEach((step, index) => {
    const later = transaction.mapping.slice(index + 1);
    if (step instanceof AddMarkStep) found.push([later.map(step.from), later.map(step.to)]);
    transaction.mapping.maps[index]?.forEach((_from, _to, from, to) => found.push([later.map(from, -1), later.map(to)]));
  });
  return found;
}

export const referenceNode = (room: Room | null) => {
  const words = new Words(room);
  return Node.create({
    name: "reference",
    group: "inline",
    inline: true,
    atom: true,
    // The cursor goes past it like past a letter; what is selected as a whole would be replaced by the next key.
    selectable: false,
    // Its words have the look of its paragraph's style: marks on it would not be shared with others.
    marks: "",
    addAttributes: () => ({
      to: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-reference")), rendered: false },
      shows: {
        default: "label",
        parseHTML: (element: HTMLElement) => SHOWS.find((one) => one === element.getAttribute("data-shows")) ?? "label",
        rendered: false,
      },
      said: { default: "", parseHTML: (element: HTMLElement) => (element.textContent ?? "").slice(0, 200), rendered: false },
    }),
    parseHTML: () => [{ tag: "span[data-reference]", priority: 100 }],
    renderHTML: ({ node }) => {
      const { to, shows, said } = node.attrs as Reference;
      return ["span", { "data-reference": to, "data-shows": shows, class: "reference" }, said];
    },
    renderText: ({ node }) => (node.attrs as Reference).said,
    addNodeView: () => ({ node, getPos, editor }) => {
      const reference = node.attrs as Reference;
      const dom = document.createElement("span");
      dom.className = "reference";
      dom.dataset.reference = reference.to;
      dom.dataset.shows = reference.shows;
      const paragraph = () => {
        const pos = getPos();
        return pos === undefined ? "" : ((editor.state.doc.resolve(pos).parent.attrs.id as string | null) ?? "");
      };
      dom.textContent = reference.said;
      const stop = words.add({ reference, paragraph, dom });
      return { dom, ignoreMutation: () => true, update: (next) => next.type === node.type && next.eq(node), destroy: stop };
    },
    addProseMirrorPlugins: () => [
      new Plugin({
        view: () => {
          const stop = room?.subscribe(words.show);
          return { destroy: () => stop?.() };
        },
        props: {
          // A press puts the cursor behind it, wherever on its words it was.
          handleClickOn: (view, _pos, node, pos, event, direct) => {
            if (!direct || !isWord(node) || !view.editable || event.shiftKey || event.ctrlKey || event.metaKey) return false;
            view.dispatch(view.state.tr.setSelection(TextSelection.create(view.state.doc, pos + node.nodeSize)));
            return true;
          },
          decorations: ({ doc, selection }) => {
            const at = referenceAt(selection);
            return at && DecorationSet.create(doc, [Decoration.node(at.pos, at.pos + at.node.nodeSize, { class: "at-hand" })]);
          },
        },
        // What was meant for the words around it must not stay on it: others would not see it so.
        appendTransaction: (transactions, _before, { doc, tr }) => {
          nodesWithin(doc, transactions.flatMap(touched), (node, pos) => {
            if (isWord(node) && node.marks.length > 0) tr.removeMark(pos, pos + 1);
            return true;
          });
          return tr.docChanged ? tr : null;
        },
      }),
    ],
  });
};
