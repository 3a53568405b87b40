/** A report that is open: its rows, and the room with its text, entered anew where that must be. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useState } from "react";
import { api, type Person } from "../../api/client";
import { Room, type RoomState } from "../room/room";
import { useRoom } from "../room/useRoom";
import { Away, Opening } from "./Away";
import { Book } from "./Book";
import type { Aside } from "./Condition";
import "./workspace.css";

export default function Workspace({ report: key, person }: { report: string; person: Person }) {
  const report = useQuery({ queryKey: ["report", key], queryFn: () => api.report(key), refetchOnWindowFocus: false });
  const [opened, setOpened] = useState<Opened>(() => ({ room: new Room(key), aside: null, at: null }));
  const { room, aside, at } = opened;
  useEffect(() => {
    room.open();
    return () => room.close();
  }, [room]);
  const beginAnew = useCallback(
    (here: string | null) =>
      setOpened((before) => ({ room: new Room(key), aside: putAside(before.aside, before.room.state), at: here })),
    [key],
  );
  const forget = useCallback(() => setOpened((before) => ({ ...before, aside: null })), []);
  const queries = useQueryClient();
  const renewed = useRoom(room, "renewed");
  useEffect(() => {
    if (renewed > 0) void queries.invalidateQueries({ queryKey: ["report", key] });
  }, [renewed, queries, key]);
  if (report.isError) return <Away message={report.error.message} />;
  if (!report.data) return <Opening />;
  return <Book key={room.document.clientID} report={report.data} room={room} person={person} aside={aside} forget={forget} at={at} beginAnew={beginAnew} />;
}

/** The room that is entered, what was put aside when one before it did not take it, and the heading at which to begin. */
interface Opened {
  room: Room;
  aside: Aside | null;
  at: string | null;
}

const putAside = (before: Aside | null, { trouble, kept }: RoomState): Aside => ({
  why: trouble,
  words: before?.words.includes(kept) ? before.words : [before?.words, kept].filter(Boolean).join("\n\n"),
});
