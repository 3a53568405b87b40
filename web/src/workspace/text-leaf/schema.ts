/**
 * The text's own kinds of node. A paragraph names its style; a heading is a paragraph whose style has an outline level.
 * Every block has an id that it keeps for life: see `ids.ts`.
 */
import { callOrReturn, Extension, getExtensionField, Mark, mergeAttributes, Node, type Attribute } from "@tiptap/core";
import { Bold } from "@tiptap/extension-bold";
import { Italic } from "@tiptap/extension-italic";

import { elementId } from "./markerRules";

declare module "@tiptap/core" {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the parameters must be named as in the original
  interface NodeConfig<Options, Storage> {
    /** What the node is to prosemirror-tables. */
    tableRole?: "table" | "row" | "cell";
  }
}

/** Hands each node's role in a data table on to its ProseMirror specification. */
export const TableRoles = Extension.create({
  name: "tableRoles",
  extendNodeSchema: (extension) => {
    const role = getExtensionField(extension, "tableRole", { name: extension.name, options: {}, storage: {} });
    return { tableRole: callOrReturn(role) as string | undefined };
  },
});

const id: Attribute = {
  default: null,
  keepOnSplit: false,
  parseHTML: (element) => element.getAttribute("data-id"),
  renderHTML: (attributes) =>
    attributes.id ? { "data-id": attributes.id as string, id: elementId(attributes.id as string) } : {},
};

const plain = (fallback: unknown = null): Attribute => ({ default: fallback, rendered: false });

const points = (name: string, css: string): Attribute => ({
  default: null,
  parseHTML: () => null,
  renderHTML: (attributes) => {
    const value: unknown = attributes[name];
    return typeof value === "number" ? { style: `${css}: ${name === "lines" ? value : `${value}pt`}` } : {};
  },
});

const ALIGNS = ["left", "center", "right", "justify"];

const pastedStyle = (element: HTMLElement): string => {
  const given = element.getAttribute("data-style");
  if (given && /^[a-z0-9-]{1,64}$/.test(given)) return given;
  const level = /^H([1-6])$/.exec(element.tagName)?.[1];
  if (level) return `heading-${level}`;
  const item = element.closest("li");
  if (item) {
    let depth = 0;
    for (let at: Element | null = item; at; at = at.parentElement?.closest("li") ?? null) depth += 1;
    const kind = item.parentElement?.tagName === "OL" ? "item" : "bullet";
    return `${kind}-${Math.min(depth, 3)}`;
  }
  if (element.closest("blockquote")) return "quotation";
  return element.closest("td, th") ? "cell" : "body";
};

export const Paragraph = Node.create({
  name: "paragraph",
  group: "block",
  content: "inline*",
  marks: "bold italic underline typeface link",
  // What is pasted into an empty paragraph brings its own style and id along.
  defining: true,
  priority: 1000,
  addAttributes: () => ({
    id,
    style: {
      default: "body",
      parseHTML: pastedStyle,
      renderHTML: (attributes) => ({ "data-style": attributes.style as string }),
    },
    align: {
      default: null,
      parseHTML: (element) => (ALIGNS.includes(element.style.textAlign) ? element.style.textAlign : null),
      renderHTML: (attributes) =>
        ALIGNS.includes(attributes.align as string) ? { style: `text-align: ${attributes.align as string}` } : {},
    },
    before: points("before", "margin-top"),
    after: points("after", "margin-bottom"),
    lines: points("lines", "line-height"),
  }),
  parseHTML: () => [{ tag: "p" }, ...[1, 2, 3, 4, 5, 6].map((level) => ({ tag: `h${level}` }))],
  renderHTML: ({ HTMLAttributes }) => ["p", HTMLAttributes, 0],
});

export const Image = Node.create<{ address: (source: string) => string }>({
  name: "image",
  group: "block",
  atom: true,
  draggable: true,
  addOptions: () => ({ address: () => "" }),
  addAttributes: () => ({
    id,
    source: { default: "", parseHTML: (element) => element.getAttribute("data-source") ?? "", rendered: false },
    width: { ...plain(200), parseHTML: (element) => Number(element.getAttribute("data-width")) || 200 },
    height: { ...plain(150), parseHTML: (element) => Number(element.getAttribute("data-height")) || 150 },
    alt: { ...plain(""), parseHTML: (element) => element.getAttribute("data-alt") ?? "" },
    align: plain("center"),
  }),
  parseHTML: () => [{ tag: "figure[data-source]" }],
  renderHTML({ node, HTMLAttributes }) {
    const { source, width, height, alt, align } = node.attrs as Record<string, string>;
    return [
      "figure",
      mergeAttributes(HTMLAttributes, {
        "data-source": source,
        "data-width": width,
        "data-height": height,
        "data-alt": alt,
        style: `text-align: ${ALIGNS.includes(align ?? "") ? align : "center"}`,
      }),
      [
        "img",
        {
          src: this.options.address(source ?? ""),
          alt: alt ?? "",
          draggable: "false",
          style: `width: ${Number(width)}pt; aspect-ratio: ${Number(width)} / ${Number(height)}`,
        },
      ],
    ];
  },
});

