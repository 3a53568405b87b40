/** Boxes to tick, of forms and lists of tasks: characters of the text, so that they are found, copied and read out like all others. */
import type { Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import type { EditorView } from "@tiptap/pm/view";
import { perform } from "./insert";

const OPEN = "☐";
/** What each box becomes when it is pressed. */
const OTHER: Readonly<Record<string, string>> = { [OPEN]: "☒", "☒": OPEN, "☑": OPEN };

/** Where the boxes between two places stand. */
function boxesBetween(doc: Node, from: number, to: number): number[] {
  const found: number[] = [];
  doc.nodesBetween(from, to, (node, pos) => {
    [...(node.text ?? "")].reduce((at, character) => {
      if (OTHER[character] !== undefined && at >= from && at < to) found.push(at);
      return at + character.length;
    }, pos);
  });
  return found;
}

function press(editor: Editor, boxes: readonly number[]): void {
  const { doc, schema } = editor.state;
  const change = editor.state.tr;
  for (const at of boxes) {
    const now = OTHER[doc.textBetween(at, at + 1)];
    if (now) change.replaceWith(at, at + 1, schema.text(now, doc.nodeAt(at)?.marks));
  }
  change.setSelection(editor.state.selection.map(change.doc, change.mapping));
  perform(editor, change);
}

/** Ticks a box that is pressed with the pointer, or takes its tick away; whether there was one. */
export function pressBox(editor: Editor, view: EditorView, pos: number, x: number): boolean {
  if (!view.editable) return false;
  // A press lands beside a character, on whichever side is nearer.
  const under = boxesBetween(view.state.doc, Math.max(pos - 1, 0), Math.min(pos + 1, view.state.doc.content.size)).filter(
    (at) => view.coordsAtPos(at, 1).left <= x && x <= view.coordsAtPos(at + 1, -1).right,
  );
  if (under.length > 0) press(editor, under);
  return under.length > 0;
}

/** Ticks the boxes of the selection, or of its paragraph, or takes their ticks away; where there is none, one is put in front. */
export function tickBoxes(editor: Editor): void {
  const { doc, selection } = editor.state;
  const { $from } = selection;
  const start = $from.parent.isTextblock ? $from.start() : selection.from;
  const [from, to] = selection.empty && $from.parent.isTextblock ? [start, $from.end()] : [selection.from, selection.to];
  const boxes = boxesBetween(doc, from, to);
  if (boxes.length > 0) press(editor, boxes);
  else if ($from.parent.isTextblock) perform(editor, editor.state.tr.insertText(`${OPEN} `, start));
}
