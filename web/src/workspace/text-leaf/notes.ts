/** Footnotes and endnotes: paragraphs that are written behind the block that refers to them, and printed elsewhere. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { TextSelection, type Transaction } from "@tiptap/pm/state";
import { newId } from "./ids";
import { perform } from "./insert";
import { forRole, type Styles } from "./styles";

/** Where a note stands when it is printed. */
export const NOTE_KINDS = [
  ["foot", "at the foot of its page"],
  ["end", "at the end"],
] as const;
export type NoteKind = (typeof NOTE_KINDS)[number][0];

export const isNote = (node: Node | null | undefined): node is Node => node?.type.name === "paragraph" && node.attrs.note !== null;

const refersTo = (node: Node): string | null => (node.type.name === "reference" && node.attrs.shows === "note" ? (node.attrs.to as string) : null);

/** The note with the cursor, and where it begins. */
export function noteAt(editor: Editor): { node: Node; pos: number } | null {
  const { $from } = editor.state.selection;
  return $from.depth === 1 && isNote($from.parent) ? { node: $from.parent, pos: $from.before() } : null;
}

/** Where the references to a note stand, in the order of the text. */
export function referencesTo(doc: Node, id: string): number[] {
  const found: number[] = [];
  doc.descendants((node, pos) => {
    if (refersTo(node) === id) found.push(pos);
    return !node.isText;
  });
  return found;
}

/** Where a note begins in the text that is referred to at `pos`: behind the block there, in the order of its references. */
function placeOfNote(doc: Node, pos: number): number {
  const $pos = doc.resolve(pos);
  const later = new Set<string>();
  $pos.node(1).nodesBetween(pos - $pos.before(1) - 1, $pos.node(1).content.size, (node) => {
    const to = refersTo(node);
    if (to !== null) later.add(to);
    return true;
  });
  let at = $pos.after(1);
  for (let next = doc.nodeAt(at); isNote(next) && !later.has(next.attrs.id as string); next = doc.nodeAt(at)) at += next.nodeSize;
  return at;
}

/** Refers to a new note at the cursor, behind what is selected, and puts the cursor into the note: its id, or null where no words stand. */
export function putNote(editor: Editor, styles: Styles): string | null {
  const { state } = editor;
  const { $to } = state.selection;
  const { reference, paragraph } = state.schema.nodes;
  if (!$to.parent.isTextblock || $to.depth === 0 || !reference || !paragraph) return null;
  const id = newId();
  const change = state.tr;
  const place = placeOfNote(state.doc, $to.pos);
  change.insert(place, paragraph.create({ id, style: forRole(styles, "note"), note: "foot" }));
  change.insert($to.pos, reference.create({ to: id, shows: "note", said: "" }));
  change.setSelection(TextSelection.create(change.doc, place + 2));
  perform(editor, change.scrollIntoView());
  editor.view.focus();
  return id;
}

/** Puts the cursor behind the first reference to the note at hand. */
export function leaveNote(editor: Editor): boolean {
  const note = noteAt(editor);
  const [first] = note ? referencesTo(editor.state.doc, note.node.attrs.id as string) : [];
  if (first === undefined) return false;
  editor.view.dispatch(editor.state.tr.setSelection(TextSelection.create(editor.state.doc, first + 1)).scrollIntoView());
  editor.view.focus();
  return true;
}

/** Takes a note out of the text with all that refers to it, and puts the cursor to where it was referred to. */
export function removeNote(editor: Editor): boolean {
  const note = noteAt(editor);
  if (!note) return false;
  const { doc, tr } = editor.state;
  const references = referencesTo(doc, note.node.attrs.id as string);
  const change: Transaction = tr.delete(note.pos, note.pos + note.node.nodeSize);
  // From the end on, so that what stands in front keeps its place.
  for (const pos of references.reverse()) {
    const from = change.mapping.map(pos);
    if (change.doc.nodeAt(from)?.type.name === "reference") change.delete(from, from + 1);
  }
  const at = references.at(-1) ?? note.pos;
  change.setSelection(TextSelection.near(change.doc.resolve(Math.min(change.mapping.map(at), change.doc.content.size)), -1));
  perform(editor, change.scrollIntoView());
  editor.view.focus();
  return true;
}

/** Backspace at the beginning of a note: an empty one goes with what refers to it; the words of another do not run into the text. */
export function backspaceInNote(editor: Editor): boolean {
  const { $from, empty } = editor.state.selection;
  const note = noteAt(editor);
  if (!note || !empty || $from.parentOffset > 0) return false;
  return note.node.content.size === 0 ? removeNote(editor) : true;
}

/** Enter in a note is a new line of it. */
export function newLineInNote(editor: Editor): boolean {
  const { hardBreak } = editor.state.schema.nodes;
  if (!noteAt(editor) || !hardBreak) return false;
  editor.view.dispatch(editor.state.tr.replaceSelectionWith(hardBreak.create(), false).scrollIntoView());
  return true;
}

export function setNoteKind(editor: Editor, kind: NoteKind): void {
  const note = noteAt(editor);
  if (note) perform(editor, editor.state.tr.setNodeAttribute(note.pos, "note", kind));
}
