/** The text leaf: the editor over the shared text, its page edges, and the tools that stand where the work is. */
import { Box } from "@chakra-ui/react";
import { Extension, type Editor } from "@tiptap/core";
import { Collaboration } from "@tiptap/extension-collaboration";
import { Document } from "@tiptap/extension-document";
import { HardBreak } from "@tiptap/extension-hard-break";
import { Link } from "@tiptap/extension-link";
import { Text } from "@tiptap/extension-text";
import { Underline } from "@tiptap/extension-underline";
import { goToNextCell, tableEditing } from "@tiptap/pm/tables";
import { EditorContent, useEditor } from "@tiptap/react";
import { forwardRef, useEffect, useImperativeHandle, useLayoutEffect, useMemo, useRef, useState, type Ref } from "react";
import { api, type Person, type ReportShown } from "../../api/client";
import type { Room } from "../room";
import type { View } from "../view";
import { Bands } from "./bands";
import { Carets } from "./carets";
import { beginList, leaveList, splitParagraph, takeListBack, toggle, typeBehind } from "./commands";
import { Cursor } from "./cursor";
import { FromOutside } from "./fromOutside";
import { Hint, isEmpty } from "./hint";
import { Ids } from "./ids";
import { Margin, type MarginHandle } from "./Margin";
import { MarkerRules } from "./markerRules";
import { computed, PageEdges } from "./pageEdges";
import { PlacedTable } from "./PlacedTable";
import { blockElement, bringIntoSight, goBackTo, placeNow, putCursor, type Place } from "./places";
import { DataCell, DataRow, DataTable, Image, PageBreak, Paragraph, Slant, TableRoles, Typeface, Weight } from "./schema";
import { SelectionBar, type SelectionBarHandle } from "./SelectionBar";
import { styleRules } from "./styleRules";
import { TableTools } from "./TableTools";
import "./text.css";
import { headingStyles, whereabouts, type Whereabouts } from "./whereabouts";

export interface TextLeafHandle {
  /** Brings a block into sight and remembers the place left; false if the block is not in the text. */
  goTo: (id: string) => boolean;
  goBack: () => void;
  focus: () => void;
  openTag: () => void;
  openInsert: () => void;
  openLink: () => void;
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
  say: (notice: string) => void;
  pageBreak: (editor: Editor) => void;
}

/** Characters that can be pasted or dropped at once: some 700 pages. What is larger could not be stored in one piece. */
const MOST_AT_ONCE = 2_000_000;
const TOO_MUCH = "This is more than can be put in at once (2 million characters). Put it in in parts, or bring it in as a file on your shelf.";

const SAFE_LINK = /^(https?:\/\/|mailto:)/i;

