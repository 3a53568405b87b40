/** The text leaf: the editor over the shared text, its page edges, and the tools that stand where the work is. */
import { Box, Button, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { EditorContent } from "@tiptap/react";
import { forwardRef, useCallback, useEffect, useImperativeHandle, useLayoutEffect, useMemo, useRef, useState, type Ref } from "react";
import type { Person, ReportShown } from "../../api/client";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import { isEmpty } from "./hint";
import type { FileToInsert } from "./InsertFileForm";
import { LookLine, type LookLineHandle } from "./LookLine";
import { Margin, type MarginHandle } from "./Margin";
import { putNote } from "./notes";
import { placeElement, bringIntoSight, goBackTo, placeNow, putCursor, type Position } from "./places";
import { Seam, type SeamHandle } from "./Seam";
import { styleRules } from "./styleRules";
import "./text.css";
import { useComputed } from "./useComputed";
import { useTextEditor } from "./useTextEditor";
import { useShareCursor, useView } from "./useWhereabouts";
import { headingStyles, type Whereabouts } from "./whereabouts";

export interface TextLeafHandle {
  /** Brings a block into sight and remembers the place left; false if the block is not in the text. */
  goTo: (id: string) => boolean;
  goBack: () => void;
  focus: () => void;
  openTag: () => void;
  openInsert: () => void;
  openLink: () => void;
  toLookLine: () => void;
  giveLook: () => void;
  openBookmark: () => void;
  openCitation: () => void;
  openTerm: () => void;
  putNote: () => void;
}

interface Props {
  report: ReportShown;
  room: Room;
  person: Person;
  mayWrite: boolean;
  /** Whether the text has arrived; before that, nothing may be written. */
  textIsThere: boolean;
  ready: (editor: Editor | null) => void;
  moved: (here: Whereabouts) => void;
  goTo: (id: string) => void;
  /** How many places there are to go back to, and the way there. */
  jumps: number;
  goBack: () => void;
  /** Somebody has gone elsewhere by what they put in. */
  jumped: () => void;
  notify: Notify;
}

export const TextLeaf = forwardRef(function TextLeaf(props: Props, ref: Ref<TextLeafHandle>) {
  const { report, room, person, mayWrite, textIsThere, ready, moved, jumps, goBack, jumped, notify } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const margin = useRef<MarginHandle>(null);
  const seam = useRef<SeamHandle>(null);
  const line = useRef<LookLineHandle>(null);
  const places = useRef<Position[]>([]);
  const rules = useMemo(() => styleRules(report), [report]);
  const headings = useMemo(() => headingStyles(report.styles), [report.styles]);
  const { editor, pasting } = useTextEditor(props);
  const [drawn, setDrawn] = useState(false);
  const [inserting, setInserting] = useState<FileToInsert | null>(null);
  const putFile = useCallback((file: File, after: string) => setInserting({ file, after }), []);
  const inserted = useCallback(() => setInserting(null), []);
  useComputed(editor, room, report, textIsThere, useCallback(() => setDrawn(true), []));
  useShareCursor(editor, room, person, headings);
  useView(scroller, room, drawn, headings, moved);

  useEffect(() => {
    if (!textIsThere) return;
    ready(editor);
    return () => ready(null);
  }, [editor, ready, textIsThere]);

  // In the same frame in which it is seen: whoever sees the blank sheet may already be typing.
  useLayoutEffect(() => {
    if (drawn && mayWrite && isEmpty(editor.state.doc)) editor.view.focus();
  }, [drawn, mayWrite, editor]);

  const putNoteHere = useCallback(() => {
    const { $to } = editor.state.selection;
    const place = scroller.current && $to.depth ? { ...placeNow(editor, scroller.current), caret: $to.node(1).attrs.id as string, offset: $to.pos - $to.before(1) + 1 } : null;
    if (place && putNote(editor, report.styles) !== null) {
      places.current.push(place);
      jumped();
    } else notify("A note is referred to among words; put the cursor among some.");
  }, [editor, report.styles, jumped, notify]);

  useImperativeHandle(
    ref,
    () => ({
      goTo: (id) => {
        const element = scroller.current;
        const block = element && placeElement(editor, id);
        if (!element || !block) return false;
        places.current.push(placeNow(editor, element));
        bringIntoSight(element, block);
        putCursor(editor, id, 1);
        return true;
      },
      goBack: () => {
        const place = places.current.pop();
        if (place && scroller.current) goBackTo(editor, scroller.current, place);
      },
      focus: () => editor.view.focus(),
      openTag: () => margin.current?.openTag(),
      openInsert: () => seam.current?.open(),
      openLink: () => line.current?.openLink(),
      openBookmark: () => line.current?.openBookmark(),
      openCitation: () => line.current?.openCitation(),
      openTerm: () => line.current?.openTerm(),
      toLookLine: () => line.current?.focus(),
      giveLook: () => line.current?.giveLook(),
      putNote: putNoteHere,
    }),
    [editor, putNoteHere],
  );

  const back = jumps > 0;
  const wayBack = useMemo(
    () =>
      back && (
        <Button size="2xs" minH="24px" flexShrink="0" ms="1" rounded="full" bg="spine" color="rib" aria-label="Back to where you were" title="Back to where you were" onClick={goBack}>
          ↶ Back
        </Button>
      ),
    [back, goBack],
  );

  return (
    <Flex position="absolute" inset="0" direction="column">
      <Box ref={scroller} flex="1" minH="0" position="relative" overflowY="auto" overflowX="hidden" css={{ scrollbarGutter: "stable", containerType: "size" }}>
        <style>{rules}</style>
        <Box className="text-of-report" position="relative">
          {/* Drawing is cheap as long as nothing of it is on screen: the browser lays the text out once, when all is there. */}
          <EditorContent editor={editor} style={{ display: drawn ? undefined : "none" }} />
          {mayWrite && textIsThere && <Margin ref={margin} editor={editor} report={report} room={room} scroller={scroller} notify={notify} />}
          {mayWrite && textIsThere && <Seam ref={seam} editor={editor} report={report} scroller={scroller} notify={notify} putPictures={pasting.putPictures} putFile={putFile} marked={inserting?.after ?? null} />}
        </Box>
      </Box>
      {mayWrite && textIsThere ? (
        <LookLine ref={line} editor={editor} report={report} room={room} pasting={pasting} inserting={inserting} inserted={inserted} goTo={props.goTo} putNote={putNoteHere} notify={notify}>
          {wayBack}
        </LookLine>
      ) : (
        wayBack && (
          <Flex justify="end" flexShrink="0" bg="tableLeaf" borderTopWidth="1px" borderColor="edge" px="4" py="1">
            {wayBack}
          </Flex>
        )
      )}
    </Flex>
  );
});
