/** How the cells at hand look, and their data table stands; and how that is changed. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import type { EditorState } from "@tiptap/pm/state";
import { cellAround, CellSelection, findTable } from "@tiptap/pm/tables";
import { perform } from "./insert";

/** What is said of cells: nothing where it is as cells have it, `undefined` where those at hand differ. */
export interface CellLook {
  background: string | null | undefined;
  borders: string | null | undefined;
  vertical: string | null | undefined;
  padding: readonly number[] | null | undefined;
  height: number | null | undefined;
}

const NAMES = ["background", "borders", "vertical", "padding", "height"] as const;

interface Found {
  node: Node;
  pos: number;
}

/** The cells that are selected, or else the one with the cursor. */
function cellsAtHand({ selection, doc }: EditorState): Found[] {
  const found: Found[] = [];
  if (selection instanceof CellSelection) {
    selection.forEachCell((node, pos) => found.push({ node, pos }));
    return found;
  }
  const cell = cellAround(selection.$head);
  const node = cell && doc.nodeAt(cell.pos);
  return cell && node ? [{ node, pos: cell.pos }] : [];
}

export function cellLook(state: EditorState): CellLook | null {
  const cells = cellsAtHand(state);
  const first = cells[0];
  if (!first) return null;
  const shared = (name: string) => {
    const said = new Set(cells.map(({ node }) => JSON.stringify(node.attrs[name] ?? null)));
    return said.size === 1 ? (first.node.attrs[name] as unknown) : undefined;
  };
  return Object.fromEntries(NAMES.map((name) => [name, shared(name)])) as unknown as CellLook;
}

/** Has the cells at hand look otherwise: null for as cells have it. */
export function setOnCells(editor: Editor, values: Partial<CellLook>): void {
  const change = editor.state.tr;
  for (const { node, pos } of cellsAtHand(editor.state)) change.setNodeMarkup(pos, undefined, { ...node.attrs, ...values });
  if (change.docChanged) perform(editor, change);
}

/** Has all cells of the data table at hand look as cells do. */
export function clearCells(editor: Editor): void {
  const table = findTable(editor.state.selection.$from);
  const change = editor.state.tr;
  const plain = Object.fromEntries(NAMES.map((name) => [name, null]));
  table?.node.descendants((node, at) => {
    if (node.type.name === "dataCell" && NAMES.some((name) => node.attrs[name] !== null)) change.setNodeMarkup(table.start + at, undefined, { ...node.attrs, ...plain });
    return node.type.name === "dataRow";
  });
  if (change.docChanged) perform(editor, change);
}

/** Whether any cell of the data table at hand looks otherwise than cells do. */
export function areCellsLooked(state: EditorState): boolean {
  const table = findTable(state.selection.$from);
  let found = false;
  table?.node.descendants((node) => {
    if (node.type.name === "dataCell") found ||= NAMES.some((name) => node.attrs[name] !== null);
    return !found && node.type.name === "dataRow";
  });
  return found;
}

/** Where the data table at hand stands. */
export const tableAlign = (state: EditorState): string => String((findTable(state.selection.$from)?.node.attrs.align as string | null) ?? "left");

export function setTableAlign(editor: Editor, align: string): void {
  const table = findTable(editor.state.selection.$from);
  if (!table) return;
  const values = align === "left" ? { align: null } : { align, indent: null };
  perform(editor, editor.state.tr.setNodeMarkup(table.pos, undefined, { ...table.node.attrs, ...values }));
}