export const TextLeaf = forwardRef(function TextLeaf(props: Props, ref: Ref<TextLeafHandle>) {
  const { report, room, person, mayWrite, textIsThere, ready, moved, goTo, say, pageBreak } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const margin = useRef<MarginHandle>(null);
  const bar = useRef<SelectionBarHandle>(null);
  const places = useRef<Place[]>([]);
  const [drawn, setDrawn] = useState(false);
  const writes = useRef(mayWrite);
  const rules = useMemo(() => styleRules(report), [report]);
  const tooMuch = (size: number) => {
    if (size > MOST_AT_ONCE) say(TOO_MUCH);
    return size > MOST_AT_ONCE;
  };
  const headings = useMemo(() => headingStyles(report.styles), [report.styles]);

  const editor: Editor = useEditor(
    {
      editable: mayWrite,
      immediatelyRender: true,
      shouldRerenderOnTransaction: false,
      // What is typed or pasted means itself: asterisks stay asterisks. Only lists begin as one types, see `beginList`.
      enableInputRules: false,
      enablePasteRules: false,
      editorProps: {
        attributes: () => ({
          role: "textbox",
          "aria-multiline": "true",
          "aria-label": `Text of ${report.title}`,
          "aria-readonly": String(!writes.current),
          spellcheck: "true",
        }),
        // A table or a picture that is selected stays when somebody types: the words go behind it.
        handleTextInput: (view, _from, _to, text) => typeBehind(view, text) || beginList(editor, text),
        handlePaste: (_view, _event, slice) => tooMuch(slice.content.size),
        handleDrop: (_view, _event, slice, moved) => !moved && tooMuch(slice.content.size),
        handleClick: (_view, _pos, event) => {
          const link = (event.target as HTMLElement).closest("a")?.href;
          if (!link || !SAFE_LINK.test(link) || (writes.current && !event.ctrlKey && !event.metaKey)) return false;
          window.open(link, "_blank", "noopener,noreferrer");
          return true;
        },
      },
      extensions: [
        Document.extend({ content: "block+", marks: "band" }),
        Bands.configure({ styles: report.styles }),
        Text,
        Paragraph,
        HardBreak,
        Image.configure({ address: (source) => api.picture(report.key, source) }),
        TableRoles,
        DataTable,
        DataRow,
        DataCell,
        PageBreak,
        PlacedTable.configure({ room, goTo }),
        Weight,
        Slant,
        Underline,
        Typeface,
        Link.configure({
          openOnClick: false,
          autolink: false,
          linkOnPaste: true,
          defaultProtocol: "https",
          isAllowedUri: (address) => SAFE_LINK.test(address),
          HTMLAttributes: { rel: "noopener noreferrer nofollow", target: null },
        }),
        Collaboration.configure({ document: room.document, field: "text" }),
        Carets.configure({ awareness: room.awareness }),
        FromOutside,
        Cursor,
        Ids,
        PageEdges,
        ...(mayWrite ? [Hint] : []),
        Extension.create({
          name: "keys",
          priority: 1100,
          addProseMirrorPlugins: () => [tableEditing()],
          addKeyboardShortcuts: () => ({
            "Mod-b": ({ editor: at }) => toggle(at, "bold", report.styles),
            "Mod-i": ({ editor: at }) => toggle(at, "italic", report.styles),
            "Mod-u": ({ editor: at }) => toggle(at, "underline", report.styles),
            "Mod-z": ({ editor: at }) => takeListBack(at),
            Backspace: ({ editor: at }) => leaveList(at, report.styles),
            Enter: ({ editor: at }) => splitParagraph(at, report.styles),
            "Mod-Enter": ({ editor: at }) => {
              pageBreak(at);
              return true;
            },
            Tab: ({ editor: at }) =>
              goToNextCell(1)(at.state, at.view.dispatch) || (inParagraph(at) && at.commands.insertContent("\t")),
            "Shift-Tab": ({ editor: at }) => goToNextCell(-1)(at.state, at.view.dispatch),
          }),
        }),
      ],
    },
    [room],
  );

  useEffect(() => {
    writes.current = mayWrite;
    editor.setEditable(mayWrite);
  }, [editor, mayWrite]);

  useEffect(() => {
    if (!textIsThere) return;
    ready(editor);
    return () => ready(null);
  }, [editor, ready, textIsThere]);

  useEffect(() => {
    room.awareness.setLocalStateField("user", { id: person.id, name: person.name, colour: person.colour });
    let timer: number | undefined;
    const tell = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        const heading = headingAt(editor, headings);
        if (room.awareness.getLocalState()?.heading !== heading) room.awareness.setLocalStateField("heading", heading);
      }, 120);
    };
    editor.on("selectionUpdate", tell);
    tell();
    return () => {
      window.clearTimeout(timer);
      editor.off("selectionUpdate", tell);
    };
  }, [editor, room, person, headings]);

  useEffect(() => {
    if (!textIsThere) return;
    const markers = new MarkerRules();
    let shown: View | null = null;
    const show = () => {
      const { view } = room.state;
      if (view.edges !== shown?.edges) {
        editor.view.dispatch(editor.state.tr.setMeta(computed, view).setMeta("addToHistory", false));
      }
      markers.show(view);
      shown = view;
    };
    show();
    setDrawn(true);
    const stop = room.subscribe(show);
    return () => {
      stop();
      markers.remove();
    };
  }, [editor, room, textIsThere]);

  // In the same frame in which it is seen: whoever sees the blank sheet may already be typing.
  useLayoutEffect(() => {
    if (drawn && mayWrite && isEmpty(editor.state.doc)) editor.view.focus();
  }, [drawn, mayWrite, editor]);

  useEffect(() => {
    const element = scroller.current;
    if (!element || !drawn) return;
    let frame = 0;
    const look = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        if (element.clientHeight > 0) moved(whereabouts(element, headings));
      });
    };
    element.addEventListener("scroll", look, { passive: true });
    const sized = new ResizeObserver(look);
    for (const text of element.children) sized.observe(text);
    const stop = room.subscribe(look);
    look();
    return () => {
      cancelAnimationFrame(frame);
      element.removeEventListener("scroll", look);
      sized.disconnect();
      stop();
    };
  }, [headings, moved, room, drawn]);

  useImperativeHandle(
    ref,
    () => ({
      goTo: (id) => {
        const element = scroller.current;
        const block = element && blockElement(editor, id);
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
      openInsert: () => margin.current?.openInsert(),
      openLink: () => bar.current?.openLink(),
    }),
    [editor],
  );

  return (
    <Box ref={scroller} position="absolute" inset="0" overflowY="auto" overflowX="hidden" css={{ scrollbarGutter: "stable", containerType: "size" }}>
      <style>{rules}</style>
      <Box className="text-of-report" position="relative">
        {/* Drawing is cheap as long as nothing of it is on screen: the browser lays the text out once, when all is there. */}
        <EditorContent editor={editor} style={{ display: drawn ? undefined : "none" }} />
        {mayWrite && textIsThere && <Margin ref={margin} editor={editor} report={report} scroller={scroller} say={say} />}
        {mayWrite && <SelectionBar ref={bar} editor={editor} styles={report.styles} scroller={scroller} />}
        {mayWrite && <TableTools editor={editor} />}
      </Box>
    </Box>
  );
});

const inParagraph = (editor: Editor) => editor.state.selection.$from.parent.isTextblock;

function headingAt(editor: Editor, headings: ReadonlySet<string>): string | null {
  const { doc, selection } = editor.state;
  for (let index = Math.min(selection.$from.index(0), doc.childCount - 1); index >= 0; index -= 1) {
    const node = doc.child(index);
    if (headings.has(node.attrs.style as string)) return node.attrs.id as string;
  }
  return null;
}
