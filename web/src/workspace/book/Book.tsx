/** The open book: table leaf on the left, spine in the middle, text leaf on the right. */
import { Box, Grid } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { api, type Person, type ReportShown } from "../../api/client";
import { Notice, useNotice } from "../controls/Notice";
import { useSheet } from "../panels/looks/useSheet";
import { Proof } from "../proof/Proof";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import { Spine } from "../spine/Spine";
import { giveStyle } from "../text-leaf/commands";
import { useSections } from "../text-leaf/sections";
import { TextLeaf, type TextLeafHandle } from "../text-leaf/TextLeaf";
import type { Whereabouts } from "../text-leaf/whereabouts";
import { Above } from "./Above";
import { Away, Opening } from "./Away";
import { Chords } from "./Chords";
import { Condition } from "./Condition";
import { LeafChooser, type Leaf } from "./LeafChooser";
import { LeftLeaf } from "./LeftLeaf";
import { useChords } from "./useChords";
import { useFilesStay } from "./useFilesStay";
import { useJumps } from "./useJumps";
import { usePanel } from "./usePanel";
import { usePartsInText } from "./usePartsInText";
import { useProof } from "./useProof";
import { useTableInSight } from "./useTableInSight";

interface Props {
  report: ReportShown;
  room: Room;
  person: Person;
  /** The heading at which to begin; null to begin where the address says. */
  at: string | null;
  beginAnew: (here: string | null) => void;
}

/** Both leaves stand in one row beside the spine; where there is no room for that, one behind the other. */
const LEAF_PLACE = { gridColumn: { base: "1", md: "2", lg: "auto" }, gridRow: "1" } as const;

