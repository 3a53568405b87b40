/**
 * Widths of the columns of data tables, by dragging an edge or as a figure.
 *
 * An edge between two columns is moved: one gives what the other takes. Behind the last column the table becomes wider or narrower.
 * Then all columns say how wide they are, so that they stay as they were seen.
 */
import { Extension, type Editor } from "@tiptap/core";
import { Plugin, Selection, type EditorState, type Transaction } from "@tiptap/pm/state";
import { cellAround, findTable, TableMap } from "@tiptap/pm/tables";
import type { EditorView } from "@tiptap/pm/view";
import { makeEvenAt } from "./grids";
import { perform } from "./insert";
import type { Styles } from "./styles";

const POINTS = 72 / 96;
/** Pixels from an edge within which it is taken hold of. */
const NEAR = 5;
/** Pixels from which on a press is a drag. */
const LEAST_DRAG = 3;
/** Points of a column at least (core, `kinds/data_table.py`), and at most (core, `report/grids.py`). */
export const [LEAST_COLUMN, MOST_COLUMN] = [20, 5000];

interface Edge {
  /** Where the table stands in the text, and the column whose right edge it is. */
  table: number;
  column: number;
}

const cellOf = (target: EventTarget | null): HTMLTableCellElement | null => (target instanceof Element ? target.closest<HTMLTableCellElement>(".ProseMirror td") : null);

/** Where the cell of an element stands in the text. */
function placeOf(view: EditorView, element: Element): number | null {
  try {
    return view.posAtDOM(element, 0) - 1;
  } catch {
    return null; // it was drawn anew meanwhile
  }
}

/** The edge that the pointer is near to. */
function edgeAt(view: EditorView, event: MouseEvent): Edge | null {
  const cell = cellOf(event.target);
  const box = cell?.getBoundingClientRect();
  if (!cell || !box) return null;
  const [left, right] = [event.clientX - box.left < NEAR, box.right - event.clientX < NEAR];
  const pos = left || right ? placeOf(view, cell) : null;
  const table = pos === null ? null : findTable(view.state.doc.resolve(pos));
  if (pos === null || !table) return null;
  const rect = TableMap.get(table.node).findCell(pos - table.start);
  const column = right ? rect.right - 1 : rect.left - 1;
  return column < 0 ? null : { table: table.pos, column };
}

/** The widths of a table's columns in points, as they are seen; by the cells that reach over one column alone. */
export function widthsSeen(view: EditorView, pos: number): number[] | null {
  const node = view.state.doc.nodeAt(pos);
  if (node?.type.name !== "dataTable") return null;
  const map = TableMap.get(node);
  const found = Array<number>(map.width).fill(0);
  for (const at of new Set(map.map)) {
    const rect = map.findCell(at);
    const element = view.nodeDOM(pos + 1 + at);
    if (!(element instanceof HTMLElement)) continue;
    const share = (element.getBoundingClientRect().width * POINTS) / (rect.right - rect.left);
    for (let column = rect.left; column < rect.right; column += 1) if (!found[column] || rect.right - rect.left === 1) found[column] = share;
  }
  return found;
}

/** Has all cells of a table say how wide the columns are that they reach over. */
export function setWidths(state: EditorState, pos: number, widths: readonly number[]): Transaction {
  const change = state.tr;
  const node = state.doc.nodeAt(pos);
  if (node?.type.name !== "dataTable") return change;
  const map = TableMap.get(node);
  for (const at of new Set(map.map)) {
    const { left, right } = map.findCell(at);
    const cell = node.nodeAt(at);
    const colwidth = widths.slice(left, right).map((one) => Math.round(one * 10) / 10);
    if (cell) change.setNodeMarkup(pos + 1 + at, undefined, { ...cell.attrs, colwidth });
  }
  return change;
}

/** How wide a table may be, in points: as wide as lines are. */
function roomOf(view: EditorView, pos: number): number {
  const table = view.nodeDOM(pos);
  const column = table instanceof Element ? parseFloat(getComputedStyle(table).getPropertyValue("--column")) : NaN;
  return Number.isFinite(column) ? column : MOST_COLUMN;
}

/** The widths when the right edge of a column is moved by so many points; behind the last no further than there is `room`. */
export function moved(widths: readonly number[], column: number, by: number, room: number): number[] {
  const [own, next] = [widths[column] ?? 0, widths[column + 1]];
  const left = room - widths.reduce((sum, one) => sum + one, 0);
  const most = Math.max(next === undefined ? left : next - LEAST_COLUMN, 0);
  const step = Math.min(Math.max(by, Math.min(LEAST_COLUMN - own, 0)), most);
  return widths.map((one, at) => (at === column ? one + step : at === column + 1 ? one - step : one));
}

