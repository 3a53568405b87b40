/** A data table: rows of cells with paragraphs and pictures in them. */
import { callOrReturn, Extension, getExtensionField, Node, type Attribute, type Editor } from "@tiptap/core";
import { Decoration } from "@tiptap/pm/view";
import { Columns } from "../columns";
import { Grids } from "../grids";
import { insertBlock } from "../insert";
import { pageWords } from "../pageEdges";
import { bordersAsText, bordersOf } from "../../controls/borders";
import { inkInCss } from "../inCss";
import { forRole, type Styles } from "../styles";
import { id, numberWithin } from "./attributes";
import type { BlockKind } from "./kind";

declare module "@tiptap/core" {
  // eslint-disable-next-line @typescript-eslint/no-unused-vars -- the parameters must be named as in the original
  interface NodeConfig<Options, Storage> {
    /** What the node is to prosemirror-tables. */
    tableRole?: "table" | "row" | "cell";
  }
}

/** Hands each node's role in a data table on to its ProseMirror specification. */
const TableRoles = Extension.create({
  name: "tableRoles",
  extendNodeSchema: (extension) => {
    const role = getExtensionField(extension, "tableRole", { name: extension.name, options: {}, storage: {} });
    return { tableRole: callOrReturn(role) as string | undefined };
  },
});

const DataTable = Node.create({
  name: "dataTable",
  group: "block",
  content: "dataRow*",
  tableRole: "table",
  isolating: true,
  addAttributes: () => ({
    id,
    headerRows: {
      default: 0,
      parseHTML: (element) => Math.trunc(numberWithin(element.getAttribute("data-header-rows"), 0, 100) ?? 0),
      renderHTML: ({ headerRows }) => ({ "data-header-rows": String(headerRows) }),
    },
    align: {
      default: null,
      parseHTML: (element) => /^(left|center|right)$/.exec(element.getAttribute("data-align") ?? "")?.[0] ?? null,
      renderHTML: ({ align }) => (typeof align === "string" ? { "data-align": align } : {}),
    },
    indent: {
      default: null,
      parseHTML: (element) => numberWithin(element.getAttribute("data-indent"), -1000, 1000),
      renderHTML: ({ indent }) => (typeof indent === "number" ? { "data-indent": String(indent), style: `--table-indent: ${indent}pt` } : {}),
    },
  }),
  parseHTML: () => [{ tag: "table" }],
  renderHTML: ({ HTMLAttributes }) => ["table", HTMLAttributes, ["tbody", 0]],
});

const DataRow = Node.create({
  name: "dataRow",
  content: "dataCell*",
  tableRole: "row",
  parseHTML: () => [{ tag: "tr" }],
  renderHTML: () => ["tr", 0],
});

/** Over how many columns or rows a cell reaches. */
const span = (name: string, most: number): Attribute => ({
  default: 1,
  parseHTML: (element) => Math.trunc(numberWithin(element.getAttribute(name), 1, most) ?? 1),
  renderHTML: (attributes) => (attributes[name] === 1 ? {} : { [name]: attributes[name] as number }),
});

/** The columns' widths in points, under the name that the library has for them; 0 where not said. */
const widths: Attribute = {
  default: null,
  parseHTML: (element) => {
    const said = element.getAttribute("data-widths")?.split(",").map((one) => numberWithin(one, 0, 5000));
    return said && said.length <= 63 && said.every((one) => one !== null) ? said : null;
  },
  renderHTML: ({ colwidth, colspan }) => {
    if (!Array.isArray(colwidth)) return {};
    return { "data-widths": colwidth.join(","), ...(colspan === 1 && colwidth[0] && { style: `width: ${String(colwidth[0])}pt` }) };
  },
};

const four = (given: unknown): given is [number, number, number, number] => Array.isArray(given) && given.length === 4 && given.every((one) => typeof one === "number" && one >= 0 && one <= 200);

/** How a cell looks: what is not said of it is as cells have it (core, `kinds/data_table.py`). */
const LOOKS: Record<string, Attribute> = {
  background: {
    default: null,
    parseHTML: (element) => /^(#[0-9a-f]{6}|none)$/.exec(element.getAttribute("data-background") ?? "")?.[0] ?? null,
    renderHTML: ({ background }) => (typeof background === "string" ? { "data-background": background, style: `--lit: ${background === "none" ? "transparent" : background}` } : {}),
  },
  borders: {
    default: null,
    parseHTML: (element) => (element.hasAttribute("data-borders") ? bordersAsText(bordersOf(element.getAttribute("data-borders"))) : null),
    renderHTML: ({ borders }) =>
      typeof borders === "string"
        ? {
            "data-borders": borders,
            style: ["border: none", ...bordersOf(borders).map(({ side, width, kind, colour }) => `border-${side}: ${width}pt ${kind} ${inkInCss(colour)}`)].join("; "),
          }
        : {},
  },
  vertical: {
    default: null,
    parseHTML: (element) => /^(top|middle|bottom)$/.exec(element.getAttribute("data-vertical") ?? "")?.[0] ?? null,
    renderHTML: ({ vertical }) => (typeof vertical === "string" ? { "data-vertical": vertical, style: `vertical-align: ${vertical}` } : {}),
  },
  padding: {
    default: null,
    parseHTML: (element) => {
      const said = element.getAttribute("data-padding")?.split(",").map(Number);
      return four(said) ? said : null;
    },
    renderHTML: ({ padding }) => (four(padding) ? { "data-padding": padding.join(","), style: `padding: ${padding.map((one) => `${one}pt`).join(" ")}` } : {}),
  },
  height: {
    default: null,
    parseHTML: (element) => numberWithin(element.getAttribute("data-height"), 0, 2000),
    renderHTML: ({ height }) => (typeof height === "number" ? { "data-height": String(height), style: `height: ${height}pt` } : {}),
  },
};

const DataCell = Node.create({
  name: "dataCell",
  content: "(paragraph | image)*",
  tableRole: "cell",
  isolating: true,
  addAttributes: () => ({ colspan: span("colspan", 63), rowspan: span("rowspan", 65534), colwidth: widths, ...LOOKS }),
  parseHTML: () => [{ tag: "td" }, { tag: "th" }],
  renderHTML: ({ HTMLAttributes }) => ["td", HTMLAttributes, 0],
});

export function insertDataTable(editor: Editor, styles: Styles): void {
  const cell = { type: "dataCell", content: [{ type: "paragraph", attrs: { style: forRole(styles, "cell") } }] };
  const row = { type: "dataRow", content: [cell, cell, cell] };
  insertBlock(editor, "dataTable", { headerRows: 1 }, [row, row, row]);
}

export const dataTable: BlockKind = {
  name: "dataTable",
  nodes: ({ styles }) => [DataTable, TableRoles, DataRow, DataCell, Grids.configure({ styles }), Columns.configure({ styles })],
  puts: [{ key: "data", label: "Data table", insert: insertDataTable }],
  // A page begins with a row.
  edge: (node, pos, edge) => {
    const { offset } = edge;
    if (offset >= node.childCount) return null;
    let at = pos + 1;
    for (let row = 0; row < offset; row += 1) at += node.child(row).nodeSize;
    return Decoration.node(at, at + node.child(offset).nodeSize, { "data-edge": pageWords(edge), "data-page": String(edge.page) });
  },
};
