/** What can be done to the text: each a ProseMirror command, the same for mouse and keyboard. */
import type { Editor } from "@tiptap/core";
import type { Mark, Node } from "@tiptap/pm/model";
import { NodeSelection, TextSelection, type Transaction } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
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

/** Gives the selected words another font, size or colour, or with null their style's; what else they have stays theirs. */
export function changeTypeface(editor: Editor, change: Partial<Record<"font" | "size" | "colour", unknown>>): void {
  const { doc, schema, selection, tr } = editor.state;
  const type = schema.marks.typeface;
  if (!type) return;
  doc.nodesBetween(selection.from, selection.to, (node, pos) => {
    if (!node.isInline) return;
    const from = Math.max(pos, selection.from);
    const to = Math.min(pos + node.nodeSize, selection.to);
    const next = { ...type.create().attrs, ...type.isInSet(node.marks)?.attrs, ...change };
    if (Object.values(next).some((value) => value !== null)) tr.addMark(from, to, type.create(next));
    else tr.removeMark(from, to, type);
  });
  if (tr.docChanged) perform(editor, tr);
  editor.view.focus();
}

export type Emphasis = "bold" | "italic" | "underline";

/** Whether all words at hand carry a mark. (The library's own answer takes bands for marks on words.) */
function carries(editor: Editor, name: string, attributes: Record<string, unknown> = {}): boolean {
  const { storedMarks, selection, doc } = editor.state;
  const among = (marks: readonly Mark[]) =>
    marks.some(({ type, attrs }) => type.name === name && Object.entries(attributes).every(([key, value]) => attrs[key] === value));
  if (selection.empty) return among(storedMarks ?? selection.$from.marks());
  const words: boolean[] = [];
  for (const { $from, $to } of selection.ranges) {
    doc.nodesBetween($from.pos, $to.pos, (node) => {
      if (node.isText) words.push(among(node.marks));
    });
  }
  return words.length > 0 && words.every(Boolean);
}

/** Whether the words at hand are bold or italic, by formatting of their own or else by their paragraph's style. */
export function isOn(editor: Editor, name: Emphasis, styles: readonly StyleShown[]): boolean {
  if (carries(editor, name)) return !carries(editor, name, { off: true });
  const { style } = editor.getAttributes("paragraph");
  return name !== "underline" && (styles.find((one) => one.id === style)?.[name] ?? false);
}

/** Makes the words at hand bold, italic or underlined, or takes that away, whatever their paragraph's style says. */
export function toggle(editor: Editor, name: Emphasis, styles: readonly StyleShown[]): boolean {
  const chain = editor.chain().focus();
  return (carries(editor, name) ? chain.unsetMark(name) : chain.setMark(name, { off: isOn(editor, name, styles) })).run();
}

/** Puts a block behind the one with this id, or in its place if that is an empty paragraph; nobody's cursor moves for it. */
function insertBehind(editor: Editor, id: string, type: string, attributes: Record<string, unknown>): boolean {
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

/** Puts a picture behind the block for which it was asked; at the cursor if somebody has taken that block out meanwhile. */
export function insertPicture(editor: Editor, behind: string, picture: { source: string; width: number; height: number }): void {
  if (!insertBehind(editor, behind, "image", { ...picture, alt: "" })) insertBlock(editor, "image", { ...picture, alt: "" });
}

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

/** What is typed while a block such as a table or a picture is selected goes into a paragraph behind it. */
export function typeBehind(view: EditorView, text: string): boolean {
  const { selection, schema, tr } = view.state;
  if (!(selection instanceof NodeSelection) || !selection.node.isBlock) return false;
  const paragraph = schema.nodes.paragraph?.create({ id: newId() }, schema.text(text));
  if (!paragraph) return false;
  tr.insert(selection.to, paragraph);
  tr.setSelection(TextSelection.create(tr.doc, selection.to + 1 + text.length));
  view.dispatch(tr.scrollIntoView());
  return true;
}

const LISTS: Record<string, string> = { "-": "bullet-1", "1.": "item-1" };

/** The text after a list was begun by what was typed, so that one Backspace can take just that back. */
const begun = new WeakMap<Editor, Node>();

/** A space typed behind "-" or "1." at the start of body text begins a list; undo takes that back to the characters. */
export function beginList(editor: Editor, text: string): boolean {
  const { $from, empty } = editor.state.selection;
  const style = LISTS[$from.parent.textContent.slice(0, $from.parentOffset)];
  if (text !== " " || !empty || !style || $from.depth !== 1 || $from.parent.attrs.style !== "body") return false;
  const start = $from.start();
  editor.view.dispatch(editor.state.tr.insertText(text));
  const change = editor.state.tr.delete(start, $from.pos + 1);
  perform(editor, change.setNodeAttribute(start - 1, "style", style));
  begun.set(editor, editor.state.doc);
  return true;
}

/** Right after a list was begun: back to what was typed, with the cursor behind it. */
export function takeListBack(editor: Editor): boolean {
  if (begun.get(editor) !== editor.state.doc) return false;
  const { $from } = editor.state.selection;
  editor.commands.undo();
  const { doc, tr } = editor.state;
  const typed = doc.resolve($from.pos).parent.content.size - $from.parent.content.size;
  editor.view.dispatch(tr.setSelection(TextSelection.create(doc, $from.pos + typed)));
  return true;
}

/** Backspace at the start of a list item: right after it was begun, back to what was typed; else it is in no list any more. */
export function leaveList(editor: Editor, styles: readonly StyleShown[]): boolean {
  const { $from, empty } = editor.state.selection;
  const marker = styles.find((style) => style.id === $from.parent.attrs.style)?.marker;
  if (!empty || $from.parentOffset > 0 || !marker || marker === "number") return false;
  if (takeListBack(editor)) return true;
  setOnParagraphs(editor, "style", "body");
  return true;
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
