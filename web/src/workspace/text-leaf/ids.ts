/**
 * Keeps every block's id unique. A split gives the second half a new id, a copy that is pasted gets new ids, and a block
 * that was cut and is pasted elsewhere keeps its own: nothing that hangs on it is lost by moving it.
 */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import type { Node } from "@tiptap/pm/model";
import { Plugin, type Transaction } from "@tiptap/pm/state";
import { ReplaceAroundStep, ReplaceStep } from "@tiptap/pm/transform";
import { inserted } from "./stretches";

const LETTERS = "abcdefghijklmnopqrstuvwxyz0123456789";

/** Twelve random letters and digits: 62 bits, enough that no two blocks of one report ever meet. */
export function newId(): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(12)), (byte) => LETTERS[byte % LETTERS.length]).join("");
}

/** Cutting all words of a paragraph leaves it behind empty: then its id goes with the words. */
export const isEmptied = (node: Node | null) => node?.isTextblock === true && node.content.size === 0;

/** Whether a transaction can have brought in blocks; typing within a paragraph cannot, and is not looked at further. */
export const bringsBlocks = (transaction: Transaction) =>
  transaction.steps.some(
    (step) =>
      step instanceof ReplaceAroundStep || (step instanceof ReplaceStep && step.slice.content.firstChild?.isBlock),
  );

/** `uniques`: by name of the node, an attribute that may stand only once in a report, beside the id. */
export const Ids = Extension.create<{ uniques: Readonly<Record<string, string>> }>({
  name: "ids",
  addOptions: () => ({ uniques: {} }),
  addProseMirrorPlugins() {
    const { uniques } = this.options;
    return [
      new Plugin({
        appendTransaction: (transactions, _before, after) => {
          if (!transactions.some((transaction) => !isChangeOrigin(transaction) && bringsBlocks(transaction))) return null;
          const ranges = inserted(transactions);
          const isNew = (pos: number) => ranges.some(([from, to]) => pos >= from && pos < to);
          const blocks: { node: Node; pos: number }[] = [];
          after.doc.descendants((node, pos) => {
            if ("id" in node.attrs) blocks.push({ node, pos });
            return !node.isTextblock;
          });
          const change = after.tr;
          const makeUnique = (attribute: string, among: { node: Node; pos: number }[]) => {
            const taken = new Map<string, number>();
            const unchecked: number[] = [];
            for (const { node, pos } of among) {
              const id = node.attrs[attribute] as string | null;
              if (!id || isNew(pos)) unchecked.push(pos);
              else if (taken.has(id)) change.setNodeAttribute(pos, attribute, newId());
              else taken.set(id, pos);
            }
            for (const pos of unchecked) {
              const id = after.doc.nodeAt(pos)?.attrs[attribute] as string | null;
              const bearer = id ? taken.get(id) : undefined;
              if (!id) change.setNodeAttribute(pos, attribute, newId());
              else if (bearer === undefined) taken.set(id, pos);
              else if (isEmptied(after.doc.nodeAt(bearer)) && !isEmptied(after.doc.nodeAt(pos))) {
                change.setNodeAttribute(bearer, attribute, newId());
                taken.set(id, pos);
              } else change.setNodeAttribute(pos, attribute, newId());
            }
          };
          makeUnique("id", blocks);
          for (const [name, attribute] of Object.entries(uniques)) {
            makeUnique(attribute, blocks.filter(({ node }) => node.type.name === name));
          }
          return change.docChanged ? change : null;
        },
      }),
    ];
  },
});
