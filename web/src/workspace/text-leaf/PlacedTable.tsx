/** A table where it stands in the text: its issued lines as they will be printed, each a link to its place. */
import { Box } from "@chakra-ui/react";
import { Node } from "@tiptap/core";
import { NodeViewWrapper, ReactNodeViewRenderer, type NodeViewProps } from "@tiptap/react";
import { useSyncExternalStore } from "react";
import type { Room } from "../room";
import { tableWords } from "../table-leaf/kinds";
import { PrintedLine } from "../table-leaf/PrintedLine";
import type { TableLine } from "../view";

interface Options {
  room: Room | null;
  goTo: (source: string) => void;
}

export const PlacedTable = Node.create<Options>({
  name: "placedTable",
  group: "block",
  atom: true,
  draggable: true,
  addOptions: () => ({ room: null, goTo: () => undefined }),
  addAttributes: () => ({
    id: {
      default: null,
      parseHTML: (element) => element.getAttribute("data-id"),
      renderHTML: (attributes) => (attributes.id ? { "data-id": attributes.id as string } : {}),
    },
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
  addNodeView: () => ReactNodeViewRenderer(Lines, { attrs: ({ node }) => ({ "data-id": node.attrs.id as string }) }),
});

/** Lines in stacks of which the browser draws only those in sight. */
function stacks(lines: readonly TableLine[]): (readonly TableLine[])[] {
  return Array.from({ length: Math.ceil(lines.length / 50) }, (_, number) => lines.slice(50 * number, 50 * (number + 1)));
}

const nothing = () => () => undefined;

function Lines({ node, extension }: NodeViewProps) {
  const { room, goTo } = extension.options as Options;
  const { table: key, kind } = node.attrs as { table: string; kind: string };
  const table = useSyncExternalStore(room?.subscribe ?? nothing, () => room?.state.view.tables.get(key));
  return (
    <NodeViewWrapper contentEditable={false} className="placed-lines" data-style="placed">
      <Box as="nav" aria-label={table?.title ?? tableWords(kind).name}>
        {table?.title && <p data-style="table-title">{table.title}</p>}
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
