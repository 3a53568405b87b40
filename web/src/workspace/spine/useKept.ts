/** Tells whoever wrote words that are kept, and whoever removed what they stood in. */
import { useEffect, useRef } from "react";
import type { Notify } from "../controls/Notice";
import type { Kept } from "../view";

export function useKept(kept: readonly Kept[], me: number, show: () => void, notify: Notify): void {
  const told = useRef(new Set<number>());
  useEffect(() => {
    const mine = kept.filter(({ writer, remover, rows }) => (writer === me || remover === me) && rows.some((row) => !told.current.has(row)));
    for (const { rows } of kept) for (const row of rows) told.current.add(row);
    const [first] = mine;
    if (!first) return;
    const more = mine.length > 1 ? ` ${mine.length - 1} more like it.` : "";
    notify(`${first.text} They are kept.${more}`, { name: "See them", run: show });
  }, [kept, me, show, notify]);
}
