/** What can be done to what is at hand beside words: a picture, a data table, a caption, a reference. */
import { Box, Flex, Input } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { focusWhenItAppears } from "../../theme/focus";
import { api, type ReportShown } from "../../api/client";
import { counted } from "../../words";
import { authorityOf } from "../view/authorities";
import { kindOf } from "../place-kinds";
import { RANGES } from "../../api/settings";
import { Choice, Figure } from "../controls/Figure";
import type { Room } from "../room/room";
import { Tick } from "../controls/parts";
import { useTyped } from "../controls/useTyped";
import { useRoom } from "../room/useRoom";
import { citeInstead, indexInstead } from "./citing";
import { setOnParagraphs } from "./commands";
import { BareButton } from "../controls/BareButton";
import { INNER_LINK } from "./links";
import type { Entry } from "./marks";
import { SHOWS, wordsOf, type Reference, type Shows } from "./kinds/reference";
import { changeReference, putBookmark, putCaption, referenceAsWords, setOnPicture, toBookmark, type AtHand, type MarkedAtHand, type PictureAtHand } from "./placing";

interface Props {
  editor: Editor;
  report: ReportShown;
  room: Room;
  at: NonNullable<AtHand>;
  goTo: (id: string) => void;
  /** Chooses another place for the reference at hand. */
  choosePlace: () => void;
}

export function AtHandTools({ editor, report, room, at, goTo, choosePlace }: Props) {
  switch (at.kind) {
    case "image":
      return (
        <>
          <Described editor={editor} alt={at.alt} decorative={at.decorative === true} />
          <Standing editor={editor} at={at} inCell={at.inCell} />
          {!at.captioned && <CaptionTools editor={editor} report={report} first="figure" />}
        </>
      );
    case "dataTable":
      return at.captioned ? null : <CaptionTools editor={editor} report={report} first="table" />;
    case "caption":
      return (
        <Choice
          name="Label of this caption"
          value={at.label}
          choices={[...report.labels.map((label) => [label.id, label.name] as const), ["", "no label"]]}
          set={(label) => setOnParagraphs(editor, "caption", label || null, [at.block])}
        />
      );
    case "link":
      return <LinkTools room={room} href={at.href} title={at.title} goTo={goTo} />;
    case "reference":
      return <ReferenceTools editor={editor} room={room} reference={at.reference} paragraph={at.paragraph} goTo={goTo} choosePlace={choosePlace} />;
  }
}

/** A caption in one press, with the label that is usual there or another one. */
function CaptionTools({ editor, report, first }: { editor: Editor; report: ReportShown; first: string }) {
  const usual = report.labels.find(({ id }) => id === first) ?? report.labels[0];
  const [chosen, setChosen] = useState(usual?.id ?? "");
  const label = report.labels.find(({ id }) => id === chosen) ?? usual;
  if (!label) return null;
  return (
    <Flex role="group" aria-label="Caption" align="center" columnGap="1">
      <BareButton type="button" className="word" fontWeight="600" color="iris" onClick={() => putCaption(editor, label, report.styles)}>
        Put a caption {label.place}
      </BareButton>
      <Choice name="Label of the caption" value={label.id} choices={report.labels.map(({ id, name }) => [id, name] as const)} set={setChosen} />
    </Flex>
  );
}

/** What a picture shows, for whoever does not see it. */
function Described({ editor, alt, decorative }: { editor: Editor; alt: string; decorative: boolean }) {
  const field = useTyped(alt, (typed) => {
    setOnPicture(editor, { alt: typed.trim() });
    return Promise.resolve();
  });
  return (
    <Flex align="center" columnGap="1" flex="1 1 100%">
      <Box as="span" color="quiet">
        shows
      </Box>
      <Input
        size="xs"
        bg="raised"
        flex="1"
        maxLength={500}
        aria-label="What the picture shows, for those who do not see it"
        placeholder={decorative ? "needs no words" : "What it shows, for those who do not see it"}
        disabled={decorative}
        {...field}
      />
      <Tick ticked={decorative} set={(on) => setOnPicture(editor, { decorative: on || null })}>
        needs no words
      </Tick>
    </Flex>
  );
}

