/** A report that is open: its rows, and the room with its text, entered anew where that must be. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { api, type Person } from "../../api/client";
import { asWanted } from "../../api/underWay";
import { OwnFamilies } from "../controls/fonts";
import { putAside, Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import { asideOf, useKeptAside } from "./aside";
import { Away, Opening } from "./Away";
import { Book } from "./Book";
import "./workspace.css";

export default function Workspace({ report: key, person }: { report: string; person: Person }) {
  const report = useQuery({ queryKey: ["report", key], queryFn: async () => asWanted(key, await api.report(key)), refetchOnWindowFocus: false });
  const [opened, setOpened] = useState<Opened>(() => ({ room: new Room(key, asideOf(key, person.id)), at: null }));
  const { room, at } = opened;
  useKeptAside(room, key, person.id);
  useEffect(() => {
    room.open();
    return () => room.close();
  }, [room]);
  const beginAnew = useCallback(
    (here: string | null) =>
      setOpened(({ room: { state } }) => ({ room: new Room(key, putAside(state.aside, { why: state.trouble, words: state.aside?.words.includes(state.kept) ? "" : state.kept })), at: here })),
    [key],
  );
  const queries = useQueryClient();
  const renewed = useRoom(room, "renewed");
  useEffect(() => {
    if (renewed > 0) void queries.invalidateQueries({ queryKey: ["report", key] });
  }, [renewed, queries, key]);
  const own = report.data?.typefaces;
  const families = useMemo(() => [...new Set(own?.map((face) => face.family))], [own]);
  if (report.isError) return <Away message={report.error.message} />;
  if (!report.data) return <Opening />;
  return (
    <OwnFamilies value={families}>
      <Book key={room.document.clientID} report={report.data} room={room} person={person} at={at} beginAnew={beginAnew} />
    </OwnFamilies>
  );
}

/** The room that is entered, and the heading at which to begin. */
interface Opened {
  room: Room;
  at: string | null;
}
