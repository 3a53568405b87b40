/** Putting blocks into the text. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { TextSelection, type Transaction } from "@tiptap/pm/state";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import { newId } from "./ids";

/** Does a change as one step of its own for undo, apart from what was typed just before and after. */
export function perform(editor: Editor, change: Transaction): void {
  const undo = yUndoPluginKey.getState(editor.state)?.undoManager;
  undo?.stopCapturing();
  editor.view.dispatch(change);
  undo?.stopCapturing();
}

/** Puts a block behind the one with this id, or in its place if that is an empty paragraph; nobody's cursor moves for it. */
export function insertAfter(editor: Editor, id: string, type: string, attributes: Record<string, unknown>): boolean {
  const { state } = editor;
  let there: { node: Node; pos: number } | null = null;
  state.doc.forEach((node, pos) => {
    if (node.attrs.id === id) there = { node, pos };
  });
  if (!there) return false;
  const { node, pos } = there as { node: Node; pos: number };
  const block = state.schema.nodeFromJSON({ type, attrs: { id: newId(), ...attributes } });
  const change = state.tr;
  // An empty paragraph at the end stays: there must be a place to write on.
  const replaced = node.isTextblock && node.content.size === 0 && pos + node.nodeSize < state.doc.content.size;
  if (replaced) change.replaceWith(pos, pos + node.nodeSize, block);
  else change.insert(node.content.size === 0 && node.isTextblock ? pos : pos + node.nodeSize, block);
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
