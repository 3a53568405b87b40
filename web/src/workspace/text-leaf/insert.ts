/** Putting blocks into the text. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { NodeSelection, TextSelection, type EditorState, type Transaction } from "@tiptap/pm/state";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import { newId } from "./ids";

/** Does a change as one step of its own for undo, apart from what was typed just before and after. */
export function perform(editor: Editor, change: Transaction): void {
  const undo = yUndoPluginKey.getState(editor.state)?.undoManager;
  undo?.stopCapturing();
  editor.view.dispatch(change);
  undo?.stopCapturing();
}

/** The block with this id, in a data table as well, and where it begins. */
export function findBlock(doc: Node, id: string): { node: Node; pos: number } | null {
  let found: { node: Node; pos: number } | null = null;
  doc.descendants((node, pos) => {
    if (!found && node.attrs.id === id) found = { node, pos };
    return !found && !node.isTextblock;
  });
  return found;
}

/** The id of the block that is selected or that a place is in; in a data table that is one of its cell. */
export function blockOf({ doc }: EditorState, pos: number): string {
  const $pos = doc.resolve(pos);
  const block = $pos.parent.isTextblock ? $pos.parent : ($pos.nodeAfter ?? $pos.nodeBefore);
  return (block?.attrs.id as string | null | undefined) ?? "";
}

/**
 * Puts a block behind the one with this id, or in its place if that is an empty paragraph; nobody's cursor moves for it. In a data
 * table that is in the cell, if the block may stand there; where the cursor is in the place of it, it is selected.
 */
export function insertAfter(editor: Editor, id: string, type: string, attributes: Record<string, unknown>): boolean {
  const { state } = editor;
  const block = state.schema.nodeFromJSON({ type, attrs: { id: newId(), ...attributes } });
  const there = findBlock(state.doc, id);
  if (!there) return false;
  const { node, pos } = there;
  const { parent } = state.doc.resolve(pos);
  if (!parent.type.contentMatch.matchType(block.type)) return false;
  const change = state.tr;
  // An empty paragraph at the end of the text stays: there must be a place to write on.
  const replaced = node.isTextblock && node.content.size === 0 && (parent !== state.doc || pos + node.nodeSize < state.doc.content.size);
  if (replaced) {
    const { from } = state.selection;
    change.replaceWith(pos, pos + node.nodeSize, block);
    // In a cell the next place to write on is in another one.
    if (parent !== state.doc && from > pos && from < pos + node.nodeSize) change.setSelection(NodeSelection.create(change.doc, pos));
  } else change.insert(node.content.size === 0 && node.isTextblock ? pos : pos + node.nodeSize, block);
  perform(editor, change);
  return true;
}

/** Puts a block behind the one with the cursor, or in its place if that is an empty paragraph; cursor goes behind it. */
export function insertBlock(editor: Editor, type: string, attributes: Record<string, unknown>, content?: unknown): void {
  const { state } = editor;
  const { $from } = state.selection;
  const { schema } = state;
  const block = schema.nodeFromJSON({ type, attrs: { id: newId(), ...attributes }, content });
  const change = state.tr;
  const outer = $from.depth ? $from.node(1) : null;
  let at = $from.depth ? $from.after(1) : state.selection.to;
  if (outer?.type.name === "paragraph" && outer.content.size === 0) {
    at = $from.before(1);
    change.delete(at, $from.after(1));
  }
  change.insert(at, block);
  const after = at + block.nodeSize;
  if (change.doc.nodeAt(after)?.type.name !== "paragraph") {
    change.insert(after, schema.nodes.paragraph?.create({ id: newId() }) ?? []);
  }
  const inside = type === "dataTable" ? at : after;
  change.setSelection(TextSelection.near(change.doc.resolve(inside + 1)));
  perform(editor, change.scrollIntoView());
  editor.view.focus();
}
