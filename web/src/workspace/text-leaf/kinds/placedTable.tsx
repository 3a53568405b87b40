/** A table where it stands in the text: its issued lines as they will be printed, each a link to its place. */
import { Box } from "@chakra-ui/react";
import { Node, type Editor } from "@tiptap/core";
import { NodeViewWrapper, ReactNodeViewRenderer, type NodeViewProps } from "@tiptap/react";
import { useSyncExternalStore } from "react";
import type { Room } from "../../room";
import { TABLE_KINDS, tableWords } from "../../table-leaf/kinds";
import { PrintedLine } from "../../table-leaf/PrintedLine";
import type { TableLine } from "../../view";
import { newId } from "../ids";
import { insertBlock, perform } from "../insert";
import { id } from "./attributes";
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
      parseHTML: (element) => element.getAttribute("data-table") ?? "",
      renderHTML: (attributes) => ({ "data-table": attributes.table as string }),
    },
    kind: {
      default: "contents",
      parseHTML: (element) => element.getAttribute("data-kind") ?? "contents",
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

/** Lines in stacks of which the browser draws only those in sight. */
function stacks(lines: readonly TableLine[]): (readonly TableLine[])[] {
  return Array.from({ length: Math.ceil(lines.length / 50) }, (_, number) => lines.slice(50 * number, 50 * (number + 1)));
}

const nothing = () => () => undefined;

function Lines({ node, extension }: NodeViewProps) {
  const { room, styles, goTo } = extension.options as Options;
  const titleStyle = forRole(styles(), "table-title");
  const { table: key, kind } = node.attrs as { table: string; kind: string };
  const table = useSyncExternalStore(room?.subscribe ?? nothing, () => room?.state.view.tables.get(key));
  return (
    <NodeViewWrapper contentEditable={false} className="placed-lines" data-style="placed">
      <Box as="nav" aria-label={table?.title ?? tableWords(kind).name}>
        {table?.title && <p data-style={titleStyle}>{table.title}</p>}
        {table &&
          stacks(table.lines).map((lines) => (
            <div key={lines[0]?.source} className="stack" style={{ containIntrinsicBlockSize: `auto ${lines.length * 24}px` }}>
              {lines.map((line) => (
                <PrintedLine key={line.source} line={line} table={table} goTo={goTo} />
              ))}
            </div>
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

export const insertTable = (editor: Editor, kind: string, ownPage: boolean) =>
  insertBlock(editor, "placedTable", { table: newId(), kind, ownPage });

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
  puts: Object.entries(TABLE_KINDS).flatMap(([kind, { put }]) => [
    { key: `${kind}-page`, label: put("on a page of its own"), insert: (editor: Editor) => insertTable(editor, kind, true) },
    { key: kind, label: put("here"), insert: (editor: Editor) => insertTable(editor, kind, false) },
  ]),
  unique: "table",
};
