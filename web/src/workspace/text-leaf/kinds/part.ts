/** Where a part of the report begins: front matter, body, appendices. What it is called and how it is numbered is set up elsewhere. */
import { mergeAttributes, Node, type Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import type { PartShown } from "../../../api/client";
import { newId } from "../ids";
import { perform } from "../insert";
import { id } from "./attributes";
import type { BlockKind } from "./kind";
import { takeAway } from "./takeAway";

type Settings = Partial<Omit<PartShown, "page">>;

/** What the text tells when somebody has put the start of a part into it, or presses one. */
export const PART_PLACED = "partplaced";
export const PART_PRESSED = "partpressed";
export interface PartPlaced {
  id: string;
  settings: Settings;
  /** Whether its paper lies on its side. */
  sideways: boolean;
}

const Part = Node.create({
  name: "part",
  group: "block",
  atom: true,
  draggable: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [{ tag: "div[data-part-start]" }],
  renderHTML: ({ HTMLAttributes }) => ["div", mergeAttributes(HTMLAttributes, { "data-part-start": "", role: "separator", "aria-label": "Start of a part" })],
  addNodeView:
    () =>
    ({ node, HTMLAttributes, getPos, editor }) => {
      const dom = document.createElement("div");
      for (const [name, value] of Object.entries(HTMLAttributes)) dom.setAttribute(name, String(value));
      dom.dataset.partStart = "";
      dom.role = "group";
      dom.ariaLabel = "Start of a part";
      const press = dom.appendChild(document.createElement("button"));
      press.type = "button";
      press.className = "part-words"; // its words are a rule by the block's id, see markerRules.ts
      press.contentEditable = "false";
      press.title = "Set up this part";
      press.addEventListener("mousedown", (event) => event.preventDefault());
      press.addEventListener("click", () => editor.view.dom.dispatchEvent(new CustomEvent(PART_PRESSED, { detail: node.attrs.id })));
      if (editor.isEditable) dom.append(takeAway("start of the part", editor, getPos));
      return { dom, ignoreMutation: () => true, stopEvent: ({ target }) => target instanceof HTMLButtonElement };
    },
});

/**
 * Puts the start of a part in behind the block with the cursor, or in the place of an empty paragraph, and tells how it is to be set
 * up. One that lies on its side ends behind an empty paragraph: what stands there goes on upright.
 */
function insertPart(editor: Editor, settings: Settings, sideways = false): void {
  const { state } = editor;
  const { $from } = state.selection;
  const placed: PartPlaced = { id: newId(), settings, sideways };
  const nodeOf = (type: string, id: string) => state.schema.nodeFromJSON({ type, attrs: { id } });
  const change = state.tr;
  let at = $from.depth ? $from.after(1) : state.selection.to;
  if ($from.depth === 1 && $from.parent.content.size === 0) {
    at = $from.before(1);
    change.delete(at, $from.after(1));
  }
  const atEnd = at === change.doc.content.size;
  const blocks = [nodeOf("part", placed.id), ...(sideways || atEnd ? [nodeOf("paragraph", newId())] : []), ...(sideways ? [nodeOf("part", newId())] : [])];
  change.insert(at, [...blocks, ...(sideways && atEnd ? [nodeOf("paragraph", newId())] : [])]);
  change.setSelection(TextSelection.near(change.doc.resolve(at + 1)));
  perform(editor, change.scrollIntoView());
  editor.view.focus();
  editor.view.dom.dispatchEvent(new CustomEvent<PartPlaced>(PART_PLACED, { detail: placed }));
}

const WAYS: readonly (readonly [label: string, settings: Settings, sideways?: boolean])[] = [
  ["that goes on counting", {}],
  ["with pages i, ii, iii", { figures: "lower-roman", start: 1 }],
  ["with pages from 1, on the right", { name: "Body", figures: "decimal", start: 1, begins: "right" }],
  ["of appendices, A-1, A-2", { name: "Appendices", figures: "decimal", words: "A-", start: 1 }],
  ["on its side, for what is wide", { name: "Wide pages" }, true],
];

export const part: BlockKind = {
  name: "part",
  nodes: () => [Part],
  puts: [
    {
      key: "part",
      label: "Part of its own",
      choices: WAYS.map(([label, settings, sideways]) => ({ label, insert: (editor: Editor) => insertPart(editor, settings, sideways) })),
    },
  ],
};

/** The ids of the parts that begin in the text. */
export const partsIn = (editor: Editor): readonly string[] => editor.state.doc.children.filter((node) => node.type.name === "part").map((node) => node.attrs.id as string);

/** Takes the start of a part out of the text: what stands there is of the part in front of it then. */
export function removePart(editor: Editor, part: string): void {
  const change = editor.state.tr;
  editor.state.doc.forEach((node, pos) => {
    if (node.type.name === "part" && node.attrs.id === part) change.delete(pos, pos + node.nodeSize);
  });
  if (change.docChanged) perform(editor, change);
}