const STANDS = [
  ["center", "in the middle"],
  ["left", "at the left"],
  ["right", "at the right"],
  ["left beside", "at the left, text beside it"],
  ["right beside", "at the right, text beside it"],
] as const;

/** Where a picture stands in its column or cell, whether words stand beside it, and how wide it is. No words stand beside one in a cell. */
function Standing({ editor, at, inCell }: { editor: Editor; at: PictureAtHand; inCell: boolean }) {
  const [align, beside] = [at.align === "justify" ? "center" : at.align, at.beside === true && at.align !== "center" && !inCell];
  const { least, most } = RANGES.picture.width;
  return (
    <>
      <Choice
        name="Where the picture stands"
        value={beside ? `${align} beside` : align}
        choices={inCell ? STANDS.filter(([value]) => !value.includes(" ")) : STANDS}
        set={(value) => {
          const [align = "center", beside] = value.split(" ");
          setOnPicture(editor, { align, beside: beside ? true : null });
        }}
      />
      <Figure
        name="Width of the picture"
        value={at.width}
        least={least}
        most={most}
        step={1}
        before=""
        after="pt wide"
        set={(width) => setOnPicture(editor, { width, height: Math.min(Math.max((at.height * width) / at.width, least), most) })}
      />
    </>
  );
}

const SHOWN: Record<Shows, string> = { label: "label and number", number: "number", title: "words", page: "page number", way: "above or below", note: "raised sign" };

/** Where the link at the cursor leads, and the way there. */
function LinkTools({ room, href, title, goTo }: { room: Room; href: string; title: string; goTo: (id: string) => void }) {
  const reaches = useRoom(room, "view").reaches;
  const place = INNER_LINK.exec(href)?.[1];
  const gone = place !== undefined && !reaches(place);
  return (
    <Flex role="group" aria-label="Link" align="center" columnGap="1">
      <Box as="span" color={gone ? "gone" : "quiet"} maxW="36ch" truncate>
        {gone ? `Leads to what is gone${title && `: ${title}`}` : `Leads to ${place === undefined ? href : title || "a place in this report"}`}
      </Box>
      {!gone && (
        <BareButton type="button" className="word" color="iris" onClick={() => (place === undefined ? window.open(href, "_blank", "noopener,noreferrer") : goTo(place))}>
          Go there
        </BareButton>
      )}
    </Flex>
  );
}

interface ReferenceProps {
  editor: Editor;
  room: Room;
  reference: Reference;
  paragraph: string;
  goTo: (id: string) => void;
  choosePlace: () => void;
}

function ReferenceTools({ editor, room, reference, paragraph, goTo, choosePlace }: ReferenceProps) {
  const view = useRoom(room, "view");
  const place = view.places.find(({ id }) => id === reference.to);
  const heading = view.headings.find(({ id }) => id === reference.to);
  const leads = place ? `${kindOf(place).front(place, view).chosen} ${place.text}` : heading ? `${heading.number} ${heading.text}` : null;
  return (
    <Flex role="group" aria-label="Reference" align="center" wrap="wrap" columnGap="1">
      <Box as="span" color={leads === null ? "gone" : "quiet"} maxW="32ch" truncate>
        {leads === null ? "Its place is gone" : `Leads to ${leads.trim()}`}
      </Box>
      <Choice
        name="What the reference shows"
        value={reference.shows}
        choices={SHOWS.filter((one) => one !== "note" || place?.kind === "note" || reference.shows === "note").map((one) => [one, SHOWN[one]] as const)}
        set={(shows) => changeReference(editor, { shows: shows as Shows })}
      />
      {leads !== null && (
        <BareButton type="button" className="word" color="iris" onClick={() => goTo(reference.to)}>
          Go there
        </BareButton>
      )}
      <BareButton type="button" className="word" color="iris" onClick={choosePlace}>
        Another place …
      </BareButton>
      <BareButton type="button" className="word" color="iris" onClick={() => referenceAsWords(editor, wordsOf(view, reference, paragraph))}>
        Make it plain words
      </BareButton>
    </Flex>
  );
}

