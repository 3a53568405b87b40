/** What can be done to the tables of a report. */
import type { Editor } from "@tiptap/core";
import { useCallback } from "react";
import { api, type Scope } from "../api/client";
import type { Room } from "./room";
import { insertTable, removeTable } from "./text-leaf/kinds/placedTable";
import { tableAtHand } from "./view";

interface Tables {
  catchUp: (scope: Scope) => Promise<void>;
  place: (ownPage: boolean) => void;
  remove: () => void;
}

/** `chosen` is the table that somebody is looking at, by key; `editor` is there for whoever may write. */
export function useTables(report: string, room: Room, chosen: string | null, editor: Editor | null, say: (notice: string) => void): Tables {
  const catchUp = useCallback(
    async (scope: Scope) => {
      const table = tableAtHand(room.state.view, chosen);
      if (table === null || !editor) return;
      try {
        await api.catchUp(report, table, scope);
        say(scope === "everything" ? "The table is level with the text." : "The page numbers are up to date.");
      } catch (error) {
        say((error as Error).message);
      }
    },
    [report, room, chosen, editor, say],
  );
  const place = useCallback((ownPage: boolean) => editor && insertTable(editor, "contents", ownPage), [editor]);
  const remove = useCallback(() => {
    const table = tableAtHand(room.state.view, chosen);
    if (!editor || table === null) return;
    removeTable(editor, table);
    say("The table was taken out. Undo (Ctrl+Z) brings it back.");
    editor.view.focus();
  }, [editor, room, chosen, say]);
  return { catchUp, place, remove };
}
