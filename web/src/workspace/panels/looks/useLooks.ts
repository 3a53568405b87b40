/** What the panels about looks have in common. */
import type { Editor } from "@tiptap/core";
import { useCallback } from "react";
import type { ReportShown } from "../../../api/client";
import type { PanelProps } from "../panel";
import { useSheet, type Sheet } from "./useSheet";
import { useUses, type Use } from "./useUses";

export interface LooksProps {
  report: ReportShown;
  mayWrite: boolean;
  sheet: Sheet;
  /** Which paragraphs have which style, by its id. */
  uses: ReadonlyMap<string, Use>;
  /** The block that somebody is at. */
  at: () => string | null;
  goTo: (id: string) => void;
}

/** The id of the block with the cursor. */
function blockAtCursor(editor: Editor | null): string | null {
  const $from = editor?.state.selection.$from;
  return $from && $from.depth > 0 ? ($from.node(1).attrs.id as string) : null;
}

export function useLooks({ report, room, editor, writer, mayWrite, goTo, notify }: PanelProps): LooksProps {
  const sheet = useSheet(report, room, writer, notify);
  const uses = useUses(editor);
  const at = useCallback(() => blockAtCursor(editor), [editor]);
  return { report, mayWrite, sheet, uses, at, goTo };
}
