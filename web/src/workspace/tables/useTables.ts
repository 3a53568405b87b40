/** What can be done to the tables of a report: each change is everybody's at once, and can be taken back. */
import { useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useCallback, useMemo } from "react";
import { api, type Scope, type TableDone } from "../../api/client";
import { counted } from "../../words";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import type { Setting } from "./recipe";
import { copyTable, putOnClipboard } from "../text-leaf/copying";
import { holdsTable, insertTable, removeTable, type Where } from "../text-leaf/kinds/placedTable";
import type { Styles } from "../text-leaf/styles";
import { tableAtHand, type Table } from "../view";
import { made, useTrial, type Trial } from "./useTrial";

export interface Tables {
  /** The table that is looked at and changed; null if there is none, or the one that was just put in is still being put together. */
  atHand: () => string | null;
  catchUp: (scope: Scope, lines?: readonly string[]) => Promise<void>;
  catchUpAll: () => Promise<void>;
  /** The table as it would be. */
  result: (scope: Scope, lines?: readonly string[]) => Promise<Table | null>;
  /** Whether it was done. */
  keepLevel: (on: boolean) => Promise<boolean>;
  place: (where: Where) => void;
  remove: () => void;
  trial: Trial | null;
  /** Shows other settings without keeping them; null ends that. */
  attempt: (settings: readonly Setting[] | null) => void;
  change: (settings: readonly Setting[]) => Promise<void>;
  chooseForm: (form: string) => Promise<void>;
  saveForm: (name: string, everywhere: boolean) => Promise<void>;
  forgetForm: (form: string) => Promise<void>;
  setWords: (source: string, words: string | null) => Promise<void>;
  useHeadingWords: (source: string) => Promise<void>;
  takeBack: (change: number) => Promise<void>;
  /** Puts the table on the clipboard. */
  copy: () => Promise<void>;
  /** Likewise some of its lines. `selected`: the browser has copied them as words already, so there is something there in any case. */
  copyLines: (lines: readonly string[], selected: boolean) => Promise<void>;
  /** Has the sections of a level end in a way back to the contents; null takes them out. */
  endInWaysBack: (level: number | null) => Promise<void>;
}

const NOT_GIVEN = "This browser does not give the clipboard away here; select the lines, and copy them.";

const SAID: Record<Scope, string> = {
  everything: "The table is level with the text.",
  pages: "The page numbers are up to date.",
  chosen: "The chosen lines are up to date.",
};