export const DataTable = Node.create({
  name: "dataTable",
  group: "block",
  content: "dataRow+",
  tableRole: "table",
  isolating: true,
  addAttributes: () => ({ id, headerRows: plain(0) }),
  parseHTML: () => [{ tag: "table" }],
  renderHTML: ({ node, HTMLAttributes }) => [
    "table",
    mergeAttributes(HTMLAttributes, { "data-header-rows": String(node.attrs.headerRows) }),
    ["tbody", 0],
  ],
});

export const DataRow = Node.create({
  name: "dataRow",
  content: "dataCell*",
  tableRole: "row",
  parseHTML: () => [{ tag: "tr" }],
  renderHTML: () => ["tr", 0],
});

export const DataCell = Node.create({
  name: "dataCell",
  content: "paragraph+",
  tableRole: "cell",
  isolating: true,
  addAttributes: () => ({
    colspan: {
      default: 1,
      parseHTML: (element) => Number(element.getAttribute("colspan")) || 1,
      renderHTML: (attributes) => (attributes.colspan === 1 ? {} : { colspan: attributes.colspan as number }),
    },
    rowspan: plain(1),
    colwidth: plain(null),
  }),
  parseHTML: () => [{ tag: "td" }, { tag: "th" }],
  renderHTML: ({ HTMLAttributes }) => ["td", HTMLAttributes, 0],
});

export const PageBreak = Node.create({
  name: "pageBreak",
  group: "block",
  atom: true,
  addAttributes: () => ({ id }),
  parseHTML: () => [{ tag: "div[data-page-break]" }],
  renderHTML: ({ HTMLAttributes }) => [
    "div",
    mergeAttributes(HTMLAttributes, { "data-page-break": "", role: "separator", "aria-label": "Page break" }),
  ],
});

/** Bold and italic, and with `off` the taking away of what the paragraph's style gives. */
const off: Attribute = {
  default: false,
  parseHTML: (element) => element.hasAttribute("data-off"),
  renderHTML: (attributes) => (attributes.off === true ? { "data-off": "" } : {}),
};
export const Weight = Bold.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });
export const Slant = Italic.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });

const FONTS = ["Caladea", "Carlito", "Liberation Serif", "Liberation Sans", "Liberation Mono"];
const COLOUR = /^#[0-9a-f]{6}$/;

/** Font, size and colour of a run, as far as they differ from the paragraph's style. */
export const Typeface = Mark.create({
  name: "typeface",
  addAttributes: () => ({ font: plain(), size: plain(), colour: plain() }),
  parseHTML: () => [
    {
      tag: "span[data-typeface]",
      getAttrs: (element) => ({
        font: FONTS.find((font) => font === element.getAttribute("data-font")) ?? null,
        size: Number(element.getAttribute("data-size")) || null,
        colour: COLOUR.test(element.getAttribute("data-colour") ?? "") ? element.getAttribute("data-colour") : null,
      }),
    },
  ],
  renderHTML: ({ mark }) => {
    const { font, size, colour } = mark.attrs as { font: unknown; size: unknown; colour: unknown };
    const rules: string[] = [];
    const data: Record<string, string> = { "data-typeface": "" };
    if (typeof font === "string" && FONTS.includes(font)) {
      rules.push(`font-family: '${font}'`);
      data["data-font"] = font;
    }
    if (typeof size === "number" && size >= 1 && size <= 400) {
      rules.push(`font-size: ${size}pt`);
      data["data-size"] = String(size);
    }
    if (typeof colour === "string" && COLOUR.test(colour)) {
      rules.push(`color: ${colour}`);
      data["data-colour"] = colour;
    }
    return ["span", { ...data, style: rules.join("; ") }, 0];
  },
});

export const typefaces = FONTS;