/** The width in points of the column with the cursor in it, and a way to change it. */
export function columnAtHand(editor: Editor, styles: Styles): { width: number; set: (width: number) => void } | null {
  const { view } = editor;
  const cell = cellAround(view.state.selection.$head);
  const table = findTable(view.state.selection.$head);
  if (!cell || !table) return null;
  const widths = widthsSeen(view, table.pos);
  const column = TableMap.get(table.node).findCell(cell.pos - table.start).left;
  if (!widths) return null;
  return {
    width: Math.round((widths[column] ?? 0) * 10) / 10,
    set: (width) => {
      makeEvenAt(view, table.pos, styles);
      const now = widthsSeen(view, table.pos);
      if (now) perform(editor, setWidths(view.state, table.pos, moved(now, column, width - (now[column] ?? 0), roomOf(view, table.pos))));
    },
  };
}

class Drag {
  private readonly guide = document.createElement("div");
  private readonly from: number;
  private readonly widths: number[] | null;
  private readonly room: number;

  private readonly view: EditorView;

  constructor(
    private readonly editor: Editor,
    private readonly edge: Edge,
    event: MouseEvent,
  ) {
    const view = (this.view = editor.view);
    this.from = event.clientX;
    this.widths = widthsSeen(view, edge.table);
    this.room = roomOf(view, edge.table);
    const table = view.nodeDOM(edge.table);
    const box = table instanceof Element ? table.getBoundingClientRect() : null;
    this.guide.className = "column-guide";
    if (box) Object.assign(this.guide.style, { top: `${String(box.top)}px`, height: `${String(box.height)}px` });
    document.body.append(this.guide);
    this.show(event.clientX);
    window.addEventListener("mousemove", this.move);
    window.addEventListener("mouseup", this.drop);
    window.addEventListener("keydown", this.cancel, true);
  }

  private by(x: number): number {
    if (!this.widths) return 0;
    const own = this.widths[this.edge.column] ?? 0;
    return (moved(this.widths, this.edge.column, (x - this.from) * POINTS, this.room)[this.edge.column] ?? own) - own;
  }

  private show(x: number): void {
    this.guide.style.left = `${String(this.from + this.by(x) / POINTS)}px`;
  }

  private readonly move = (event: MouseEvent) => this.show(event.clientX);

  private readonly drop = (event: MouseEvent) => {
    const by = this.by(event.clientX);
    this.end();
    if (Math.abs(event.clientX - this.from) < LEAST_DRAG) {
      // A press that is no drag is a press on the text.
      const { view } = this;
      const at = view.posAtCoords({ left: event.clientX, top: event.clientY });
      if (at) view.dispatch(view.state.tr.setSelection(Selection.near(view.state.doc.resolve(at.pos))));
      view.focus();
      return;
    }
    // Whoever else changed the table meanwhile has changed what was dragged.
    if (this.widths && Math.abs(by) > 0.5 && widthsSeen(this.view, this.edge.table)?.length === this.widths.length)
      perform(this.editor, setWidths(this.view.state, this.edge.table, moved(this.widths, this.edge.column, by, this.room)));
  };

  private readonly cancel = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return;
    event.preventDefault();
    event.stopPropagation();
    this.end();
  };

  end(): void {
    this.guide.remove();
    window.removeEventListener("mousemove", this.move);
    window.removeEventListener("mouseup", this.drop);
    window.removeEventListener("keydown", this.cancel, true);
  }
}

export const Columns = Extension.create<{ styles: () => Styles }>({
  name: "columns",
  priority: 1200,
  addOptions: () => ({ styles: () => [] }),
  addProseMirrorPlugins() {
    const { editor, options } = this;
    let drag: Drag | null = null;
    return [
      new Plugin({
        view: () => ({ destroy: () => drag?.end() }),
        props: {
          handleDOMEvents: {
            mousemove: (view, event) => {
              view.dom.classList.toggle("at-column-edge", view.editable && event.buttons === 0 && edgeAt(view, event) !== null);
            },
            mousedown: (view, event) => {
              const first = event.button === 0 && view.editable && !event.shiftKey ? edgeAt(view, event) : null;
              if (!first) return false;
              makeEvenAt(view, first.table, options.styles());
              event.preventDefault();
              drag?.end();
              drag = new Drag(editor, first, event);
              return true;
            },
          },
        },
      }),
    ];
  },
});
