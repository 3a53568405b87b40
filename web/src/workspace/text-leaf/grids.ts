/**
 * Data tables under several hands. The shared text promises no minimum: of two people who take out rows at once each may take
 * half of them, and one who adds a row meets one who adds a column. What they leave is shown as it is, and nobody's editor puts
 * it right by itself: two that do, at the same time, would each put in a cell, and then have to put in more. What has no place
 * to write on gets one from the room; rows of unlike length are made even by whoever changes the table next.
 */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import type { Node, Schema } from "@tiptap/pm/model";
import { Plugin, type Command, type EditorState, type Transaction } from "@tiptap/pm/state";
import { findTable, tableEditing } from "@tiptap/pm/tables";
import type { EditorView } from "@tiptap/pm/view";
import { inserted } from "./ids";
import { forRole, type Styles } from "./styles";

/** A cell to write in. */
const newCell = (schema: Schema, styles: Styles) => schema.nodes.dataCell?.create(null, schema.nodes.paragraph?.create({ style: forRole(styles, "cell") }));

/** The columns that a row reaches over. */
const reach = (row: Node) => row.children.reduce((sum, cell) => sum + (cell.attrs.colspan as number), 0);

/** Adds cells to the shorter rows of a table. `pos` is its place before the change. */
function makeEven(change: Transaction, table: Node, pos: number, styles: Styles): void {
  const width = Math.max(0, ...table.children.map(reach));
  let end = pos + 1;
  for (const row of table.children) {
    end += row.nodeSize;
    const cell = newCell(table.type.schema, styles);
    const missing = width - reach(row);
    if (cell && missing > 0) change.insert(change.mapping.map(end - 1), Array<Node>(missing).fill(cell));
  }
}

function makeEvenAround(view: EditorView, styles: Styles): void {
  const table = findTable(view.state.selection.$from);
  const change = view.state.tr;
  if (table) makeEven(change, table.node, table.pos, styles);
  if (change.docChanged) view.dispatch(change);
}

/** Does something to the data table with the cursor in it, whose rows are made equally long before. */
export const onGrid =
  (command: Command, styles: Styles) =>
  (view: EditorView): boolean => {
    makeEvenAround(view, styles);
    return command(view.state, view.dispatch);
  };

/** What somebody's own change left without a place to write on gets one; a table without any cell goes, and one that is new is even. */
function completed(transactions: readonly Transaction[], { doc, schema, tr: change }: EditorState, styles: Styles): Transaction | null {
  const own = transactions.filter((transaction) => transaction.docChanged && !isChangeOrigin(transaction));
  const seen = new Set<number>();
  for (const [from, to] of own.length > 0 ? inserted(own) : []) {
    // Also what stands around a place where something was taken out.
    doc.nodesBetween(Math.max(0, from - 1), Math.min(doc.content.size, to + 1), (node, pos) => {
      if (node.isTextblock || seen.has(pos)) return !node.isTextblock;
      seen.add(pos);
      const at = change.mapping.map(pos);
      if (node.type.name === "dataCell" && node.childCount === 0) change.insert(at + 1, newCell(schema, styles)?.content ?? []);
      if (node.type.name !== "dataTable") return true;
      if (node.children.every((row) => row.childCount === 0)) change.delete(at, at + node.nodeSize);
      else if (pos >= from && pos < to) makeEven(change, node, pos, styles);
      return true;
    });
  }
  return change.docChanged ? change : null;
}

export const Grids = Extension.create<{ styles: () => Styles }>({
  name: "grids",
  priority: 1100,
  addOptions: () => ({ styles: () => [] }),
  addProseMirrorPlugins() {
    const { styles } = this.options;
    const { spec } = tableEditing();
    return [
      new Plugin({
        ...spec,
        props: {
          ...spec.props,
          handlePaste(view, event, slice) {
            makeEvenAround(view, styles());
            return spec.props?.handlePaste?.call(this, view, event, slice) ?? false;
          },
        },
        appendTransaction: (transactions, _before, after) =>
          completed(transactions, after, styles()) ??
          // Given as if nothing had changed: it is only to look at the selection.
          spec.appendTransaction?.call(undefined as never, transactions, after, after),
      }),
    ];
  },
});
