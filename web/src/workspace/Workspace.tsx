/** The workspace: an open book. Table leaf on the left, spine in the middle, text leaf on the right. */
import { Box, Button, Center, Flex, Grid, Spinner, Stack, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Link } from "wouter";
import { api, type Person, type ReportShown, type Scope } from "../api/client";
import { Chords, type Chord } from "./Chords";
import { Above } from "./Above";
import { Condition, Kept } from "./Condition";
import { LeafChooser, type Leaf } from "./LeafChooser";
import { Room } from "./room";
import { Spine } from "./spine/Spine";
import { TableLeaf } from "./table-leaf/TableLeaf";
import { giveStyle, insertContents, insertPageBreak, removeTable, shiftLevel } from "./text-leaf/commands";
import { TextLeaf, type TextLeafHandle } from "./text-leaf/TextLeaf";
import { useRoom } from "./useRoom";
import { tableAtHand } from "./view";
import "./workspace.css";
import type { Whereabouts } from "./text-leaf/whereabouts";

export default function Workspace({ report: key, person }: { report: string; person: Person }) {
  const report = useQuery({ queryKey: ["report", key], queryFn: () => api.report(key), refetchOnWindowFocus: false });
  const [room] = useState(() => new Room(key));
  useEffect(() => {
    room.open();
    return () => room.close();
  }, [room]);
  const queries = useQueryClient();
  const renewed = useRoom(room, "renewed");
  useEffect(() => {
    if (renewed > 0) void queries.invalidateQueries({ queryKey: ["report", key] });
  }, [renewed, queries, key]);
  if (report.isError) return <Away message={report.error.message} />;
  if (!report.data) return <Opening />;
  return <Book report={report.data} room={room} person={person} />;
}

const Opening = () => (
  <Center h="100%" gap="3" role="status">
    <Spinner size="sm" color="iris" />
    <Text color="quiet">Opening the report …</Text>
  </Center>
);

const Away = ({ message, kept = "" }: { message: string; kept?: string }) => (
  <Center h="100%">
    <Stack gap="4" align="center" maxW="40ch" textAlign="center">
      <Text role="alert" fontSize="18px">
        {message}
      </Text>
      {kept && (
        <>
          <Text>What you wrote last is not saved; copy it here if you need it.</Text>
          <Kept words={kept} />
        </>
      )}
      <Link href="/" style={{ textDecoration: "underline" }}>
        To your shelf
      </Link>
    </Stack>
  </Center>
);