interface MarkedProps {
  editor: Editor;
  report: ReportShown;
  room: Room;
  marked: MarkedAtHand;
  /** Looks for further places of the authority at hand. */
  findMore: () => void;
}

/** What can be done to the marks that the words at the cursor have. */
export const MarkedTools = ({ marked: { citation, indexed }, editor, ...given }: MarkedProps) => (
  <>
    {citation && <CitationTools editor={editor} {...given} {...citation} />}
    {indexed && <TermTools editor={editor} {...indexed} />}
  </>
);

interface CitationProps extends Omit<MarkedProps, "marked"> {
  id: string;
  of: string;
}

function CitationTools({ editor, report, room, id, of, findMore }: CitationProps) {
  const cited = useRoom(room, "view").cited.filter((one) => one.of === of);
  const authority = authorityOf(report, of, cited);
  return (
    <Flex role="group" aria-label="Citation" align="center" wrap="wrap" columnGap="1">
      <Box as="span" color="quiet" maxW="40ch" truncate>
        Cites {authority.long}, in {counted(cited.length, "place")}
      </Box>
      <Choice
        name="Category"
        value={authority.category}
        choices={report.categories.map(({ id, name }) => [id, name] as const)}
        set={(category) => void api.changeAuthority(report.key, of, { long: authority.long, short: authority.short, category })}
      />
      <BareButton type="button" className="word" color="iris" onClick={findMore}>
        Change it, find more places …
      </BareButton>
      <BareButton type="button" className="word" color="iris" onClick={() => citeInstead(editor, of, null, id)}>
        Take the mark off
      </BareButton>
    </Flex>
  );
}

const TermTools = ({ editor, id, entries }: { editor: Editor; id: string; entries: readonly Entry[] }) => (
  <Flex role="group" aria-label="Terms of the index" align="center" wrap="wrap" columnGap="1">
    {entries.map(([terms, main]) => {
      const said = terms.join(" › ");
      return (
        <Flex as="span" key={said} align="center">
          <Box as="span" color="quiet" maxW="36ch" truncate>
            In the index: {said}
          </Box>
          <BareButton type="button" className="word" aria-pressed={main} onClick={() => indexInstead(editor, terms, () => [terms, !main], id)}>
            {main ? "says most about it" : "one place of several"}
          </BareButton>
          <BareButton type="button" className="word" color="iris" aria-label={`Take off: ${said}`} onClick={() => indexInstead(editor, terms, null, id)}>
            Take off
          </BareButton>
        </Flex>
      );
    })}
  </Flex>
);

/** Names the selected words, or those of the paragraph with the cursor. */
export function BookmarkForm({ editor, notify, done }: { editor: Editor; notify: (notice: string) => void; done: () => void }) {
  const [name, setName] = useState(() => toBookmark(editor)?.words.slice(0, 60) ?? "");
  return (
    <form
      aria-label="New bookmark"
      onSubmit={(event) => {
        event.preventDefault();
        const given = name.replace(/\s+/g, " ").trim();
        if (!given) return notify("A bookmark needs a name; type one.");
        if (!putBookmark(editor, given)) notify("There are no words to name here; put the cursor among some.");
        done();
      }}
    >
      <Flex gap="1" mt="1">
        <Input
          size="xs"
          aria-label="Name of the bookmark"
          placeholder="A name for these words, to lead others to them"
          maxLength={80}
          ref={focusWhenItAppears}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <BareButton type="submit" px="3" rounded="sm" bg="iris" color="leaf" fontSize="13px">
          Name it
        </BareButton>
      </Flex>
    </form>
  );
}
