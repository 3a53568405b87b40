/** What can be done to the text: each a ProseMirror command, the same for mouse and keyboard. */
import type { Editor } from "@tiptap/core";
import { TextSelection, type Transaction } from "@tiptap/pm/state";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import type { StyleShown } from "../../api/client";
import { newId } from "./ids";

/** Does a change as one step of its own for undo, apart from what was typed just before and after. */
function perform(editor: Editor, change: Transaction): void {
  const undo = yUndoPluginKey.getState(editor.state)?.undoManager;
  undo?.stopCapturing();
  editor.view.dispatch(change);
  undo?.stopCapturing();
}

/** The paragraphs that the selection touches, as positions. */
function selected(editor: Editor): number[] {
  const { from, to } = editor.state.selection;
  const found: number[] = [];
  editor.state.doc.nodesBetween(from, to, (node, pos) => {
    if (node.type.name === "paragraph") found.push(pos);
    return !node.isTextblock;
  });
  return found;
}

/** Gives a style to the paragraphs with these ids, or to those in the selection. Returns how many changed. */
export function giveStyle(editor: Editor, style: string, ids?: readonly string[]): number {
  const positions: number[] = [];
  if (ids) {
    const wanted = new Set(ids);
    editor.state.doc.descendants((node, pos) => {
      if (node.type.name === "paragraph" && wanted.has(node.attrs.id as string)) positions.push(pos);
      return !node.isTextblock;
    });
  } else {
    positions.push(...selected(editor));
  }
  const change = editor.state.tr;
  for (const pos of positions) {
    if (change.doc.nodeAt(pos)?.attrs.style !== style) change.setNodeAttribute(pos, "style", style);
  }
  if (change.docChanged) perform(editor, change);
  return change.steps.length;
}

/** Moves the selected paragraphs `by` heading levels; body text becomes level 1, a level outside 1–9 stays as it is. */
export function shiftLevel(editor: Editor, by: number, styles: readonly StyleShown[]): void {
  const levels = new Map(styles.map((style) => [style.id, style.outline_level]));
  const change = editor.state.tr;
  for (const pos of selected(editor)) {
    const level = levels.get(change.doc.nodeAt(pos)?.attrs.style as string);
    const wanted = level ? level + by : by > 0 ? 1 : 0;
    const style = styles.find((one) => one.outline_level === wanted);
    if (style) change.setNodeAttribute(pos, "style", style.id);
  }
  if (change.docChanged) perform(editor, change);
}

export function setOnParagraphs(editor: Editor, attribute: string, value: unknown): void {
  const change = editor.state.tr;
  for (const pos of selected(editor)) change.setNodeAttribute(pos, attribute, value);
  if (change.docChanged) perform(editor, change);
}

/** Whether the words at hand are bold or italic, by formatting of their own or else by their paragraph's style. */
export function isOn(editor: Editor, name: "bold" | "italic", styles: readonly StyleShown[]): boolean {
  if (editor.isActive(name)) return !editor.isActive(name, { off: true });
  const { style } = editor.getAttributes("paragraph");
  return styles.find((one) => one.id === style)?.[name] ?? false;
}

/** Makes the words at hand bold or italic, or takes it away, whatever their paragraph's style says. */
export function toggle(editor: Editor, name: "bold" | "italic", styles: readonly StyleShown[]): boolean {
  const chain = editor.chain().focus();
  return (editor.isActive(name) ? chain.unsetMark(name) : chain.setMark(name, { off: isOn(editor, name, styles) })).run();
}

/** Puts a block behind the one with the cursor, or in its place if that is an empty paragraph; cursor goes behind it. */
function insertBlock(editor: Editor, type: string, attributes: Record<string, unknown>, content?: unknown): void {
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
  const behind = at + block.nodeSize;
  if (change.doc.nodeAt(behind)?.type.name !== "paragraph") {
    change.insert(behind, schema.nodes.paragraph?.create({ id: newId() }) ?? []);
  }
  const inside = type === "dataTable" ? at : behind;
  change.setSelection(TextSelection.near(change.doc.resolve(inside + 1)));
  perform(editor, change.scrollIntoView());
  editor.view.focus();
}

export const insertContents = (editor: Editor, ownPage: boolean) =>
  insertBlock(editor, "placedTable", { table: newId(), ownPage });

export const insertPicture = (editor: Editor, picture: { source: string; width: number; height: number }, alt: string) =>
  insertBlock(editor, "image", { ...picture, alt });

export function insertDataTable(editor: Editor): void {
  const cell = { type: "dataCell", content: [{ type: "paragraph", attrs: { style: "cell" } }] };
  const row = { type: "dataRow", content: [cell, cell, cell] };
  insertBlock(editor, "dataTable", { headerRows: 1 }, [row, row, row]);
}

/** A page break at the cursor: a paragraph with text on both sides is split there. */
export function insertPageBreak(editor: Editor): void {
  const { state } = editor;
  const { $from } = state.selection;
  if ($from.depth !== 1 || $from.parent.type.name !== "paragraph") {
    insertBlock(editor, "pageBreak", {});
    return;
  }
  const { schema } = state;
  const change = state.tr.deleteSelection();
  const paragraph = change.selection.$from;
  let at: number;
  if (paragraph.parentOffset === 0) at = paragraph.before(1);
  else if (paragraph.parentOffset === paragraph.parent.content.size) at = paragraph.after(1);
  else {
    change.split(paragraph.pos);
    at = paragraph.pos + 1;
  }
  const pageBreak = schema.nodes.pageBreak?.create({ id: newId() });
  if (!pageBreak) return;
  change.insert(at, pageBreak);
  if (change.doc.nodeAt(at + 1)?.type.name !== "paragraph") {
    change.insert(at + 1, schema.nodes.paragraph?.create({ id: newId() }) ?? []);
  }
  change.setSelection(TextSelection.near(change.doc.resolve(at + 2)));
  perform(editor, change.scrollIntoView());
}

/** Takes the table with this key out of the text; undo brings it back. */
export function removeTable(editor: Editor, table: string): void {
  const change = editor.state.tr;
  editor.state.doc.forEach((node, pos) => {
    if (node.type.name === "placedTable" && node.attrs.table === table) change.delete(pos, pos + node.nodeSize);
  });
  if (change.docChanged) perform(editor, change);
}

/** Enter: a new paragraph; behind the end of a heading, one of the style that follows it. */
export function splitParagraph(editor: Editor, styles: readonly StyleShown[]): boolean {
  const { $from, empty } = editor.state.selection;
  if ($from.parent.type.name !== "paragraph") return false;
  const style = styles.find((one) => one.id === $from.parent.attrs.style);
  const atEnd = empty && $from.parentOffset === $from.parent.content.size;
  if (style?.marker && style.marker !== "number" && $from.parent.content.size === 0) {
    setOnParagraphs(editor, "style", "body");
    return true;
  }
  const change = editor.state.tr.deleteSelection();
  const type = $from.parent.type;
  const attrs = atEnd ? { id: newId(), style: style?.next ?? "body" } : { ...$from.parent.attrs, id: newId() };
  if (!atEnd && $from.parentOffset === 0 && empty && $from.parent.content.size > 0) {
    change.insert($from.before(), type.create({ id: newId() }));
  } else {
    change.split(change.selection.from, 1, [{ type, attrs }]);
  }
  editor.view.dispatch(change.scrollIntoView());
  return true;
}
