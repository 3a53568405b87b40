/** A table where it stands in the text: its issued lines as they will be printed, each a link to its place. */
import { Box } from "@chakra-ui/react";
import { Node, type Editor } from "@tiptap/core";
import { NodeViewWrapper, ReactNodeViewRenderer, type NodeViewProps } from "@tiptap/react";
import { Fragment, useMemo, useSyncExternalStore } from "react";
import type { Room } from "../../room/room";
import { TABLE_KINDS, tableWords } from "../../printed/kinds";
import { RunIn, runTogether } from "../../printed/PrintedLine";
import type { Table, TableLine } from "../../view";
import { newId } from "../ids";
import { insertBlock, perform } from "../insert";
import { pageWords } from "../pageEdges";
import { id, identifier } from "./attributes";
import { forRole, type Styles } from "../styles";
import type { BlockKind } from "./kind";

interface Options {
  room: Room | null;
  styles: () => Styles;
  goTo: (source: string) => void;
}

const PlacedTable = Node.create<Options>({
  name: "placedTable",
  group: "block",
  atom: true,
  draggable: true,
  addOptions: () => ({ room: null, styles: () => [], goTo: () => undefined }),
  addAttributes: () => ({
    id,
    table: {
      default: "",
      parseHTML: (element) => identifier(element.getAttribute("data-table")) ?? "",
      renderHTML: (attributes) => ({ "data-table": attributes.table as string }),
    },
    kind: {
      default: "contents",
      parseHTML: (element) => (element.getAttribute("data-kind") ?? "contents").slice(0, 40),
      renderHTML: (attributes) => ({ "data-kind": attributes.kind as string }),
    },
    ownPage: {
      default: false,
      parseHTML: (element) => element.getAttribute("data-own-page") === "true",
      renderHTML: (attributes) => ({ "data-own-page": String(attributes.ownPage) }),
    },
  }),
  parseHTML: () => [{ tag: "div[data-table]" }],
  renderHTML: ({ HTMLAttributes }) => ["div", HTMLAttributes],
  addNodeView() {
    if (!this.options.room) return null;
    return ReactNodeViewRenderer(Lines, { attrs: ({ node }) => ({ "data-id": node.attrs.id as string }) });
  },
});

/** Lines in stacks of which the browser draws only those in sight; a new page begins a new one, `from` the line with this number. */
interface Stack {
  from: number;
  /** The page that begins here. */
  page: { number: string; words: string } | null;
  lines: readonly (readonly TableLine[])[];
}

const MOST = 50;

/** With which of its parts pages begin in a table, and what these are called: "12 3 page iii;40 4 page iv". */
const pagesWithin = (room: Room | null, block: string): string =>
  room?.state.view.edges.flatMap((edge) => (edge.block === block && edge.offset > 0 ? [`${edge.offset} ${edge.page} ${pageWords(edge)}`] : [])).join(";") ?? "";

/** `pages` as above; the first part is the title, if there is one. */
function stacksOf(table: Table, pages: string): Stack[] {
  const titled = table.recipe.title ? 1 : 0;
  const begun = new Map(
    pages.split(";").map((page) => {
      const [part = "", number = "", ...words] = page.split(" ");
      return [Number(part) - titled, { number, words: words.join(" ") }] as const;
    }),
  );
  // Columns are as long as the lines of their page, however many these are.
  const most = table.recipe.columns === 1 ? MOST : Infinity;
  const found: Stack[] = [];
  for (const [index, line] of runTogether(table.lines, table.recipe).entries()) {
    const last = found.at(-1);
    if (!last || (index > 0 && begun.has(index)) || last.lines.length >= most) found.push({ from: index, page: index > 0 ? (begun.get(index) ?? null) : null, lines: [line] });
    else last.lines = [...last.lines, line];
  }
  return found;
}

/** Whether lines have no pages of their own and stand over the next, with which they stay: as in the core (`kinds/placed_table.py`). */
const standsOver = ([line]: readonly TableLine[], [next]: readonly TableLine[] = []): boolean => line?.pages.length === 0 && next !== undefined && next.level > line.level;

const nothing = () => () => undefined;

