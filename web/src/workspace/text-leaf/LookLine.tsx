/** The look line: how the selection looks, said in words; each word is pressed to change it. */
import { Box, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import { forwardRef, memo, useImperativeHandle, useMemo, useRef, useState, type ReactNode, type Ref } from "react";
import { api, type ReportShown, type StyleShown } from "../../api/client";
import { counted } from "../../words";
import type { Room } from "../room/room";
import type { Notify } from "../controls/Notice";
import { Choice, Figure } from "../controls/Figure";
import { LookWords } from "../controls/LookWords";
import { OF_WORDS, PROPERTIES, valueInWords, type Property } from "../controls/look";
import { authorityOf } from "../view/authorities";
import { AtHandTools, BookmarkForm, MarkedTools } from "./AtHandTools";
import { CitationForm } from "./CitationForm";
import { markAt } from "./citing";
import { clearLook, giveStyle, setLook, setOnParagraphs } from "./commands";
import { BareButton } from "../controls/BareButton";
import { InsertFileForm, type FileToInsert } from "./InsertFileForm";
import type { Pasting } from "./pasting";
import { NoteTools } from "./NoteTools";
import { PastingTools } from "./PastingTools";
import { PlaceForm } from "./PlaceForm";
import { useAtHand, useMarkedAtHand } from "./placing";
import { carryOut } from "./plan";
import { offered, styleOf } from "./styles";
import { TermForm } from "./TermForm";
import { TableTools } from "./TableTools";
import { lookOf, useLook } from "./useLook";

export interface LookLineHandle {
  focus: () => void;
  openLink: () => void;
  openBookmark: () => void;
  /** Marks what is selected as a citation, or for the index. */
  openCitation: () => void;
  openTerm: () => void;
  /** Gives the look of what is selected to its style. */
  giveLook: () => void;
}

interface Props {
  editor: Editor;
  report: ReportShown;
  room: Room;
  pasting: Pasting;
  /** A file that is being put in, if one is. */
  inserting: FileToInsert | null;
  inserted: () => void;
  goTo: (id: string) => void;
  /** Puts a note in at the cursor. */
  putNote: () => void;
  notify: Notify;
  /** The way back, in the same row. */
  children: ReactNode;
}

/** What is always said, besides what departs from the style. */
const ALWAYS: readonly Property[] = ["font", "size"];
/** How many properties that depart are said in the row; "more" says all. */
const MOST = 3;

/** What is said in several words: under “more” alone. */
const OF_SEVERAL: ReadonlySet<Property> = new Set(["tab_stops", "borders"]);

const depthOfUndo = (editor: Editor): number => yUndoPluginKey.getState(editor.state)?.undoManager.undoStack.length ?? 0;

const NUMBERS = [
  ["", "number counted on"],
  ["none", "without a number"],
  ["appendix", "appendices begin here"],
] as const;

const MARKERS = [
  ["", "with its marker"],
  ["none", "goes on without a marker"],
] as const;

/** What can be put on words. */
const PUT_ON = [
  ["place", "link …"],
  ["bookmark", "bookmark …"],
  ["citation", "citation …"],
  ["term", "index …"],
] as const;

const MORE = "look line: more";

/** Whether all of the look is said: as this browser had it last. */
function useMore(): [more: boolean, set: (more: boolean) => void] {
  const [more, setMore] = useState(() => localStorage.getItem(MORE) === "yes");
  const set = (now: boolean) => {
    localStorage.setItem(MORE, now ? "yes" : "no");
    setMore(now);
  };
  return [more, set];
}

/** What can be done about what is at hand, in a row over the others; none while there is nothing. */
const Doable = ({ children }: { children: ReactNode }) => (
  <Flex wrap="wrap" columnGap="2" align="center" css={{ "&:empty": { display: "none" } }}>
    {children}
  </Flex>
);

interface DepartedProps {
  style: string;
  /** Nothing where no style can look so. */
  giveLook?: () => void;
  back: (everywhere: boolean) => void;
}

/** What follows where the selection departs from its style. */
const Departed = ({ style, giveLook, back }: DepartedProps) => (
  <Flex as="span" align="center" columnGap="1" wrap="wrap">
    {giveLook && (
      <BareButton type="button" className="word" fontWeight="600" color="iris" onClick={giveLook}>
        Give this look to every {style}
      </BareButton>
    )}
    <Box as="span" color="quiet" ps="2">
      Back to the style’s look:
    </Box>
    <BareButton type="button" className="word" fontWeight="600" color="iris" aria-label="Back to the style’s look here" onClick={() => back(false)}>
      here
    </BareButton>
    <BareButton type="button" className="word" fontWeight="600" color="iris" aria-label="Back to the style’s look everywhere" onClick={() => back(true)}>
      everywhere
    </BareButton>
  </Flex>
);

/** Whether a single heading or list item is numbered otherwise than its level, as a word. */
const ownNumber = (item: boolean, editor: Editor, block: string, number: string | null) => ({
  name: item ? "Marker of this item" : "Number of this heading",
  value: number ?? "",
  choices: item ? MARKERS : NUMBERS,
  remark: number ? "otherwise than its level" : undefined,
  set: (value: string) => setOnParagraphs(editor, "number", value || null, [block]),
});

/** Whether a single paragraph begins a new page otherwise than its style, as a word. */
const ownPage = (style: StyleShown, editor: Editor, block: string, newPage: boolean | null) => ({
  name: "New page",
  value: newPage === null ? "" : String(newPage),
  choices: [
    ["", style.new_page ? "begins a new page" : "goes on on the page"],
    [String(!style.new_page), style.new_page ? "goes on on the page, alone of its style" : "begins a new page, alone of its style"],
  ] as [string, string][],
  remark: newPage === null ? undefined : "otherwise than its style",
  set: (value: string) => setOnParagraphs(editor, "newPage", value ? value === "true" : null, [block]),
});

const KEEPS = [
  { name: "With what follows", attribute: "keepWithNext", property: "keep_with_next", on: "stays with what follows", off: "may part from what follows" },
  { name: "Its lines", attribute: "keepTogether", property: "keep_together", on: "keeps its lines on one page", off: "may go over a page" },
] as const;

/** What stays together on a page, of the paragraphs at hand, as a word. */
const kept = ({ name, attribute, property, on, off }: (typeof KEEPS)[number], style: StyleShown, editor: Editor, value: boolean | null) => ({
  name,
  value: value === null ? "" : String(value),
  choices: [
    ["", style[property] ? on : off],
    [String(!style[property]), `${style[property] ? off : on}, whatever its style says`],
  ] as [string, string][],
  remark: value === null ? undefined : "otherwise than its style",
  set: (chosen: string) => setOnParagraphs(editor, attribute, chosen ? chosen === "true" : null),
});

interface NumberProps {
  /** Whether it is an item of a list; if not, it is a heading. */
  item: boolean;
  /** Whether it is counted. */
  counts: boolean;
  editor: Editor;
  block: string;
  number: string | null;
  from: number | null;
}

/** What a single heading or list item says of its number. */
const OwnNumber = ({ item, counts, editor, block, number, from }: NumberProps) => (
  <>
    <Choice {...ownNumber(item, editor, block, number)} />
    {counts && number !== "none" && (
      <Figure
        name="Number counted from"
        value={from ?? undefined}
        least={0}
        most={9999}
        step={1}
        before="from"
        after=""
        remark={from === null ? undefined : "otherwise than its level"}
        set={(value) => setOnParagraphs(editor, "numberFrom", value, [block])}
        clear={() => setOnParagraphs(editor, "numberFrom", null, [block])}
      />
    )}
  </>
);

export const LookLine = memo(
  forwardRef(function LookLine({ editor, report, room, pasting, inserting, inserted, goTo, putNote, notify, children }: Props, ref: Ref<LookLineHandle>) {
    const { styles } = report;
    const line = useRef<HTMLDivElement>(null);
    const now = useLook(editor, styles);
    const [asking, setAsking] = useState<"place" | "another place" | "bookmark" | "citation" | "more places" | "term" | null>(null);
    const at = useAtHand(editor);
    const marks = useMarkedAtHand(editor);
    const cited = marks?.citation;
    const style = now?.style ? styleOf(styles, now.style) : undefined;

    const level = style?.outline_level;

    const [more, setMore] = useMore();
    const inRow = useMemo(() => PROPERTIES.filter((one) => ALWAYS.includes(one) || (!OF_SEVERAL.has(one) && now?.departs.slice(0, MOST).includes(one))), [now]);
    const paged = now?.paragraphs === 1 && !now.inDataTable ? style : undefined;
    const numbered = now?.paragraphs === 1 && ((level && report.numbering.levels[level - 1]?.on) || style?.marker);

    const marked = useMemo(
      () => new Map(style ? now?.departs.map((name): [Property, string] => [name, `the style says ${valueInWords(name, { ...OF_WORDS, ...style }[name])}`]) : []),
      [now, style],
    );

    const giveLook = async () => {
      // As it is at this moment: keys may be quicker than what is drawn.
      const here = lookOf(editor, styles);
      const style = here?.style ? styleOf(styles, here.style) : undefined;
      if (!here || !style) return;
      try {
        const values = Object.fromEntries(here.departs.flatMap((name) => (name in here.look && !(name in OF_WORDS) ? [[name, here.look[name]]] : [])));
        await room.caughtUp();
        const plan = await api.restyle(report.key, here.block, values);
        const before = depthOfUndo(editor);
        carryOut(editor, plan);
        const after = depthOfUndo(editor);
        notify(`Every ${style.name} looks like this now.`, {
          name: "Take back",
          run: () => {
            // What was done by hand comes back as well, unless somebody has gone on writing since.
            if (after > before && depthOfUndo(editor) === after) editor.commands.undo();
            void api.takeBack(report.key).catch((error: unknown) => notify((error as Error).message));
          },
        });
      } catch (error) {
        notify((error as Error).message);
      }
    };

    const back = async (everywhere: boolean) => {
      if (!now || !style) return;
      if (!everywhere && now.of === "words") {
        clearLook(editor);
        return;
      }
      try {
        await room.caughtUp();
        const plan = await api.planBackToStyle(report.key, everywhere ? { style: style.id } : { block: now.block });
        if (carryOut(editor, plan) && everywhere) notify(`Every ${style.name} looks as its style says. Undo (Ctrl+Z) takes it back.`);
      } catch (error) {
        notify((error as Error).message);
      }
    };

    const finish = () => {
      setAsking(null);
      editor.view.focus();
    };

    useImperativeHandle(ref, () => ({
      focus: () => line.current?.querySelector<HTMLElement>("select, button, input")?.focus(),
      openLink: () => setAsking("place"),
      openBookmark: () => setAsking("bookmark"),
      openCitation: () => setAsking(markAt(editor, "citation") && editor.state.selection.empty ? "more places" : "citation"),
      openTerm: () => setAsking("term"),
      giveLook: () => void giveLook(),
    }));

    return (
      <Box
        ref={line}
        role="group"
        aria-label="How the selection looks"
        flexShrink="0"
        px="4"
        py="1"
        bg="tableLeaf"
        borderTopWidth="1px"
        borderColor="edge"
        fontSize="13px"
        onKeyDown={(event) => {
          if (event.key !== "Escape") return;
          setAsking(null);
          inserted();
          editor.view.focus();
        }}
      >
        <PastingTools pasting={pasting} />
        {inserting ? (
          <InsertFileForm given={inserting} editor={editor} report={report.key} styles={styles} room={room} goTo={goTo} notify={notify} done={inserted} />
        ) : asking === "place" || asking === "another place" ? (
          <PlaceForm editor={editor} room={room} change={asking === "another place" && at?.kind === "reference" ? at.reference : null} notify={notify} done={() => setAsking(null)} />
        ) : asking === "bookmark" ? (
          <BookmarkForm editor={editor} notify={notify} done={() => setAsking(null)} />
        ) : asking === "citation" || (asking === "more places" && cited) ? (
          <CitationForm
            editor={editor}
            report={report}
            room={room}
            given={asking === "more places" && cited ? authorityOf(report, cited.of, room.state.view.cited) : undefined}
            goTo={goTo}
            notify={notify}
            done={finish}
          />
        ) : asking === "term" ? (
          <TermForm editor={editor} report={report} room={room} goTo={goTo} notify={notify} done={finish} />
        ) : at?.kind === "image" || at?.kind === "reference" ? (
          <Flex wrap="wrap" columnGap="1" align="center">
            <Flex wrap="wrap" columnGap="1" align="center" flex="1" minW="0">
              <AtHandTools editor={editor} report={report} room={room} at={at} goTo={goTo} choosePlace={() => setAsking("another place")} />
            </Flex>
            {children}
          </Flex>
        ) : now ? (
          <>
            {more && (
              <Flex wrap="wrap" columnGap="1px" align="center" role="group" aria-label="More of how the selection looks">
                <LookWords of={PROPERTIES.filter((one) => !inRow.includes(one))} look={now.look} marked={marked} set={(property, value) => setLook(editor, styles, property, value)} />
                {paged && <Choice {...ownPage(paged, editor, now.block, now.newPage)} />}
                {style && !now.inDataTable && KEEPS.map((one) => <Choice key={one.name} {...kept(one, style, editor, now[one.attribute])} />)}
                {numbered && (
                  <OwnNumber item={!level} counts={style?.marker !== "bullet"} editor={editor} block={now.block} number={now.number} from={now.numberFrom} />
                )}
              </Flex>
            )}
            <Doable>
              {at && <AtHandTools editor={editor} report={report} room={room} at={at} goTo={goTo} choosePlace={() => setAsking("another place")} />}
              <NoteTools editor={editor} room={room} />
              {marks && <MarkedTools editor={editor} report={report} room={room} marked={marks} findMore={() => setAsking("more places")} />}
              {now.inDataTable && <TableTools editor={editor} styles={styles} putPictures={pasting.putPictures} />}
              {style && now.departs.length > 0 && <Departed style={style.name} giveLook={now.departs.some((name) => !(name in OF_WORDS)) ? () => void giveLook() : undefined} back={(everywhere) => void back(everywhere)} />}
            </Doable>
            <Flex wrap="wrap" columnGap="1px" align="center">
              <Choice
                name="Style"
                value={now.style ?? undefined}
                choices={offered(styles, now.style)}
                set={(chosen) => void giveStyle(editor, chosen)}
              />
              <LookWords of={inRow} look={now.look} marked={marked} set={(property, value) => setLook(editor, styles, property, value)} />
              {numbered && !more && now.number && <Choice {...ownNumber(!level, editor, now.block, now.number)} />}
              {paged && !more && now.newPage !== null && <Choice {...ownPage(paged, editor, now.block, now.newPage)} />}
              {now.paragraphs > 1 && (
                <Box as="span" color="quiet" px="1" whiteSpace="nowrap">
                  {counted(now.paragraphs, "paragraph")}
                </Box>
              )}
              <BareButton type="button" className="word" aria-expanded={more} onMouseDown={(event) => event.preventDefault()} onClick={() => setMore(!more)}>
                {more ? "less" : "more"}
              </BareButton>
              <Box flex="1" />
              <BareButton type="button" className="word" onClick={putNote}>
                note
              </BareButton>
              {PUT_ON.map(([what, name]) => (
                <BareButton key={what} type="button" className="word" whiteSpace="nowrap" onClick={() => setAsking(what)}>
                  {name}
                </BareButton>
              ))}
              {children}
            </Flex>
          </>
        ) : (
          <Flex align="center">
            <Box color="quiet" py="1" flex="1">
              How words look is said here when the cursor is among them.
            </Box>
            {children}
          </Flex>
        )}
      </Box>
    );
  }),
);
