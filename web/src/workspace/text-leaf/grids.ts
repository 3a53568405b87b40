/**
 * Data tables under several hands. The shared text promises no minimum: of two people who take out rows at once each may take
 * half of them, and one who adds a row meets one who adds a column. What they leave is shown as it is, and nobody's editor puts
 * it right by itself: two that do, at the same time, would each put in a cell, and then have to put in more. What has no place
 * to write on gets one from the room; rows of unlike length are made even by whoever changes the table next.
 */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import { Fragment, Slice, type Node, type Schema } from "@tiptap/pm/model";
import { Plugin, Selection, TextSelection, type Command, type EditorState, type Transaction } from "@tiptap/pm/state";
import { cellAround, findTable, tableEditing } from "@tiptap/pm/tables";
import { Transform } from "@tiptap/pm/transform";
import type { EditorView } from "@tiptap/pm/view";
import { inserted, nodesWithin } from "./stretches";
import { forRole, type Styles } from "./styles";

/** A cell to write in. */
const newCell = (schema: Schema, styles: Styles) => schema.nodes.dataCell?.create(null, schema.nodes.paragraph?.create({ style: forRole(styles, "cell") }));

/** A cell of a table: where it stands in it, the row in which it begins, and over how many columns and rows it reaches. */
interface Slot {
  at: number;
  cell: Node;
  row: number;
  columns: number;
  rows: number;
}

/**
 * The cells of a table as they stand, and how many columns of each row they cover; as in the core (`core/report/grids.py`): no
 * cell goes on below the last row, and one that would run into another from above is as narrow as there is room.
 */
function gridOf(table: Node): { slots: Slot[]; covered: number[] } {
  /** By column the row behind the last that a cell from above reaches into. */
  const until: number[] = [];
  const slots: Slot[] = [];
  table.forEach((row, start, number) => {
    let column = 0;
    row.forEach((cell, offset) => {
      const { colspan, rowspan } = cell.attrs as { colspan: number; rowspan: number };
      while ((until[column] ?? 0) > number) column += 1;
      let columns = 1;
      while (columns < colspan && (until[column + columns] ?? 0) <= number) columns += 1;
      const rows = Math.min(rowspan, table.childCount - number);
      for (let one = column; one < column + columns; one += 1) until[one] = number + rows;
      slots.push({ at: start + 1 + offset, cell, row: number, columns, rows });
      column += columns;
    });
  });
  const covered = Array<number>(table.childCount).fill(0);
  for (const { row, rows, columns } of slots) for (let one = row; one < row + rows; one += 1) covered[one] = (covered[one] ?? 0) + columns;
  return { slots, covered };
}

/**
 * Makes the rows of a table equally long, and has each cell reach only as far as it stands. A row in which none begins goes.
 * `pos` is the table's place before the change.
 */
function makeEven(change: Transform, table: Node, pos: number, styles: Styles): void {
  const { slots, covered } = gridOf(table);
  const width = Math.max(0, ...covered);
  const goes = table.children.map((row, index) => row.childCount === 0 && covered[index] === width);
  for (const { at, cell, row, columns, rows } of slots) {
    const rowspan = rows - goes.slice(row, row + rows).filter(Boolean).length;
    if (cell.attrs.colspan === columns && cell.attrs.rowspan === rowspan) continue;
    change.setNodeMarkup(change.mapping.map(pos + 1 + at), undefined, { ...cell.attrs, colspan: columns, rowspan });
  }
  let end = pos + 1;
  table.children.forEach((row, index) => {
    end += row.nodeSize;
    const cell = newCell(table.type.schema, styles);
    const missing = width - (covered[index] ?? 0);
    if (goes[index]) change.delete(change.mapping.map(end - row.nodeSize), change.mapping.map(end));
    else if (cell && missing > 0) change.insert(change.mapping.map(end - 1), Array<Node>(missing).fill(cell));
  });
}

/** A table that is pasted, even: the library would stumble over one that is not. */
function evened(table: Node, styles: Styles): Node {
  const change = new Transform(table.type.schema.topNodeType.create(null, table));
  makeEven(change, table, 0, styles);
  return change.doc.firstChild ?? table;
}