export function Book({ report, room, person, at, beginAnew }: Props) {
  const ready = useRoom(room, "ready");
  const line = useRoom(room, "line");
  const role = useRoom(room, "role") ?? report.role;
  const mayWrite = role !== "reader" && line !== "stuck";
  const leaf = useRef<TextLeafHandle>(null);
  const filter = useRef<HTMLInputElement>(null);
  const [tableLeaf, setTableLeaf] = useState<HTMLElement | null>(null);
  const [editor, setEditor] = useState<Editor | null>(null);
  const writer = mayWrite ? editor : null;
  const [here, moved] = useHere();
  const [shown, setShown] = useState<Leaf>("text");
  const [notice, notify] = useNotice();

  useBeginAnew(room, beginAnew);
  useLeftOut(room, notify);
  useTitle(report.title);

  /** Brings a leaf into sight where there is room for one only: at once, so that the next key already reaches it. */
  const bring = useCallback((wanted: Leaf) => flushSync(() => setShown(wanted)), []);
  const bringText = useCallback(() => bring("text"), [bring]);
  const { panel, of, show } = usePanel(report.key);
  const toPanel = useCallback(
    (wanted: string) => {
      bring("table");
      show(wanted);
      // A panel may have something that is meant to be typed in at once.
      (tableLeaf?.querySelector<HTMLElement>("[data-first]") ?? tableLeaf)?.focus();
    },
    [bring, show, tableLeaf],
  );
  const openLadder = useCallback(() => toPanel("ladder"), [toPanel]);
  const setUpPage = useCallback(
    (part?: string) => {
      bring("table");
      show("page", part);
    },
    [bring, show],
  );
  usePartsInText(report, editor, useSheet(report, room, writer, notify), setUpPage);
  const jumps = useJumps(leaf, editor, at, bringText, notify);
  const { chosen, inSight, toOwnWords } = useTableInSight({ report, room, editor, mayWrite, showPanel: show, toPanel, notify });
  const rename = useRename(report);
  useFilesStay(notify, mayWrite);
  const mark = useMemo(() => writer && ((id: string, style: string) => void giveStyle(writer, style, [id])), [writer]);
  const sections = useSections(report.key, report.styles, room, writer, jumps.goTo, notify);
  const { proof, proofRef, toProof, leaveProof, goTo } = useProof({ here, bringText, goTo: jumps.goTo, leaf });
  const chosenRibs = useRef<readonly string[]>([]);
  const chooseRibs = useCallback((ids: readonly string[]) => void (chosenRibs.current = ids), []);
  const chords = useChords({
    editor: writer,
    styles: report.styles,
    leaf,
    filter,
    tableLeaf,
    catchUp: inSight.tables.catchUp,
    toOwnWords,
    bring,
    goBack: jumps.goBack,
    toPanel,
    toProof,
    sections,
    chosen: chosenRibs,
    notify,
  });

  if (line === "closed") return <Away message={room.state.trouble} kept={room.state.kept} />;

  return (
    <Grid h="100%" templateRows="auto auto minmax(0, 1fr)" bg="leaf">
      <Box minW="0">
        <Above report={report} room={room} person={person} mayWrite={mayWrite} rename={rename} />
        <Condition room={room} />
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
          // What gets the focus does not go beneath the chooser, which stays in sight.
          scrollPaddingTop="84px"
          minW="0"
          display={{ base: shown === "table" ? "block" : "none", lg: "block" }}
          {...LEAF_PLACE}
          _focusVisible={{ outlineOffset: "-3px" }}
        >
          <LeftLeaf
            report={report}
            room={room}
            panel={panel}
            of={of}
            show={show}
            editor={editor}
            writer={writer}
            mayWrite={mayWrite}
            inSight={inSight}
            goTo={goTo}
            notify={notify}
            scroller={tableLeaf}
          />
        </Box>
        <Spine
          room={room}
          chosen={chosen}
          person={person}
          here={here}
          goTo={goTo}
          report={report}
          mark={mark}
          sections={sections}
          chooseRibs={chooseRibs}
          setUpPage={setUpPage}
          toPanel={toPanel}
          proofShown={proof !== null}
          toProof={toProof}
          notify={notify}
          ready={ready}
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
          {...LEAF_PLACE}
        >
          {/* The editor is there before the text is, so that the text is drawn into it once and not twice. */}
          <Box inert={proof !== null}>
          <TextLeaf
            ref={leaf}
            report={report}
            room={room}
            person={person}
            mayWrite={mayWrite}
            textIsThere={ready}
            ready={setEditor}
            moved={moved}
            goTo={jumps.goTo}
            jumps={jumps.count}
            goBack={jumps.goBack}
            jumped={jumps.jumped}
            notify={notify}
          />
          </Box>
          {proof !== null && ready && <Proof ref={proofRef} report={report} room={room} at={proof} back={leaveProof} moved={moved} />}
          {!ready && (
            <Box position="absolute" inset="0" bg="leaf">
              <Opening />
            </Box>
          )}
        </Box>
        <Notice notice={notice} notify={notify} />
      </Grid>
      <Chords chords={chords} />
    </Grid>
  );
}

/** The heading and page in view. */
function useHere(): [here: Whereabouts, moved: (here: Whereabouts) => void] {
  const [here, setHere] = useState<Whereabouts>({ heading: null, page: 1 });
  const moved = useCallback((now: Whereabouts) => setHere((before) => (before.heading === now.heading && before.page === now.page ? before : now)), []);
  return [here, moved];
}

/** Enters the room anew where it does not take what is written. */
function useBeginAnew(room: Room, beginAnew: (here: string | null) => void): void {
  const line = useRoom(room, "line");
  useEffect(() => {
    if (line !== "stuck") return;
    const here = () => (room.awareness.getLocalState()?.heading as string | null | undefined) ?? null;
    const timer = window.setTimeout(() => beginAnew(here()), room.anewIn);
    return () => window.clearTimeout(timer);
  }, [line, room, beginAnew]);
}

/** Says what the server left out. */
function useLeftOut(room: Room, notify: (notice: string) => void): void {
  const leftOut = useRoom(room, "leftOut");
  useEffect(() => {
    for (const one of leftOut) notify(one);
  }, [leftOut, notify]);
}

function useTitle(title: string): void {
  useEffect(() => {
    document.title = `${title} – Mellow Spine`;
    return () => {
      document.title = "Mellow Spine";
    };
  }, [title]);
}

function useRename(report: ReportShown): (title: string) => Promise<void> {
  const queries = useQueryClient();
  return useCallback(
    async (title: string) => {
      const given = await api.rename(report.key, title);
      queries.setQueryData(["report", report.key], { ...report, title: given.title });
    },
    [report, queries],
  );
}
