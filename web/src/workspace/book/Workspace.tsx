/** The workspace: an open book. Table leaf on the left, spine in the middle, text leaf on the right. */
import { Box, Grid } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { api, type Person, type ReportShown } from "../../api/client";
import { Above } from "./Above";
import { Away, Opening } from "./Away";
import { Chords } from "./Chords";
import { Condition, type Aside } from "./Condition";
import { LeftLeaf, type Place } from "./LeftLeaf";
import { LeafChooser, type Leaf } from "./LeafChooser";
import { Notice, useNotice } from "../controls/Notice";
import { Room, type RoomState } from "../room/room";
import { Spine } from "../spine/Spine";
import { TableLeaf, type View } from "../table-leaf/TableLeaf";
import { giveStyle } from "../text-leaf/commands";
import { INNER_LINK } from "../text-leaf/links";
import { TABLE_PLACED } from "../text-leaf/kinds/placedTable";
import { TextLeaf, type TextLeafHandle } from "../text-leaf/TextLeaf";
import { useChords } from "./useChords";
import { useRoom } from "../room/useRoom";
import { useTables } from "../tables/useTables";
import { tableAtHand, type TableLine, type View as WholeView } from "../view";
import "./workspace.css";
import type { Whereabouts } from "../text-leaf/whereabouts";

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

/** The line of the table at hand that has the focus, or that stands for the heading at the cursor or before it. */
function lineAtHand(view: WholeView, chosen: string | null, editor: Editor): TableLine | undefined {
  const lines = new Map(view.tables.get(tableAtHand(view, chosen) ?? "")?.lines.map((line) => [line.source, line]));
  const focused = lines.get(document.activeElement?.closest<HTMLElement>("[data-source]")?.dataset.source ?? "");
  if (focused) return focused;
  const { doc, selection } = editor.state;
  for (let index = Math.min(selection.$from.index(0), doc.childCount - 1); index >= 0; index--) {
    const line = lines.get(doc.child(index).attrs.id as string);
    if (line) return line;
  }
  return undefined;
}

interface BookProps {
  report: ReportShown;
  room: Room;
  person: Person;
  aside: Aside | null;
  forget: () => void;
  at: string | null;
  beginAnew: (here: string | null) => void;
}

