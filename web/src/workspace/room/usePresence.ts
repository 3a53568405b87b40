/** Who else is in the room, and at which heading each of them is. */
import { useEffect, useState } from "react";
import type { Room } from "./room";

export interface PersonHere {
  id: number;
  name: string;
  colour: string;
  heading: string | null;
}

const COLOUR = /^#[0-9a-f]{6}$/i;

function read(room: Room): PersonHere[] {
  const people = new Map<number, PersonHere>();
  for (const [client, state] of room.awareness.getStates()) {
    const user = state.user as Partial<PersonHere> | undefined;
    if (client === room.document.clientID || typeof user?.id !== "number") continue;
    people.set(user.id, {
      id: user.id,
      name: String(user.name ?? ""),
      colour: COLOUR.test(user.colour ?? "") ? String(user.colour) : "#635c6b",
      heading: typeof state.heading === "string" ? state.heading : null,
    });
  }
  return [...people.values()].sort((one, other) => one.id - other.id);
}

/** Everyone in the room but this browser; a person with two browsers counts once. */
export function usePresence(room: Room): PersonHere[] {
  const [people, setPeople] = useState<PersonHere[]>([]);
  useEffect(() => {
    let before = "";
    const look = () => {
      const now = read(room);
      const written = JSON.stringify(now);
      if (written !== before) setPeople(now);
      before = written;
    };
    look();
    room.awareness.on("change", look);
    return () => room.awareness.off("change", look);
  }, [room]);
  return people;
}
