/** Captions, references, links to places, and bookmarks: putting them into the text. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { NodeSelection, TextSelection } from "@tiptap/pm/state";
import { useCallback } from "react";
import type { LabelShown } from "../../api/client";
import { markAt } from "./citing";
import { newId } from "./ids";
import { perform } from "./insert";
import { referenceAt, type Reference } from "./kinds/reference";
import { entriesOf, type Entry } from "./marks";
import { forRole, type Styles } from "./styles";
import { useRead } from "./useRead";

/** A block of the text itself, and where it begins. */
interface Outer {
  node: Node;
  pos: number;
}

/** The picture that is selected, or the data table with the cursor. */
function captionable(editor: Editor): Outer | null {
  const { selection } = editor.state;
  if (selection instanceof NodeSelection && selection.node.type.name === "image") return { node: selection.node, pos: selection.from };
  const { $from } = selection;
  return $from.depth > 0 && $from.node(1).type.name === "dataTable" ? { node: $from.node(1), pos: $from.before(1) } : null;
}

const isCaption = (node: Node | null | undefined): boolean => node?.type.name === "paragraph" && node.attrs.caption !== null;

/** The caption that stands at a block, above or below it. */
function captionAt(editor: Editor, { node, pos }: Outer): Node | null {
  const { doc } = editor.state;
  const below = doc.nodeAt(pos + node.nodeSize);
  const above = doc.resolve(pos).nodeBefore;
  return isCaption(below) ? below : isCaption(above) ? above : null;
}

/** Gives what is at hand a caption with this label, and puts the cursor where its words go. */
export function putCaption(editor: Editor, label: LabelShown, styles: Styles): boolean {
  const at = captionable(editor);
  const type = editor.state.schema.nodes.paragraph;
  if (!at || !type) return false;
  const { doc, tr } = editor.state;
  const place = label.place === "above" ? at.pos : at.pos + at.node.nodeSize;
  // What stands there in the style of captions, and is none yet, becomes one: its words stay.
  const there = label.place === "above" ? doc.resolve(place).nodeBefore : doc.nodeAt(place);
  const style = forRole(styles, "caption");
  const start = label.place === "above" ? place - (there?.nodeSize ?? 0) : place;
  if (there?.type.name === "paragraph" && there.attrs.style === style && there.attrs.caption === null) {
    tr.setNodeAttribute(start, "caption", label.id).setSelection(TextSelection.near(tr.doc.resolve(start + there.nodeSize - 1), -1));
  } else {
    tr.insert(place, type.create({ id: newId(), style, caption: label.id }));
    tr.setSelection(TextSelection.create(tr.doc, place + 1));
  }
  perform(editor, tr.scrollIntoView());
  editor.view.focus();
  return true;
}

/** Puts a reference at the cursor, or in place of the selected words; whether it can stand there. */
export function putReference(editor: Editor, reference: Reference): boolean {
  const node = editor.state.schema.nodes.reference?.create(reference);
  if (!node || !editor.state.selection.$from.parent.isTextblock) return false;
  perform(editor, editor.state.tr.replaceSelectionWith(node, false).scrollIntoView());
  editor.view.focus();
  return true;
}

/** Makes the reference at hand another one. */
export function changeReference(editor: Editor, values: Partial<Reference>): void {
  const { selection, tr } = editor.state;
  const at = referenceAt(selection);
  if (!at) return;
  tr.setNodeMarkup(at.pos, undefined, { ...at.node.attrs, ...values });
  perform(editor, tr.setSelection(TextSelection.create(tr.doc, selection.anchor, selection.head)));
}

/** Makes the reference at hand plain words. */
export function referenceAsWords(editor: Editor, words: string): void {
  const { selection, tr, schema } = editor.state;
  const at = referenceAt(selection);
  if (!at) return;
  const end = at.pos + at.node.nodeSize;
  perform(editor, words ? tr.replaceWith(at.pos, end, schema.text(words)) : tr.delete(at.pos, end));
  editor.view.focus();
}

/** Where the words are that a bookmark would name: those selected, or without any, those of the paragraph with the cursor. */
export function toBookmark(editor: Editor): { from: number; to: number; words: string } | null {
  const { selection, doc } = editor.state;
  const { $from } = selection;
  if (selection instanceof NodeSelection || !$from.parent.isTextblock) return null;
  const [from, to] = selection.empty ? [$from.start(), $from.end()] : [selection.from, selection.to];
  const words = doc.textBetween(from, to, " ", " ").replace(/\s+/g, " ").trim();
  return words ? { from, to, words } : null;
}

