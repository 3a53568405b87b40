/** Looks for words in the report, again as these or the text change. */
import { useEffect, useState } from "react";
import { api, type FoundInText, type ToSearch } from "../../../api/client";
import type { Room } from "../../room/room";

/** Milliseconds without a key after which it is looked for; and after a change of the text, whoever makes it. */
const PAUSE = 200;
const CHANGED = 500;

interface Searched {
  /** Null while nothing is looked for, and until the first answer. */
  found: FoundInText | null;
  trouble: string;
}

const NOTHING: Searched = { found: null, trouble: "" };

export function useSearch(report: string, room: Room, wanted: ToSearch): Searched {
  const asked = JSON.stringify(wanted);
  const [searched, setSearched] = useState<Searched & { of: string }>({ ...NOTHING, of: "" });
  const isNothing = !wanted.words.trim();
  useEffect(() => {
    if (isNothing) return;
    let left = false;
    let pause = 0;
    const look = async () => {
      try {
        await room.caughtUp();
        const found = await api.search(report, JSON.parse(asked) as ToSearch);
        if (!left) setSearched({ found, trouble: "", of: asked });
      } catch (error) {
        if (!left) setSearched({ found: null, trouble: (error as Error).message, of: asked });
      }
    };
    const soon = (after: number) => {
      window.clearTimeout(pause);
      pause = window.setTimeout(() => void look(), after);
    };
    const changed = () => soon(CHANGED);
    soon(PAUSE);
    room.document.on("update", changed);
    return () => {
      left = true;
      window.clearTimeout(pause);
      room.document.off("update", changed);
    };
  }, [report, room, asked, isNothing]);
  return isNothing ? NOTHING : searched;
}
