/** Other settings for a table, shown to whoever tries them and kept once they let go. */
import { useCallback, useMemo, useState } from "react";
import { api, type TableResult } from "../../api/client";
import { readLine, type LineRow, type Table } from "../view";
import { withSettings, type Setting } from "./recipe";

/** Other settings for a table, as somebody tries them: shown to them alone, and kept once they let go. */
export interface Trial {
  table: string;
  settings: readonly Setting[];
  /** What the core makes of them; null until it has answered. */
  result: TableResult | null;
}

/** What the core makes of a table. */
export const made = ({ lines, pages, set }: TableResult, table: Table): Pick<Table, "lines" | "pages" | "set"> => ({
  lines: lines ? (lines as LineRow[]).map(readLine) : table.lines,
  pages,
  set,
});

/** A table as it is with the settings that somebody tries. */
export function tried(table: Table, trial: Trial | null): Table {
  if (!trial) return table;
  const recipe = withSettings(table.recipe, trial.settings);
  const { result } = trial;
  if (!result) return { ...table, recipe, set: { ...table.set, indents: recipe.looks.map((look) => look.indent), hangs: recipe.looks.map((look) => look.hang) } };
  return { ...table, recipe, ...made(result, table) };
}

/** Works through what it is given one after the other; of what comes meanwhile, only the last. */
function oneAtATime<T>(work: (wanted: T) => Promise<void>): (wanted: T) => void {
  let busy = false;
  let next: T | null = null;
  const run = async (wanted: T): Promise<void> => {
    busy = true;
    await work(wanted);
    busy = false;
    const following = next;
    next = null;
    if (following) await run(following);
  };
  return (wanted) => {
    if (busy) next = wanted;
    else void run(wanted);
  };
}

export interface Trying {
  trial: Trial | null;
  /** Shows other settings; null ends that. */
  attempt: (settings: readonly Setting[] | null) => void;
  /** Shows settings that are being kept, until they are. */
  store: (table: string, settings: readonly Setting[], work: () => Promise<unknown>) => Promise<void>;
}

/** `atHand` gives the key of the table that is tried. */
export function useTrial(report: string, atHand: () => string | null): Trying {
  const [trial, setTrial] = useState<Trial | null>(null);
  const ask = useMemo(
    () =>
      oneAtATime(async ({ table, settings }: Trial) => {
        // What cannot be used is said when it is to be kept.
        const result = await api.previewRecipe(report, table, settings).catch(() => null);
        setTrial((now) => (now?.settings === settings ? { ...now, result } : now));
      }),
    [report],
  );
  const attempt = useCallback(
    (settings: readonly Setting[] | null) => {
      const table = atHand();
      if (settings === null || table === null) {
        setTrial(null);
        return;
      }
      const wanted: Trial = { table, settings, result: null };
      setTrial(wanted);
      ask(wanted);
    },
    [atHand, ask],
  );
  const store = useCallback(async (table: string, settings: readonly Setting[], work: () => Promise<unknown>) => {
    setTrial({ table, settings, result: null });
    await work();
    setTrial((now) => (now?.settings === settings ? null : now));
  }, []);
  return { trial, attempt, store };
}