/** `chosen` is the table that somebody is looking at, by key; `editor` is there for whoever may write. */
export function useTables(
  report: string,
  room: Room,
  chosen: string | null,
  editor: Editor | null,
  styles: Styles,
  notify: Notify,
): Tables {
  const queries = useQueryClient();
  const atHand = useCallback(() => {
    const { view } = room.state;
    // Otherwise a hasty press would change the first table in its place.
    const awaited = chosen !== null && !view.tables.has(chosen) && editor !== null && holdsTable(editor, chosen);
    return awaited ? null : tableAtHand(view, chosen);
  }, [room, chosen, editor]);

  /** Does something to the table at hand; says why not, otherwise. Its answer is undefined then. */
  const done = useCallback(
    async <T>(work: (table: string) => Promise<T>): Promise<T | undefined> => {
      const table = atHand();
      if (table === null) return undefined;
      try {
        return await work(table);
      } catch (error) {
        notify((error as Error).message);
        return undefined;
      } finally {
        void queries.invalidateQueries({ queryKey: ["table", report] });
      }
    },
    [atHand, notify, queries, report],
  );

  /** Asks for something once the server has all that was written here. */
  const written = useCallback(
    async <T>(work: () => Promise<T>): Promise<T> => {
      await room.caughtUp();
      return work();
    },
    [room],
  );

  const takeBack = useCallback(
    async (table: string, change: number) => {
      const ok = await done(() => api.takeTableChangeBack(report, table, change).then(() => true));
      if (ok) notify("Taken back.");
    },
    [done, report, notify],
  );

  /** Does something, says that it was done, and offers to take it back if anything has changed. */
  const announce = useCallback(
    async (said: string, work: (table: string) => Promise<TableDone>): Promise<void> => {
      const table = atHand();
      const found = await done(work);
      if (!found || table === null) return;
      const { change } = found;
      notify(said, change === null ? undefined : { name: "Take it back", run: () => void takeBack(table, change) });
    },
    [atHand, done, notify, takeBack],
  );

  const { trial, attempt, store } = useTrial(report, atHand);
  const change = useCallback(
    async (settings: readonly Setting[]) => {
      const table = atHand();
      if (table !== null && editor) await store(table, settings, () => done((key) => api.changeRecipe(report, key, settings)));
    },
    [atHand, editor, done, report, store],
  );

  return useMemo(
    () => ({
      atHand,
      catchUp: async (scope, lines = []) => {
        if (editor) await announce(SAID[scope], (table) => written(() => api.catchUp(report, table, scope, lines)));
      },
      catchUpAll: async () => {
        const found = await done(() => written(() => api.catchUpAll(report)));
        if (found) notify(`${counted(Object.keys(found.changes).length, "table")} brought level with the text.`);
      },
      result: async (scope, chosen = []) => {
        const found = await done((table) => written(() => api.resultOfCatchingUp(report, table, scope, chosen)));
        const table = room.state.view.tables.get(atHand() ?? "");
        if (!found || !table) return null;
        const result = made(found, table);
        const { lines } = result;
        const before = new Map(table.lines.map((line, place) => [line.source, JSON.stringify([line, table.lines[place - 1]?.source])]));
        const changed = new Set(lines.filter((line, place) => before.get(line.source) !== JSON.stringify([line, lines[place - 1]?.source])).map((line) => line.source));
        // Each line that changes says in which way; it is shown as it will be, and not held against the text.
        const differences = table.differences.filter((one) => changed.has(one.source)).map((one) => ({ ...one, issued: null, fresh: null }));
        return { ...table, ...result, differences, renumbered: [] };
      },
      keepLevel: async (on) => (await done((table) => api.keepLevel(report, table, on).then(() => true))) ?? false,
      place: (where) => editor && insertTable(editor, "contents", where, styles),
      remove: () => {
        const table = atHand();
        if (!editor || table === null) return;
        removeTable(editor, table);
        notify("The table was taken out. Undo (Ctrl+Z) brings it back, with all that was made by hand.");
        editor.view.focus();
      },
      trial,
      attempt,
      change,
      chooseForm: (form) => announce("The table has this form now.", (table) => api.chooseForm(report, table, form)),
      saveForm: async (name, everywhere) => {
        const ok = await done((table) => api.saveForm(report, table, name, everywhere).then(() => true));
        if (ok) notify(`Kept as the form “${name.trim()}”.`);
      },
      forgetForm: async (form) => void (await done(() => api.deleteForm(report, form))),
      setWords: async (source, words) => {
        const work = (table: string) => api.setOwnWords(report, table, source, words);
        await (words === null ? announce("The line is left out.", work) : done(work));
      },
      useHeadingWords: (source) => announce("The line has the heading’s words.", (table) => api.useHeadingWords(report, table, source)),
      takeBack: async (change) => {
        const table = atHand();
        if (table !== null) await takeBack(table, change);
      },
      copy: async () => {
        const copied = await done((table) => copyTable(report, table));
        if (copied) notify("The table is copied: in a report it is a table again, elsewhere a list with its page numbers.");
        if (copied === false) notify(NOT_GIVEN);
      },
      copyLines: async (lines, selected) => {
        const work = async (table: string) => putOnClipboard(await api.copyLines(report, table, lines), null);
        if (!selected) {
          if ((await done(work)) === false) notify(NOT_GIVEN);
          return;
        }
        const table = atHand();
        if (table !== null) await work(table).catch((error: unknown) => console.warn("Lines of a table were copied as words alone", error));
      },
      endInWaysBack: async (level) => {
        const ok = await done(() => api.changePage(report, { back_level: level }).then(() => true));
        await queries.invalidateQueries({ queryKey: ["report", report] });
        if (ok) notify(level === null ? "The ways back are taken out." : `Every section of level ${level} ends in a way back to the contents.`);
      },
    }),
    [editor, styles, done, written, report, notify, announce, room, atHand, trial, attempt, change, takeBack, queries],
  );
}
