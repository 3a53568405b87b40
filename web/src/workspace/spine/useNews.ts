/** What others did to sections since one was last here: marks on their ribs, which fade once one has been there. */
import { useEffect, useMemo, useState } from "react";
import { useHappened } from "../room/useHappened";

/** What is said of a section with a mark, and whether one has been there since. */
export interface New {
  what: string;
  seen: boolean;
}

interface News {
  of: ReadonlyMap<string, New>;
  /** How many sections one has not seen yet, those that were removed among them. */
  count: number;
}

const WORDS: Readonly<Record<string, string>> = {
  added: "added",
  moved: "moved",
  renamed: "renamed",
  level: "put at another level",
  written: "written in",
};

/** Milliseconds after which a section in view counts as seen. */
const SEEN_AFTER = 1200;

export function useNews(report: string, me: number, ready: boolean, here: string | null): News {
  const { data } = useHappened(report, undefined, ready);
  const since = data?.since ?? "";
  const [seen, see] = useSeen(report, since);
  const fresh = useMemo(
    () => (data?.happened ?? []).filter(({ kinds, by }) => kinds.some((kind) => kind !== "renumbered") && !(by.length === 1 && by[0] === me)),
    [data, me],
  );
  useEffect(() => {
    if (here === null || !fresh.some(({ id }) => id === here)) return;
    const timer = window.setTimeout(() => see(here), SEEN_AFTER);
    return () => window.clearTimeout(timer);
  }, [here, fresh, see]);
  return useMemo(() => {
    const there = fresh.filter((one) => one.there);
    return {
      of: new Map(there.map(({ id, kinds }) => [id, { what: kinds.flatMap((kind) => WORDS[kind] ?? []).join(", "), seen: seen.has(id) }])),
      count: fresh.filter(({ id }) => !seen.has(id)).length,
    };
  }, [fresh, seen]);
}

/** The sections that one has seen since a time, as this browser remembers them. */
function useSeen(report: string, since: string): [seen: ReadonlySet<string>, see: (id: string) => void] {
  const name = `seen ${report}`;
  const [known, setKnown] = useState<{ since: string; ids: ReadonlySet<string> }>({ since: "", ids: new Set() });
  if (since && known.since !== since) setKnown({ since, ids: remembered(name, since) });
  const see = useMemo(
    () => (id: string) =>
      setKnown((before) => {
        const ids = new Set([...before.ids, id]);
        try {
          localStorage.setItem(name, JSON.stringify({ since: before.since, ids: [...ids] }));
        } catch {
          // A browser that remembers nothing shows the marks again next time.
        }
        return { since: before.since, ids };
      }),
    [name],
  );
  return [known.ids, see];
}

function remembered(name: string, since: string): ReadonlySet<string> {
  try {
    const found = JSON.parse(localStorage.getItem(name) ?? "null") as { since: string; ids: string[] } | null;
    return new Set(found?.since === since ? found.ids : []);
  } catch {
    return new Set();
  }
}
