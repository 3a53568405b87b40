/** Going to a place in the text, and back to where somebody was: by block, so that what others write moves nothing. */
import type { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";

/** Pixels below the top of the leaf at which a block is put that somebody went to. */
const BELOW_TOP = 56;

export interface Position {
  /** The block at the top of the leaf, and how far below the leaf's top it began. */
  block: string | null;
  gap: number;
  /** The block with the cursor, and how far into it. */
  caret: string | null;
  offset: number;
}

export const blockElement = (editor: Editor, id: string) =>
  editor.view.dom.querySelector<HTMLElement>(`[data-id="${CSS.escape(id)}"]`);

/** Marks that make words a place. */
const NAMING = ["bookmark", "citation", "indexed"];

/** What stands at a place: its block, or the first of the words that are marked. */
export const placeElement = (editor: Editor, id: string) =>
  blockElement(editor, id) ?? editor.view.dom.querySelector<HTMLElement>(NAMING.map((name) => `[data-${name}="${CSS.escape(id)}"]`).join());

/** The last of the elements that begins above a height of the window. They stand in order, so halving finds it. */
function lastAbove(elements: ArrayLike<Element>, y: number): Element | undefined {
  let low = 0;
  let high = elements.length - 1;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((elements[middle]?.getBoundingClientRect().top ?? 0) <= y) low = middle;
    else high = middle - 1;
  }
  return elements[low];
}

const isBand = (element: Element) => element.classList.contains("band");

/** The block of the text at a height of the window, or the last one above it; or a page edge between two blocks. */
export function blockAt(text: Element, y: number): Element | null {
  const found = lastAbove(text.children, y);
  return (found && isBand(found) ? lastAbove(found.children, y) : found) ?? null;
}

/** The block before this one, or the page edge between. */
export function blockBefore(block: Element): Element | null {
  const band = block.parentElement;
  const before = block.previousElementSibling ?? (band && isBand(band) ? band.previousElementSibling : null);
  return before && isBand(before) ? before.lastElementChild : before;
}

/**
 * Puts the cursor to the end of a paragraph when somebody presses the room between it and the data table behind it: Chromium
 * would put it behind the table. False where nothing of the kind was pressed.
 */
export function pressAboveTable(view: EditorView, target: Element, y: number): boolean {
  if (target.closest("[data-id]")) return false;
  let block = blockAt(view.dom, y);
  while (block && !block.hasAttribute("data-id")) block = blockBefore(block);
  if (!block?.matches("p")) return false;
  let next = block.nextElementSibling ?? block.parentElement?.nextElementSibling?.firstElementChild ?? null;
  while (next && !next.hasAttribute("data-id")) next = next.nextElementSibling;
  if (!next?.matches("table")) return false;
  const { state } = view;
  view.dispatch(state.tr.setSelection(TextSelection.create(state.doc, state.doc.resolve(view.posAtDOM(block, 0)).end())));
  view.focus();
  return true;
}

export function placeNow(editor: Editor, scroller: HTMLElement): Position {
  const top = scroller.getBoundingClientRect().top;
  let first = blockAt(editor.view.dom, top + BELOW_TOP);
  while (first && !first.hasAttribute("data-id")) first = blockBefore(first);
  const { $from } = editor.state.selection;
  return {
    block: first?.getAttribute("data-id") ?? null,
    gap: (first?.getBoundingClientRect().top ?? top) - top,
    caret: $from.depth > 0 ? ($from.node(1).attrs.id as string) : null,
    offset: $from.depth > 0 ? $from.pos - $from.before(1) : 0,
  };
}

export function goBackTo(editor: Editor, scroller: HTMLElement, place: Position): void {
  const block = place.block === null ? null : blockElement(editor, place.block);
  if (block) bringIntoSight(scroller, block, place.gap);
  if (place.caret !== null) putCursor(editor, place.caret, place.offset);
}

/** Puts the cursor into a block of the text, `offset` positions from its start, or to the words that are marked so. */
export function putCursor(editor: Editor, id: string, offset: number): void {
  const { doc, tr } = editor.state;
  let done = false;
  doc.descendants((node, pos) => {
    if (done) return false;
    const named = node.isText && node.marks.some(({ type, attrs }) => NAMING.includes(type.name) && attrs.id === id);
    if (!named && node.attrs.id !== id) return true;
    const at = doc.resolve(named ? pos : pos + Math.min(offset, node.nodeSize - 1));
    editor.view.dispatch(tr.setSelection(TextSelection.near(at)));
    done = true;
    return false;
  });
  editor.view.focus();
}

/** Scrolls a block to a height below the leaf's top. Out of sight heights are estimates, so it looks again. */
export function bringIntoSight(scroller: HTMLElement, block: HTMLElement, gap = BELOW_TOP, again = 4): void {
  scroller.scrollTop += block.getBoundingClientRect().top - scroller.getBoundingClientRect().top - gap;
  if (again > 0) requestAnimationFrame(() => bringIntoSight(scroller, block, gap, again - 1));
}
