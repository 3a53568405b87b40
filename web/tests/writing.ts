/** An editor without a screen, over a text that is shared like a report's. */
import { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import * as Y from "yjs";
import type { StyleShown } from "../src/api/client";
import type { Room } from "../src/workspace/room/room";
import { CORE, textExtensions } from "../src/workspace/text-leaf/extensions";

export const style = (id: string, more: Partial<StyleShown> = {}): StyleShown => ({
  id,
  name: id,
  role: null,
  based_on: null,
  declared: [],
  put_away: false,
  font: "Caladea",
  size: 11,
  bold: false,
  italic: false,
  underline: false,
  strike: false,
  capitals: "none",
  colour: "#000000",
  align: "left",
  space_before: 0,
  space_after: 6,
  line_spacing: 1.4,
  indent: 0,
  first_line: 0,
  right_indent: 0,
  background: "none",
  borders: "none",
  contextual_spacing: false,
  keep_with_next: false,
  hyphenate: false,
  keep_together: false,
  orphans: 2,
  widows: 2,
  new_page: false,
  outline_level: null,
  marker: null,
  marker_text: "",
  tab_stops: "",
  list_level: null,
  next: "body",
  ...more,
});

export const STYLES: readonly StyleShown[] = [
  style("body", { role: "body" }),
  style("cell", { role: "cell" }),
  style("quotation", { role: "quotation" }),
  ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => style(`heading-${level}`, { outline_level: level, bold: true })),
  ...[1, 2, 3].flatMap((list_level) => [
    style(`bullet-${list_level}`, { marker: "bullet", list_level, next: `bullet-${list_level}` }),
    style(`item-${list_level}`, { marker: "decimal", list_level, next: `item-${list_level}` }),
  ]),
];

/** An editor over a shared text. */
export const editorOver = (document: Y.Doc, styles: () => readonly StyleShown[] = () => STYLES, room: Room | null = null): Editor =>
  new Editor({ ...CORE, extensions: textExtensions(document, { report: "r", styles, room, goTo: () => undefined, toContents: () => undefined }) });

/** An editor with these blocks, each as `style: words`; body text if there is no style. */
export function writing(...blocks: string[]): Editor {
  const editor = editorOver(new Y.Doc());
  editor.commands.setContent({
    type: "doc",
    content: blocks.map((block, index) => {
      const [, named, words] = /^(?:([a-z0-9-]+): ?)?(.*)$/.exec(block) ?? [];
      return {
        type: "paragraph",
        attrs: { id: `b${index + 1}`, style: named ?? "body" },
        content: words ? [{ type: "text", text: words }] : [],
      };
    }),
  });
  return editor;
}

/** What is in the text, block by block: `style: words` for a paragraph, else the kind of block. */
export const written = (editor: Editor): string[] =>
  editor.state.doc.content.content.map((node) =>
    node.type.name === "paragraph" ? `${node.attrs.style as string}: ${node.textContent}` : node.type.name,
  );

export const ids = (editor: Editor): string[] => editor.state.doc.content.content.map((node) => node.attrs.id as string);

/** Puts the cursor into a block, `offset` characters behind its start or at its end; selects up to another block's. */
export function at(editor: Editor, block: number, offset: "end" | number = "end", to?: [block: number, offset: "end" | number]): void {
  const position = (index: number, within: "end" | number) => {
    let pos = 0;
    for (let before = 0; before < index - 1; before += 1) pos += editor.state.doc.child(before).nodeSize;
    return pos + 1 + (within === "end" ? editor.state.doc.child(index - 1).content.size : within);
  };
  const anchor = position(block, offset);
  const head = to ? position(...to) : anchor;
  editor.view.dispatch(editor.state.tr.setSelection(TextSelection.create(editor.state.doc, anchor, head)));
}
