/** What can be done to the text: each a ProseMirror command, the same for mouse and keyboard. */
import type { Editor } from "@tiptap/core";
import type { Mark, MarkType, Node, Slice } from "@tiptap/pm/model";
import { NodeSelection, TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { OF_WORDS, type Property } from "../controls/look";
import { newId } from "./ids";
import { changeInPlace, withAttributes, withMarks, type Found } from "./inPlace";
import { perform } from "./insert";
import { forItem, forRole, styleOf, type Styles } from "./styles";
import { meant, PARAGRAPH_ATTRIBUTES } from "./useLook";

/** The paragraphs with these ids, or without any, those that the selection touches. */
function selected(editor: Editor, ids?: readonly string[]): Found[] {
  const { doc, selection } = editor.state;
  const wanted = ids && new Set(ids);
  const found: Found[] = [];
  doc.nodesBetween(ids ? 0 : selection.from, ids ? doc.content.size : selection.to, (node, pos) => {
    if (node.type.name === "paragraph" && (!wanted || wanted.has(node.attrs.id as string))) found.push({ node, pos });
    return !node.isTextblock;
  });
  return found;
}

/** Gives a style to the paragraphs with these ids, or to those in the selection. Returns how many changed. */
export function giveStyle(editor: Editor, style: string, ids?: readonly string[]): number {
  const others = selected(editor, ids).filter(({ node }) => node.attrs.style !== style);
  const change = editor.state.tr;
  changeInPlace(change, others, ({ node }) => withAttributes(node, { style }));
  if (change.docChanged) perform(editor, change);
  return others.length;
}

/** Moves paragraphs `by` heading levels; body text becomes level 1, a level outside 1–9 stays as it is. */
export function shiftLevel(editor: Editor, by: number, styles: Styles, ids?: readonly string[]): void {
  const levels = new Map(styles.map((style) => [style.id, style.outline_level]));
  const change = editor.state.tr;
  changeInPlace(change, selected(editor, ids), ({ node }) => {
    const level = levels.get(node.attrs.style as string);
    const wanted = level ? level + by : by > 0 ? 1 : 0;
    const style = styles.find((one) => one.outline_level === wanted);
    return style ? withAttributes(node, { style: style.id }) : node;
  });
  if (change.docChanged) perform(editor, change);
}

/** Gives a setting of their own to the paragraphs with these ids, or to those in the selection; null takes it away. */
export function setOnParagraphs(editor: Editor, attribute: string, value: unknown, ids?: readonly string[]): void {
  const change = editor.state.tr;
  changeInPlace(change, selected(editor, ids), ({ node }) => withAttributes(node, { [attribute]: value }));
  if (change.docChanged) perform(editor, change);
}

/** Changes what the selection means: each paragraph, and the stretch of its words. */
function changeMeant(editor: Editor, to: (node: Node, start: number, end: number) => Node): void {
  const stretch = meant(editor);
  if (!stretch) return;
  const { from, to: until } = stretch;
  const change = editor.state.tr;
  changeInPlace(change, selected(editor), ({ node, pos }) =>
    to(node, Math.max(from - pos - 1, 0), Math.min(until - pos - 1, node.content.size)),
  );
  if (change.docChanged) perform(editor, change);
}

/** What words can only add to what their style says. */
const ADDED: ReadonlySet<Property> = new Set(["underline", "strike"]);

/** Gives what the selection means another look in one respect. What is as the style has it is not said any more. */
export function setLook(editor: Editor, styles: Styles, property: Property, value: unknown): void {
  const { marks: types } = editor.state.schema;
  changeMeant(editor, (node, start, end) => {
    const own = { ...OF_WORDS, ...styleOf(styles, node.attrs.style) }[property] === value || (ADDED.has(property) && !value) ? null : value;
    if (property in PARAGRAPH_ATTRIBUTES) {
      return withAttributes(node, { [PARAGRAPH_ATTRIBUTES[property as keyof typeof PARAGRAPH_ATTRIBUTES]]: own });
    }
    return withMarks(node, start, end, (marks) => {
      const type = types[property];
      if (type) return own === null ? type.removeFromSet(marks) : type.create({ off: !own }).addToSet(marks);
      return withTypeface(types.typeface, marks, { [property]: own });
    });
  });
}

/** Another font, size or colour; what else the words say of these stays. */
function withTypeface(type: MarkType | undefined, marks: readonly Mark[], values: Record<string, unknown>): readonly Mark[] {
  if (!type) return marks;
  const next = { ...type.create().attrs, ...type.isInSet(marks)?.attrs, ...values };
  return Object.values(next).some((one) => one !== null) ? type.create(next).addToSet(marks) : type.removeFromSet(marks);
}

/** Takes all formatting by hand off the selection. */
export function clearLook(editor: Editor): void {
  const plain = Object.fromEntries(Object.values(PARAGRAPH_ATTRIBUTES).map((attribute) => [attribute, null]));
  const looks = new Set(["bold", "italic", "underline", "typeface"]);
  changeMeant(editor, (node, start, end) =>
    withMarks(withAttributes(node, plain), start, end, (marks) => marks.filter(({ type }) => !looks.has(type.name))),
  );
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
export function isOn(editor: Editor, name: Emphasis, styles: Styles): boolean {
  if (carries(editor, name)) return !carries(editor, name, { off: true });
  const { style } = editor.getAttributes("paragraph");
  return name !== "underline" && (styles.find((one) => one.id === style)?.[name] ?? false);
}

/** Makes the words at hand bold, italic or underlined, or takes that away, whatever their paragraph's style says. */
export function toggle(editor: Editor, name: Emphasis, styles: Styles): boolean {
  const chain = editor.chain().focus();
  return (carries(editor, name) ? chain.unsetMark(name) : chain.setMark(name, { off: isOn(editor, name, styles) })).run();
}

/** What is typed while a block such as a table or a picture is selected goes into a paragraph behind it; Enter begins one. */
export function typeAfter(view: EditorView, text: string, styles: Styles): boolean {
  const { selection, schema, tr } = view.state;
  if (!(selection instanceof NodeSelection) || !selection.node.isBlock) return false;
  const style = forRole(styles, selection.$from.depth > 0 ? "cell" : "body");
  const paragraph = schema.nodes.paragraph?.create({ id: newId(), style }, text ? schema.text(text) : null);
  if (!paragraph) return false;
  tr.insert(selection.to, paragraph);
  tr.setSelection(TextSelection.create(tr.doc, selection.to + 1 + text.length));
  view.dispatch(tr.scrollIntoView());
  return true;
}

/** A web or mail address that is pasted by itself becomes a link that says it. Where words are selected, they become the link. */
export function pasteAddress(view: EditorView, slice: Slice): boolean {
  const words = slice.content.textBetween(0, slice.content.size, "\n").trim();
  const { selection, schema, tr } = view.state;
  const type = schema.marks.link;
  if (!type || !selection.empty || !selection.$from.parent.isTextblock || !/^(https?:\/\/|mailto:)\S{1,1990}$/i.test(words)) return false;
  view.dispatch(tr.replaceSelectionWith(schema.text(words, [type.create({ href: words })]), false).removeStoredMark(type).scrollIntoView());
  return true;
}

/**
 * Several paragraphs, or a picture, that are pasted at the start of a paragraph go in front of it, whole. Otherwise the first would
 * come to stand in it, and what leads to it would lead to other words; or nothing would be left in front of the picture.
 */
export function pasteInFront(view: EditorView, slice: Slice): boolean {
  const { selection, tr } = view.state;
  const { $from, empty } = selection;
  const blocks = slice.content.content;
  const isWhole = blocks.every(({ type }) => type.isInGroup("block")) && (blocks.length > 1 || blocks[0]?.isAtom === true);
  if (!isWhole || !empty || !$from.parent.isTextblock || $from.parentOffset > 0 || $from.parent.content.size === 0) return false;
  if (!$from.node(-1).canReplace($from.index(-1), $from.index(-1), slice.content)) return false;
  view.dispatch(tr.insert($from.before(), slice.content).scrollIntoView().setMeta("paste", true));
  return true;
}

const LISTS: Record<string, "bullet" | "decimal"> = { "-": "bullet", "1.": "decimal" };

/** The text after a list was begun by what was typed, so that one Backspace can take just that back. */
const begun = new WeakMap<Editor, Node>();

/** A space typed behind "-" or "1." at the start of body text begins a list; undo takes that back to the characters. */
export function beginList(editor: Editor, text: string, styles: Styles): boolean {
  const { $from, empty } = editor.state.selection;
  const marker = LISTS[$from.parent.textContent.slice(0, $from.parentOffset)];
  const isBody = styleOf(styles, $from.parent.attrs.style)?.role === "body";
  if (text !== " " || !empty || !marker || $from.depth !== 1 || !isBody) return false;
  const start = $from.start();
  editor.view.dispatch(editor.state.tr.insertText(text));
  const change = editor.state.tr.delete(start, $from.pos + 1);
  perform(editor, change.setNodeAttribute(start - 1, "style", forItem(styles, marker, 1)));
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
export function leaveList(editor: Editor, styles: Styles): boolean {
  const { $from, empty } = editor.state.selection;
  const marker = styles.find((style) => style.id === $from.parent.attrs.style)?.marker;
  if (!empty || $from.parentOffset > 0 || !marker) return false;
  if (takeListBack(editor)) return true;
  setOnParagraphs(editor, "style", forRole(styles, "body"));
  return true;
}

/** Enter: a new paragraph; behind the end of a heading, one of the style that follows it. */
export function splitParagraph(editor: Editor, styles: Styles): boolean {
  if (typeAfter(editor.view, "", styles)) return true;
  const { $from, empty } = editor.state.selection;
  if ($from.parent.type.name !== "paragraph") return false;
  const style = styles.find((one) => one.id === $from.parent.attrs.style);
  const atEnd = empty && $from.parentOffset === $from.parent.content.size;
  if (style?.marker && $from.parent.content.size === 0) {
    setOnParagraphs(editor, "style", forRole(styles, "body"));
    return true;
  }
  const change = editor.state.tr.deleteSelection();
  const type = $from.parent.type;
  const attrs = atEnd ? { id: newId(), style: style?.next ?? forRole(styles, "body") } : { ...$from.parent.attrs, id: newId(), numberFrom: null, caption: null };
  if (!atEnd && $from.parentOffset === 0 && empty && $from.parent.content.size > 0) {
    change.insert($from.before(), type.create({ id: newId(), style: forRole(styles, "body") }));
  } else {
    change.split(change.selection.from, 1, [{ type, attrs }]);
  }
  editor.view.dispatch(change.scrollIntoView());
  return true;
}