export function putBookmark(editor: Editor, name: string): boolean {
  const stretch = toBookmark(editor);
  const type = editor.state.schema.marks.bookmark;
  if (!stretch || !type) return false;
  perform(editor, editor.state.tr.addMark(stretch.from, stretch.to, type.create({ id: newId(), name })));
  editor.view.focus();
  return true;
}

/** Gives every part of a bookmark another name, or takes it off with `null`; its words stay. */
export function changeBookmark(editor: Editor, id: string, name: string | null): void {
  const { doc, tr, schema } = editor.state;
  const type = schema.marks.bookmark;
  if (!type) return;
  doc.descendants((node, pos) => {
    const mark = node.isText && type.isInSet(node.marks);
    if (!mark || mark.attrs.id !== id) return;
    tr.removeMark(pos, pos + node.nodeSize, mark);
    if (name !== null) tr.addMark(pos, pos + node.nodeSize, type.create({ id, name }));
  });
  if (tr.docChanged) perform(editor, tr);
}

/** A picture: what it says, how wide and high it is in points, and where it stands in its column. */
export interface PictureAtHand {
  alt: string;
  decorative: boolean | null;
  width: number;
  height: number;
  align: string;
  /** Whether words stand beside it. */
  beside: boolean | null;
}


/** What is at hand beside words: a picture that is selected, a reference beside the cursor, a data table or caption with it. */
export type AtHand =
  | ({ kind: "image"; captioned: boolean; inCell: boolean } & PictureAtHand)
  | { kind: "dataTable"; captioned: boolean }
  | { kind: "caption"; label: string; block: string }
  | { kind: "link"; href: string; title: string }
  | { kind: "reference"; reference: Reference; paragraph: string }
  | null;

export function atHand(editor: Editor): AtHand {
  const { selection } = editor.state;
  const { $from } = selection;
  const reference = referenceAt(selection);
  if (reference) {
    return { kind: "reference", reference: reference.node.attrs as Reference, paragraph: ($from.parent.attrs.id as string | null) ?? "" };
  }
  if (isCaption($from.parent)) return { kind: "caption", label: $from.parent.attrs.caption as string, block: $from.parent.attrs.id as string };
  const link = $from.marks().find(({ type }) => type.name === "link");
  if (link) return { kind: "link", href: link.attrs.href as string, title: (link.attrs.title as string | null) ?? "" };
  const at = captionable(editor);
  if (!at) return null;
  const captioned = captionAt(editor, at) !== null;
  if (at.node.type.name === "dataTable") return { kind: "dataTable", captioned };
  const { alt, decorative, width, height, align, beside } = at.node.attrs as unknown as PictureAtHand;
  return { kind: "image", alt, decorative, width, height, align, beside, captioned, inCell: $from.depth > 0 };
}

/** What the words at the cursor are marked as, whatever else is at hand. */
export interface MarkedAtHand {
  citation: { id: string; of: string } | null;
  indexed: { id: string; entries: Entry[] } | null;
}

export function markedAtHand(editor: Editor): MarkedAtHand {
  const citation = markAt(editor, "citation");
  const indexed = markAt(editor, "indexed");
  return {
    citation: citation ? { id: citation.attrs.id as string, of: citation.attrs.of as string } : null,
    indexed: indexed ? { id: indexed.attrs.id as string, entries: entriesOf(indexed.attrs.entries) } : null,
  };
}

/** What the words at the cursor are marked as, kept level with the selection. */
export const useMarkedAtHand = (editor: Editor): MarkedAtHand | null => useRead(editor, useCallback(() => markedAtHand(editor), [editor]));

/** What is at hand, kept level with the selection. */
export const useAtHand = (editor: Editor): AtHand => useRead(editor, useCallback(() => atHand(editor), [editor]));

/** Says something of the picture that is selected. */
export function setOnPicture(editor: Editor, values: Partial<PictureAtHand>): void {
  const { selection, tr } = editor.state;
  if (!(selection instanceof NodeSelection) || selection.node.type.name !== "image") return;
  tr.setNodeMarkup(selection.from, undefined, { ...selection.node.attrs, ...values });
  perform(editor, tr.setSelection(NodeSelection.create(tr.doc, selection.from)));
}