function Lines({ node, extension }: NodeViewProps) {
  const { room, styles, goTo } = extension.options as Options;
  const { id: block, table: key, kind } = node.attrs as { id: string; table: string; kind: string };
  const table = useSyncExternalStore(room?.subscribe ?? nothing, () => room?.state.view.tables.get(key));
  // As words, so that nothing is drawn again while other pages begin elsewhere.
  const pages = useSyncExternalStore(room?.subscribe ?? nothing, () => pagesWithin(room, block));
  const stacks = useMemo(() => (table ? stacksOf(table, pages) : []), [table, pages]);
  const recipe = table?.recipe;
  const titleStyle = styles().find((style) => style.id === recipe?.title_style)?.id ?? forRole(styles(), "table-title");
  return (
    <NodeViewWrapper contentEditable={false} className="placed-lines" data-style="placed">
      <Box as="nav" aria-label={recipe?.title || tableWords(kind).name}>
        {recipe?.title && <p data-style={titleStyle}>{recipe.title}</p>}
        {table &&
          stacks.map(({ from, page, lines }) => (
            <Fragment key={from}>
              {page !== null && (
                <>
                  <span className="page-edge" data-label={page.words} data-page={page.number} aria-hidden="true" />
                  {table.recipe.continued && table.recipe.title && <p data-style={titleStyle}>{table.recipe.title} (continued)</p>}
                </>
              )}
              <div
                className={table.recipe.columns === 2 ? "stack columns" : "stack"}
                style={{ containIntrinsicBlockSize: `auto ${lines.length * 24}px` }}
              >
                {lines.map((together, index) => {
                  const line = <RunIn key={together[0]?.source} lines={together} recipe={table.recipe} set={table.set} goTo={table.recipe.links ? goTo : null} />;
                  return standsOver(together, lines[index + 1]) ? (
                    <div key={together[0]?.source} className="stands-over">
                      {line}
                    </div>
                  ) : (
                    line
                  );
                })}
              </div>
            </Fragment>
          ))}
        {(!table || table.lines.length === 0) && (
          <Box color="quiet" fontStyle="italic">
            {table ? tableWords(kind).nothing : "The lines are being put together …"}
          </Box>
        )}
      </Box>
    </NodeViewWrapper>
  );
}

/** Where a table is put: at the cursor, there on a page of its own, or so at the front of the report. */
export type Where = "here" | "page" | "front";

/** What the text tells when somebody has put a table into it; with its key as the detail. */
export const TABLE_PLACED = "tableplaced";

/** Puts in a table, and tells. `styles` are those of the report, for the front. */
export function insertTable(editor: Editor, kind: string, where: Where, styles: Styles): void {
  const table = newId();
  const attributes = { table, kind, ownPage: where !== "here" };
  if (where === "front") insertInFront(editor, "placedTable", attributes, styles);
  else insertBlock(editor, "placedTable", attributes);
  editor.view.dom.dispatchEvent(new CustomEvent(TABLE_PLACED, { detail: table }));
}

/** Puts a block behind the title of the report and what belongs to it, or before everything. */
function insertInFront(editor: Editor, type: string, attributes: Record<string, unknown>, styles: Styles): void {
  const { state } = editor;
  const fronts = new Set(styles.filter((style) => style.role === "title" || style.role === "subtitle").map((style) => style.id));
  let at = 0;
  for (let index = 0; index < state.doc.childCount && fronts.has(state.doc.child(index).attrs.style as string); index++) {
    at += state.doc.child(index).nodeSize;
  }
  perform(editor, state.tr.insert(at, state.schema.nodeFromJSON({ type, attrs: { id: newId(), ...attributes } })));
}

/** Whether a table of the text has this key. */
export const holdsTable = (editor: Editor, table: string): boolean =>
  editor.state.doc.children.some((node) => node.type.name === "placedTable" && node.attrs.table === table);

/** Takes the table with this key out of the text; undo brings it back. */
export function removeTable(editor: Editor, table: string): void {
  const change = editor.state.tr;
  editor.state.doc.forEach((node, pos) => {
    if (node.type.name === "placedTable" && node.attrs.table === table) change.delete(pos, pos + node.nodeSize);
  });
  if (change.docChanged) perform(editor, change);
}

export const placedTable: BlockKind = {
  name: "placedTable",
  nodes: ({ room, styles, goTo }) => [PlacedTable.configure({ room, styles, goTo })],
  puts: Object.entries(TABLE_KINDS).map(([kind, { put, page }]) => {
    const insert = (where: Where) => (editor: Editor, styles: Styles) => insertTable(editor, kind, where, styles);
    return page
      ? { key: kind, label: put, choices: [{ label: "here", insert: insert("here") }, { label: "on a page of its own", insert: insert("page") }] }
      : { key: kind, label: put, insert: insert("here") };
  }),
  unique: "table",
};
