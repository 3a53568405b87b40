/** What a text has room for: the server takes no more, so no more is put in. */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import type { Node } from "@tiptap/pm/model";
import { Plugin } from "@tiptap/pm/state";
import { bringsBlocks } from "./ids";

export const MOST = { dataRow: 63, placedTable: 50 };

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

export const Bounds = Extension.create<{ say: (notice: string) => void }>({
  name: "bounds",
  addOptions: () => ({ say: () => undefined }),
  addProseMirrorPlugins() {
    return [
      new Plugin({
        filterTransaction: (transaction) => {
          if (!transaction.docChanged || isChangeOrigin(transaction) || !bringsBlocks(transaction)) return true;
          const fault = overfull(transaction.doc);
          if (fault !== null) this.options.say(fault);
          return fault === null;
        },
      }),
    ];
  },
});
