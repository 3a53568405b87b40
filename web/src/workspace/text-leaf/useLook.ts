/** How the selection looks: its own look on top of its styles, and where it differs from them. */
import type { Editor } from "@tiptap/core";
import type { Mark, Node } from "@tiptap/pm/model";
import { useCallback } from "react";
import type { StyleShown } from "../../api/client";
import { OF_WORDS, PROPERTIES, type Look, type Properties, type Property } from "../controls/look";
import { TYPEFACE } from "./marks";
import { styleOf, type Styles } from "./styles";
import { useRead } from "./useRead";

export interface SelectionLook {
  /** What is looked at: the selected words, or without any, the paragraph with the cursor. */
  of: "words" | "paragraph";
  paragraphs: number;
  /** The first paragraph's id. */
  block: string;
  /** The style that all of it has; none if there are several. */
  style: string | null;
  look: Look;
  departs: readonly Property[];
  /** Of the first paragraph: how it stands to the numbers of headings. */
  number: "none" | "appendix" | null;
  numberFrom: number | null;
  /** Whether it begins a new page, or goes on on the page, whatever its style says. */
  newPage: boolean | null;
  /** Whether it stays with what follows, and its lines on one page, whatever its style says. */
  keepWithNext: boolean | null;
  keepTogether: boolean | null;
  inDataTable: boolean;
}

/** Attributes of a paragraph that say what a property of its style says otherwise. */
export const PARAGRAPH_ATTRIBUTES = {
  align: "align",
  space_before: "before",
  space_after: "after",
  line_spacing: "lines",
  indent: "indent",
  first_line: "firstLine",
  right_indent: "rightIndent",
  background: "background",
  borders: "borders",
  contextual_spacing: "contextualSpacing",
  tab_stops: "tabStops",
} as const satisfies Partial<Record<Property, string>>;

const isSet = (value: unknown) => value !== null && value !== undefined;

function ofParagraph(node: Node, style: StyleShown): Properties {
  const given = Object.entries(PARAGRAPH_ATTRIBUTES).filter(([, attribute]) => isSet(node.attrs[attribute]));
  return { ...OF_WORDS, ...style, ...Object.fromEntries(given.map(([name, attribute]) => [name, node.attrs[attribute] as unknown])) };
}

function ofWords(marks: readonly Mark[], paragraph: Properties): Properties {
  const found: Record<string, unknown> = { ...paragraph };
  for (const { type, attrs } of marks) {
    if (type.name === "bold" || type.name === "italic") found[type.name] = !attrs.off;
    else if (type.name === "underline") found.underline = true;
    else if (type.name === "typeface") for (const name of TYPEFACE) if (isSet(attrs[name])) found[name] = attrs[name];
  }
  return found as unknown as Properties;
}

/** The stretch of the text that the selection means, and whether that is words or, without any, the paragraph around the cursor. */
export function meant(editor: Editor): { from: number; to: number; of: SelectionLook["of"] } | null {
  const { selection } = editor.state;
  if (!selection.empty) return { from: selection.from, to: selection.to, of: "words" };
  const { $from } = selection;
  return $from.parent.isTextblock ? { from: $from.start(), to: $from.end(), of: "paragraph" } : null;
}

export function lookOf(editor: Editor, styles: Styles): SelectionLook | null {
  const stretch = meant(editor);
  if (!stretch) return null;
  const { from, to, of } = stretch;
  let look: Look | null = null;
  let block = "";
  let first: Node | null = null;
  let paragraphs = 0;
  const used = new Set<string>();
  const departs = new Set<Property>();
  const differing = new Set<Property>();
  const take = (one: Properties, style: StyleShown) => {
    const usual = { ...OF_WORDS, ...style };
    for (const property of PROPERTIES) {
      if (one[property] !== usual[property]) departs.add(property);
      if (look && look[property] !== one[property]) differing.add(property);
    }
    look ??= Object.fromEntries(PROPERTIES.map((property) => [property, one[property]]));
  };
  editor.state.doc.nodesBetween(from, to, (node, pos) => {
    if (node.type.name !== "paragraph") return true;
    const style = styleOf(styles, node.attrs.style);
    if (!style) return false;
    paragraphs += 1;
    block ||= node.attrs.id as string;
    first ??= node;
    used.add(style.id);
    const paragraph = ofParagraph(node, style);
    let words = false;
    node.forEach((child, offset) => {
      const start = pos + 1 + offset;
      if (start >= to || start + child.nodeSize <= from || !child.isText) return;
      words = true;
      take(ofWords(child.marks, paragraph), style);
    });
    if (!words) take(paragraph, style);
    return false;
  });
  if (!look || paragraphs === 0) return null;
  const shared = Object.fromEntries(Object.entries(look as Look).filter(([name]) => !differing.has(name as Property)));
  return {
    of,
    paragraphs,
    block,
    style: used.size === 1 ? ([...used][0] ?? null) : null,
    look: shared,
    departs: PROPERTIES.filter((property) => departs.has(property)),
    inDataTable: editor.state.selection.$from.depth > 0 && editor.state.selection.$from.node(1).type.name === "dataTable",
    number: ((first as Node | null)?.attrs.number as SelectionLook["number"]) ?? null,
    numberFrom: ((first as Node | null)?.attrs.numberFrom as number | null) ?? null,
    newPage: ((first as Node | null)?.attrs.newPage as boolean | null) ?? null,
    keepWithNext: ((first as Node | null)?.attrs.keepWithNext as boolean | null) ?? null,
    keepTogether: ((first as Node | null)?.attrs.keepTogether as boolean | null) ?? null,
  };
}

/** The look of the selection, kept level with it. */
export const useLook = (editor: Editor, styles: Styles): SelectionLook | null =>
  useRead(editor, useCallback(() => lookOf(editor, styles), [editor, styles]));
