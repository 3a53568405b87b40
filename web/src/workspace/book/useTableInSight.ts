/** The table that is looked at: which it is, what is shown of it, and what can be done to it. */
import type { Editor } from "@tiptap/core";
import { useCallback, useEffect, useMemo, useState } from "react";
import type { ReportShown } from "../../api/client";
import type { Notify } from "../controls/Notice";
import type { TableInSight } from "../panels/panel";
import type { Room } from "../room/room";
import type { View as TableView } from "../table-leaf/TableLeaf";
import { useTables } from "../tables/useTables";
import { TABLE_PLACED } from "../text-leaf/kinds/placedTable";
import { tableAtHand, type TableLine, type View } from "../view";

/** The line of the table at hand that has the focus, or that stands for the heading at the cursor or before it. */
function lineAtHand(view: View, chosen: string | null, editor: Editor): TableLine | undefined {
  const lines = new Map(view.tables.get(tableAtHand(view, chosen) ?? "")?.lines.map((line) => [line.source, line]));
  const focused = lines.get(document.activeElement?.closest<HTMLElement>("[data-source]")?.dataset.source ?? "");
  if (focused) return focused;
  const { doc, selection } = editor.state;
  for (let index = Math.min(selection.$from.index(0), doc.childCount - 1); index >= 0; index--) {
    const line = lines.get(doc.child(index).attrs.id as string);
    if (line) return line;
  }
  return undefined;
}

interface Given {
  report: ReportShown;
  room: Room;
  editor: Editor | null;
  mayWrite: boolean;
  /** Shows a panel, and brings it into sight. */
  showPanel: (panel: string) => void;
  toPanel: (panel: string) => void;
  notify: Notify;
}

export function useTableInSight({ report, room, editor, mayWrite, showPanel, toPanel, notify }: Given) {
  const writer = mayWrite ? editor : null;
  const [chosen, choose] = useState<string | null>(null);
  const [view, show] = useState<TableView>({ shows: "lines" });
  const tables = useTables(report.key, room, chosen, writer, report.styles, notify);
  // A table that was just put in shows its forms.
  useEffect(() => {
    if (!editor) return;
    const placed = (event: Event) => {
      choose((event as CustomEvent<string>).detail);
      show({ shows: "forms" });
      showPanel("tables");
    };
    const text = editor.view.dom;
    text.addEventListener(TABLE_PLACED, placed);
    return () => text.removeEventListener(TABLE_PLACED, placed);
  }, [editor, showPanel]);
  const toOwnWords = useCallback(() => {
    const line = writer && lineAtHand(room.state.view, chosen, writer);
    if (!line) return notify("No line of the table stands for this heading.");
    toPanel("tables");
    show({ shows: "shape", part: { part: "level", level: line.level, source: line.source } });
  }, [room, chosen, writer, notify, toPanel]);
  const inSight: TableInSight = useMemo(() => ({ tables, choose, view, show }), [tables, view]);
  return { chosen, inSight, toOwnWords };
}