function Book({ report, room, person }: { report: ReportShown; room: Room; person: Person }) {
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
  const [jumps, setJumps] = useState(0);
  const [shown, setShown] = useState<Leaf>("text");
  const [notice, setNotice] = useState("");
  const queries = useQueryClient();
  const role = useRoom(room, "role") ?? report.role;
  const mayWrite = role !== "reader" && line !== "stuck";

  useEffect(() => {
    document.title = `${report.title} – Mellow Spine`;
    return () => {
      document.title = "Mellow Spine";
    };
  }, [report.title]);

  /** Brings a leaf into sight where there is room for one only: at once, so that the next key already reaches it. */
  const bring = useCallback((wanted: Leaf) => flushSync(() => setShown(wanted)), []);

  const goTo = useCallback(
    (id: string) => {
      bring("text");
      if (leaf.current?.goTo(id)) setJumps((count) => count + 1);
      else setNotice("This place is no longer in the text.");
    },
    [bring],
  );
  const goBack = useCallback(() => {
    setJumps((count) => Math.max(0, count - 1));
    leaf.current?.goBack();
  }, []);

  const catchUp = useCallback(
    async (scope: Scope) => {
      const table = tableAtHand(room.state.view, chosen);
      if (table === null || !mayWrite) return;
      try {
        await api.catchUp(report.key, table, scope);
        setNotice(scope === "everything" ? "The table is level with the text." : "The page numbers are up to date.");
      } catch (error) {
        setNotice((error as Error).message);
      }
    },
    [report.key, room, chosen, mayWrite],
  );

  const place = useCallback((ownPage: boolean) => editor && insertContents(editor, ownPage), [editor]);
  const remove = useCallback(() => {
    const table = tableAtHand(room.state.view, chosen);
    if (!editor || table === null) return;
    removeTable(editor, table);
    setNotice("The table was taken out. Undo (Ctrl+Z) brings it back.");
    editor.view.focus();
  }, [editor, room, chosen]);

  const rename = useCallback(
    async (title: string) => {
      const given = await api.rename(report.key, title);
      queries.setQueryData(["report", report.key], { ...report, title: given.title });
    },
    [report, queries],
  );

  const chords = useMemo<Chord[]>(() => {
    const whileWriting: Chord[] =
      editor && mayWrite
        ? [
            ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => ({
              key: String(level),
              does: `Heading ${level}`,
              run: () => void giveStyle(editor, `heading-${level}`),
            })),
            { key: "0", does: "Body text", run: () => void giveStyle(editor, "body") },
            { key: ".", does: "One level deeper", run: () => shiftLevel(editor, 1, report.styles) },
            { key: ",", does: "One level up", run: () => shiftLevel(editor, -1, report.styles) },
            { key: "a", does: "Style for all that look alike", run: () => leaf.current?.openTag() },
            { key: "i", does: "Put something in here", run: () => leaf.current?.openInsert() },
            { key: "l", does: "Link the selected words", run: () => leaf.current?.openLink() },
            { key: "c", does: "Catch up everything", run: () => void catchUp("everything") },
            { key: "n", does: "Catch up page numbers", run: () => void catchUp("pages") },
          ]
        : [];
    return [
      ...whileWriting,
      {
        key: "t",
        does: "To the table leaf",
        run: () => {
          bring("table");
          tableLeaf?.focus();
        },
      },
      {
        key: "f",
        does: "Filter the spine",
        run: () => {
          if (!filter.current?.checkVisibility()) bring("spine");
          filter.current?.focus();
        },
      },
      {
        key: "w",
        does: "To the text",
        run: () => {
          bring("text");
          leaf.current?.focus();
        },
      },
      { key: "r", does: "Return to where you were", run: goBack },
    ];
  }, [editor, mayWrite, report.styles, catchUp, bring, goBack, tableLeaf]);

  useEffect(() => {
    if (!notice) return;
    const timer = window.setTimeout(() => setNotice(""), 5000);
    return () => window.clearTimeout(timer);
  }, [notice]);

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
          bg="tableLeaf"
          overflowY="auto"
          minW="0"
          display={{ base: shown === "table" ? "block" : "none", lg: "block" }}
          gridColumn={{ base: "1", md: "2", lg: "auto" }}
          gridRow="1"
          _focusVisible={{ outlineOffset: "-3px" }}
        >
          <TableLeaf
            room={room}
            chosen={chosen}
            choose={setChosen}
            scroller={tableLeaf}
            mayWrite={mayWrite}
            goTo={goTo}
            catchUp={catchUp}
            place={place}
            remove={remove}
          />
        </Box>
        <Spine
          room={room}
          chosen={chosen}
          person={person}
          here={here}
          goTo={goTo}
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
            say={setNotice}
            pageBreak={insertPageBreak}
          />
          {!ready && (
            <Box position="absolute" inset="0" bg="leaf">
              <Opening />
            </Box>
          )}
          {jumps > 0 && (
            <Button
              position="absolute"
              bottom="5"
              left="50%"
              transform="translateX(-50%)"
              rounded="full"
              bg="spine"
              color="rib"
              size="sm"
              shadow="lg"
              onClick={goBack}
            >
              ↶ Back to where you were
            </Button>
          )}
        </Box>
        <Flex position="absolute" bottom="16" insetX="0" justify="center" pointerEvents="none" role="status" aria-live="polite">
          {notice && (
            <Box bg="spine" color="rib" px="4" py="2" rounded="md" shadow="lg" fontSize="14px" maxW="60ch">
              {notice}
            </Box>
          )}
        </Flex>
      </Grid>
      <Chords chords={chords} />
    </Grid>
  );
}