function Book({ report, room, person, aside, forget, at, beginAnew }: BookProps) {
  const ready = useRoom(room, "ready");
  const line = useRoom(room, "line");
  const leaf = useRef<TextLeafHandle>(null);
  const [tableLeaf, setTableLeaf] = useState<HTMLElement | null>(null);
  const filter = useRef<HTMLInputElement>(null);
  const [editor, setEditor] = useState<Editor | null>(null);
  const [here, setHere] = useState<Whereabouts>({ heading: null, page: "1" });
  const moved = useCallback(
    (now: Whereabouts) =>
      setHere((before) => (before.heading === now.heading && before.page === now.page ? before : now)),
    [],
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const [leftPlace, setLeftPlace] = useState<{ place: Place; style: string | null }>({ place: "tables", style: null });
  const [jumps, setJumps] = useState(0);
  const [shown, setShown] = useState<Leaf>("text");
  const [notice, say] = useNotice();
  const queries = useQueryClient();
  const role = useRoom(room, "role") ?? report.role;
  const mayWrite = role !== "reader" && line !== "stuck";

  useEffect(() => {
    if (line !== "stuck") return;
    const timer = window.setTimeout(() => beginAnew((room.awareness.getLocalState()?.heading as string | null | undefined) ?? null), room.anewIn);
    return () => window.clearTimeout(timer);
  }, [line, room, beginAnew]);

  const leftOut = useRoom(room, "leftOut");
  useEffect(() => {
    for (const one of leftOut) say(one);
  }, [leftOut, say]);

  useEffect(() => {
    document.title = `${report.title} – Mellow Spine`;
    return () => {
      document.title = "Mellow Spine";
    };
  }, [report.title]);

  /** Brings a leaf into sight where there is room for one only: at once, so that the next key already reaches it. */
  const bring = useCallback((wanted: Leaf) => flushSync(() => setShown(wanted)), []);

  const showLeft = useCallback(
    (place: Place, style?: string) => setLeftPlace((before) => ({ place, style: style ?? before.style })),
    [],
  );
  const toPlace = useCallback(
    (place: Place) => {
      bring("table");
      flushSync(() => showLeft(place));
      tableLeaf?.focus();
    },
    [bring, showLeft, tableLeaf],
  );
  const openLadder = useCallback(() => toPlace("ladder"), [toPlace]);

  const goTo = useCallback(
    (id: string) => {
      bring("text");
      if (leaf.current?.goTo(id)) setJumps((count) => count + 1);
      else say("This place is no longer in the text.");
    },
    [bring, say],
  );
  // The address of a place leads there, once its text is there: out of sight the text is drawn in a later frame.
  useEffect(() => {
    if (!editor) return;
    let frame = 0;
    const go = (id: string, tries: number) => {
      if (tries > 0 && !leaf.current?.goTo(id)) frame = requestAnimationFrame(() => go(id, tries - 1));
    };
    const toAddress = () => {
      const id = INNER_LINK.exec(window.location.hash)?.[1];
      if (id) frame = requestAnimationFrame(() => go(id, 120));
    };
    if (at === null) toAddress();
    else go(at, 120);
    window.addEventListener("hashchange", toAddress);
    return () => {
      cancelAnimationFrame(frame);
      window.removeEventListener("hashchange", toAddress);
    };
  }, [editor, at]);
  const goBack = useCallback(() => {
    setJumps((count) => Math.max(0, count - 1));
    leaf.current?.goBack();
  }, []);

  const rename = useCallback(
    async (title: string) => {
      const given = await api.rename(report.key, title);
      queries.setQueryData(["report", report.key], { ...report, title: given.title });
    },
    [report, queries],
  );

  const writer = mayWrite ? editor : null;
  const mark = useMemo(() => writer && ((id: string, style: string) => void giveStyle(writer, style, [id])), [writer]);
  const setUpPage = useCallback(() => {
    bring("table");
    showLeft("page");
  }, [bring, showLeft]);
  const tables = useTables(report.key, room, chosen, writer, report.styles, say);
  const [tableView, showTable] = useState<View>({ shows: "lines" });
  // A table that was just put in shows its forms.
  useEffect(() => {
    if (!editor) return;
    const placed = (event: Event) => {
      setChosen((event as CustomEvent<string>).detail);
      showTable({ shows: "forms" });
      showLeft("tables");
    };
    const text = editor.view.dom;
    text.addEventListener(TABLE_PLACED, placed);
    return () => text.removeEventListener(TABLE_PLACED, placed);
  }, [editor, showLeft]);
  const toOwnWords = useCallback(() => {
    const line = writer && lineAtHand(room.state.view, chosen, writer);
    if (!line) return say("No line of the table stands for this heading.");
    toPlace("tables");
    showTable({ shows: "shape", part: { part: "level", level: line.level, source: line.source } });
  }, [room, chosen, writer, say, toPlace]);
  const chords = useChords({ editor: writer, styles: report.styles, leaf, filter, tableLeaf, catchUp: tables.catchUp, toOwnWords, bring, goBack, toPlace });

  if (line === "closed") return <Away message={room.state.trouble} kept={room.state.kept} />;

  return (
    <Grid h="100%" templateRows="auto auto minmax(0, 1fr)" bg="leaf">
      <Box minW="0">
        <Above
          report={report}
          room={room}
          person={person}
          mayWrite={mayWrite}
          rename={rename}
        />
        <Condition room={room} aside={aside} forget={forget} />
      </Box>
      <LeafChooser shown={shown} show={setShown} />
      <Grid
        templateColumns={{ base: "minmax(0, 1fr)", md: "210px minmax(0, 1fr)", lg: "minmax(280px, 336px) 236px minmax(0, 1fr)" }}
        gridRow="3"
        minH="0"
        position="relative"
      >
        <Box
          as="section"
          ref={setTableLeaf}
          tabIndex={-1}
          aria-label="Table leaf"
          position="relative"
          bg="tableLeaf"
          overflowY="auto"
          minW="0"
          display={{ base: shown === "table" ? "block" : "none", lg: "block" }}
          gridColumn={{ base: "1", md: "2", lg: "auto" }}
          gridRow="1"
          _focusVisible={{ outlineOffset: "-3px" }}
        >
          <LeftLeaf report={report} room={room} place={leftPlace.place} style={leftPlace.style} show={showLeft} editor={editor} mayWrite={mayWrite} goTo={goTo} say={say} scroller={tableLeaf}>
            <TableLeaf
              report={report}
              room={room}
              choose={setChosen}
              view={tableView}
              show={showTable}
              scroller={tableLeaf}
              mayWrite={mayWrite}
              goTo={goTo}
              tables={tables}
            />
          </LeftLeaf>
        </Box>
        <Spine
          room={room}
          chosen={chosen}
          person={person}
          here={here}
          goTo={goTo}
          report={report}
          mark={mark}
          setUpPage={setUpPage}
          openLadder={openLadder}
          filter={filter}
          inSight={shown === "spine"}
        />
        <Box
          as="main"
          aria-label="Text leaf"
          minW="0"
          minH="0"
          position="relative"
          display={{ base: shown === "text" ? "block" : "none", md: shown === "table" ? "none" : "block", lg: "block" }}
          gridColumn={{ base: "1", md: "2", lg: "auto" }}
          gridRow="1"
        >
          {/* The editor is there before the text is, so that the text is drawn into it once and not twice. */}
          <TextLeaf
            ref={leaf}
            report={report}
            room={room}
            person={person}
            mayWrite={mayWrite}
            textIsThere={ready}
            ready={setEditor}
            moved={moved}
            goTo={goTo}
            jumps={jumps}
            goBack={goBack}
            say={say}
          />
          {!ready && (
            <Box position="absolute" inset="0" bg="leaf">
              <Opening />
            </Box>
          )}
        </Box>
        <Notice notice={notice} say={say} />
      </Grid>
      <Chords chords={chords} />
    </Grid>
  );
}