function evenedTables(slice: Slice, styles: Styles): Slice {
  const blocks = slice.content.content.map((node) => (node.type.name === "dataTable" && node.childCount > 0 ? evened(node, styles) : node));
  return blocks.every((node, index) => node === slice.content.child(index)) ? slice : Slice.maxOpen(Fragment.fromArray(blocks));
}

/** Makes the rows of the table at a place equally long. */
export function makeEvenAt(view: EditorView, pos: number, styles: Styles): void {
  const table = view.state.doc.nodeAt(pos);
  const change = view.state.tr;
  if (table?.type.name === "dataTable") makeEven(change, table, pos, styles);
  if (change.docChanged) view.dispatch(change);
}

function makeEvenAround(view: EditorView, styles: Styles): void {
  const table = findTable(view.state.selection.$from);
  if (table) makeEvenAt(view, table.pos, styles);
}

/** Does something to the data table with the cursor in it, whose rows are made equally long before, and after. */
export const onGrid =
  (command: Command, styles: Styles) =>
  (view: EditorView): boolean => {
    makeEvenAround(view, styles);
    const done = command(view.state, view.dispatch);
    makeEvenAround(view, styles);
    return done;
  };

/** Goes to the next cell of the data table with the cursor in it, or the one before; its words, or the picture that it is, are selected. */
export const toCell =
  (direction: 1 | -1): Command =>
  (state, dispatch) => {
    const { selection, doc } = state;
    const cell = cellAround(selection.$head);
    const table = findTable(selection.$from);
    if (!cell || !table) return false;
    const cells: number[] = [];
    table.node.descendants((node, at) => {
      if (node.type.name === "dataCell") cells.push(table.start + at);
      return node.type.name === "dataRow";
    });
    const to = cells[cells.indexOf(cell.pos) + direction];
    const inside = to === undefined ? null : doc.nodeAt(to);
    if (to === undefined || !inside) return false;
    const words = inside.children.some((node) => node.isTextblock);
    const there = words ? TextSelection.between(doc.resolve(to + 1), doc.resolve(to + inside.nodeSize - 1)) : Selection.near(doc.resolve(to + 1));
    dispatch?.(state.tr.setSelection(there).scrollIntoView());
    return true;
  };

/** Has the columns of the data table with the cursor in it be as wide as their words ask for; false where they are. */
export const widthsByWords: Command = (state, dispatch) => {
  const table = findTable(state.selection.$from);
  const change = state.tr;
  table?.node.descendants((node, at) => {
    if (node.type.name === "dataCell" && node.attrs.colwidth) change.setNodeMarkup(table.start + at, undefined, { ...node.attrs, colwidth: null });
    return node.type.name === "dataRow";
  });
  if (change.docChanged) dispatch?.(change);
  return change.docChanged;
};

/** What somebody's own change left without a place to write on gets one; a table without any cell goes, and one that is new is even. */
function completed(transactions: readonly Transaction[], { doc, schema, tr: change }: EditorState, styles: Styles): Transaction | null {
  const own = transactions.filter((transaction) => transaction.docChanged && !isChangeOrigin(transaction));
  const seen = new Set<number>();
  const stretches = inserted(own);
  const isNew = (pos: number) => stretches.some(([from, to]) => pos >= from && pos < to);
  // Also what stands around a place where something was taken out.
  nodesWithin(doc, stretches.map(([from, to]) => [from - 1, to + 1]), (node, pos) => {
    if (node.isTextblock || seen.has(pos)) return !node.isTextblock;
    seen.add(pos);
    const at = change.mapping.map(pos);
    if (node.type.name === "dataCell" && node.childCount === 0) change.insert(at + 1, newCell(schema, styles)?.content ?? []);
    if (node.type.name !== "dataTable") return true;
    if (node.children.every((row) => row.childCount === 0)) change.delete(at, at + node.nodeSize);
    else if (isNew(pos)) makeEven(change, node, pos, styles);
    return true;
  });
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
          transformPasted: (slice) => evenedTables(slice, styles()),
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
