/** What a text has room for: the server takes no more, so no more is put in. */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import type { Node } from "@tiptap/pm/model";
import { Plugin, type Transaction } from "@tiptap/pm/state";
import { bringsBlocks } from "./ids";
import { inserted, nodesWithin, type Stretch } from "./stretches";

/** Cells of a row, tables of a report, characters of a paragraph. */
export const MOST = { dataRow: 63, placedTable: 50, paragraph: 100_000 };

/** What there is too much of, in a sentence; null if there is not. */
function overfull(doc: Node): string | null {
  let tables = 0;
  let widest = 0;
  doc.forEach((block) => {
    if (block.type.name === "placedTable") tables += 1;
    if (block.type.name === "dataTable") block.forEach((row) => (widest = Math.max(widest, row.childCount)));
  });
  if (widest > MOST.dataRow) return `A data table has room for ${MOST.dataRow} columns; make two of it.`;
  return tables > MOST.placedTable ? `A report has room for ${MOST.placedTable} tables; take one out first.` : null;
}

/** The length of the longest paragraph that has something in common with a stretch of a document. */
function longest(doc: Node, stretches: readonly Stretch[]): number {
  let found = 0;
  nodesWithin(doc, stretches, (node) => {
    if (node.isTextblock) found = Math.max(found, node.content.size);
    return !node.isTextblock;
  });
  return found;
}

/** What became too long, in a sentence; null if nothing did. From what is too long all the same, one can take away. */
function overlong(transaction: Transaction): string | null {
  const stretches = inserted([transaction]);
  if (longest(transaction.doc, stretches) <= MOST.paragraph) return null;
  const back = transaction.mapping.invert();
  const grown = stretches.some(([from, to]) => {
    const length = longest(transaction.doc, [[from, to]]);
    return length > MOST.paragraph && length > longest(transaction.before, [[back.map(from, -1), back.map(to, 1)]]);
  });
  return grown ? `A paragraph has room for ${MOST.paragraph.toLocaleString("en-GB")} characters; make several of it.` : null;
}

export const Bounds = Extension.create<{ notify: (notice: string) => void }>({
  name: "bounds",
  addOptions: () => ({ notify: () => undefined }),
  addProseMirrorPlugins() {
    return [
      new Plugin({
        filterTransaction: (transaction) => {
          if (!transaction.docChanged || isChangeOrigin(transaction)) return true;
          const fault = overlong(transaction) ?? (bringsBlocks(transaction) ? overfull(transaction.doc) : null);
          if (fault !== null) this.options.notify(fault);
          return fault === null;
        },
      }),
    ];
  },
});
