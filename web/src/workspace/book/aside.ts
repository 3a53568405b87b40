/** What was put aside of a report, which no server has: this browser keeps it until its author has copied it, also when it is closed. */
import { useEffect } from "react";
import type { Aside, Room } from "../room/room";
import { useRoom } from "../room/useRoom";

/** Of one person: others may use the same browser. */
const nameOf = (report: string, person: number) => `aside ${person} ${report}`;

export function asideOf(report: string, person: number): Aside | null {
  try {
    const found = JSON.parse(localStorage.getItem(nameOf(report, person)) ?? "null") as Partial<Aside> | null;
    return typeof found?.words === "string" && typeof found.why === "string" ? { why: found.why, words: found.words } : null;
  } catch {
    return null;
  }
}

export function useKeptAside(room: Room, report: string, person: number): void {
  const aside = useRoom(room, "aside");
  useEffect(() => {
    try {
      if (aside?.words) localStorage.setItem(nameOf(report, person), JSON.stringify(aside));
      else localStorage.removeItem(nameOf(report, person));
    } catch {
      // A browser that remembers nothing asks before it is closed.
    }
  }, [aside, report, person]);
}
