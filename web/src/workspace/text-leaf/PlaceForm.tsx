/** Where a link or a reference leads: chosen from all places of the report in the order of the text, or a web address. */
import { Box, Flex, Input } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useMemo, useRef, useState } from "react";
import { focusWhenItAppears } from "../../theme/focus";
import { LongList } from "../../theme/LongList";
import { counted } from "../../words";
import { Choice } from "../controls/Figure";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import { kindOf, PLACE_MARKS } from "../place-kinds";
import type { View } from "../view";
import { BareButton } from "../controls/BareButton";
import { SHOWS, type Reference, type Shows } from "./kinds/reference";
import { INNER_LINK, isOuterLink } from "./links";
import { changeReference, putReference } from "./placing";

/** The address as a web or mail address, whatever was left out of it. */
const whole = (address: string) =>
  /^[a-z]+:/i.test(address) ? address : address.includes("@") ? `mailto:${address}` : `https://${address}`;

const looksLikeAddress = (words: string) => /^(https?:\/\/|mailto:)\S+$/i.test(words) || /^[^\s@]+@[^\s@]+\.\w+$/.test(words) || /^[^\s/]+\.[a-z]{2,}(\/\S*)?$/i.test(words);

interface Choosable {
  id: string;
  /** What it is called: a section, a caption … */
  sort: string;
  /** Its label and number. */
  number: string;
  text: string;
  page: string;
}

/** All places, in the order in which they stand in the text. */
export function choosable(editor: Editor, view: View): Choosable[] {
  const known = new Map<string, Choosable>();
  for (const { id, number, text, label } of view.headings) known.set(id, { id, sort: "section", number, text, page: label });
  for (const place of view.places) {
    const kind = kindOf(place);
    known.set(place.id, { id: place.id, sort: kind.called, number: kind.front(place, view).chosen, text: place.text, page: view.labels[place.page - 1] ?? "" });
  }
  const found = new Set<Choosable>();
  editor.state.doc.descendants((node) => {
    const here = known.get((node.isText ? node.marks.find(({ type }) => PLACE_MARKS.includes(type.name))?.attrs.id : node.attrs.id) as string);
    if (here) found.add(here);
    return true;
  });
  return [...found];
}

const WAYS: Record<Shows | "link", string> = {
  link: "as a link on the selected words",
  label: "as its label and number",
  number: "as its number",
  title: "as its words",
  page: "as its page number",
  way: "as “above” or “below”",
  note: "as the sign of a note",
};

interface Props {
  editor: Editor;
  room: Room;
  /** The reference that is to lead elsewhere; without one, something is put in. */
  change: Reference | null;
  notify: (notice: string) => void;
  done: () => void;
}

export function PlaceForm({ editor, room, change, notify, done }: Props) {
  const view = useRoom(room, "view");
  const given = (editor.getAttributes("link").href as string | undefined) ?? "";
  const hasWords = !editor.state.selection.empty && !change;
  const [words, setWords] = useState(isOuterLink(given) ? given : "");
  const [way, setWay] = useState<Shows | "link">(change?.shows ?? (hasWords || given ? "link" : "label"));
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const all = useMemo(() => choosable(editor, view), [editor, view]);
  const choosables = useMemo(() => (way === "note" ? all.filter(({ sort }) => sort === "note") : all), [all, way]);
  const wanted = words.trim().toLowerCase();
  const address = looksLikeAddress(words.trim()) ? whole(words.trim()) : null;
  const found = useMemo(
    () => (wanted && !address ? choosables.filter(({ number, text }) => `${number} ${text}`.toLowerCase().includes(wanted)) : choosables),
    [choosables, wanted, address],
  );
  const ways = (["link", ...SHOWS] as const).filter((one) => one !== "link" || hasWords || given !== "");

  const link = (href: string, title: string | null) => {
    editor.chain().focus().extendMarkRange("link").setLink({ href, title } as { href: string }).run();
    done();
  };
  const choose = (place: Choosable) => {
    const reference: Reference = { to: place.id, shows: way === "link" ? "label" : way, said: referenceWords(place, way) };
    if (change) changeReference(editor, reference);
    else if (way === "link") return link(`#${place.id}`, place.text.slice(0, 200));
    else if (!putReference(editor, reference)) notify("A reference stands among words; put the cursor among some.");
    done();
  };
  const first = () => {
    if (address) {
      if (!isOuterLink(address)) notify("Links lead to web and mail addresses: http, https or mailto.");
      else if (hasWords || given) link(address, null);
      else {
        editor.chain().focus().insertContent({ type: "text", text: words.trim(), marks: [{ type: "link", attrs: { href: address } }] }).run();
        done();
      }
    } else if (found[0]) choose(found[0]);
    else notify("No place of the report reads so. Search for other words, or write a web address such as example.org.");
  };

  return (
    <form
      aria-label="Where it leads"
      onSubmit={(event) => {
        event.preventDefault();
        first();
      }}
    >
      <Flex gap="2" mt="1" align="center" wrap="wrap">
        <Input
          size="xs"
          flex="1 1 200px"
          role="searchbox"
          aria-label="Search places of the report, or write a web address"
          placeholder="Search places of the report, or write a web address"
          ref={focusWhenItAppears}
          value={words}
          onChange={(event) => setWords(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== "ArrowDown") return;
            event.preventDefault();
            list.current?.querySelector<HTMLElement>("button")?.focus();
          }}
        />
        <Choice name="What is put in" value={way} choices={ways.map((one) => [one, WAYS[one]] as const)} set={(one) => setWay(one as Shows)} />
        {given && (
          <BareButton
            type="button"
            className="word"
            color="iris"
            onClick={() => {
              editor.chain().focus().extendMarkRange("link").unsetLink().run();
              done();
            }}
          >
            Take the link away
          </BareButton>
        )}
      </Flex>
      <Box fontSize="12px" color="quiet" pt="1" aria-live="polite">
        {address ? `Enter links to ${address}` : `${counted(found.length, "place")}${INNER_LINK.test(given) ? "; the words lead to one already" : ""}`}
      </Box>
      {!address && (
        <Box ref={setScroller} maxH="196px" overflowY="auto" mt="1" borderWidth={found.length > 0 ? "1px" : "0"} borderColor="edge" rounded="sm" bg="raised">
          <Box ref={list}>
            <LongList
              count={found.length}
              scroller={scroller}
              estimate={28}
              label="Places of the report"
              keyOf={(index) => found[index]?.id ?? String(index)}
              row={(index, tabbable) => {
                const place = found[index];
                return place ? (
                  <BareButton
                    type="button"
                    tabIndex={tabbable ? 0 : -1}
                    display="flex"
                    w="100%"
                    minH="28px"
                    gap="2"
                    px="2"
                    py="1"
                    textAlign="left"
                    alignItems="baseline"
                    data-place={place.id}
                    _hover={{ bg: "irisWash" }}
                    _focusVisible={{ bg: "irisWash", outlineOffset: "-2px" }}
                    onClick={() => choose(place)}
                  >
                    <Box as="span" color="quiet" fontSize="11px" w="62px" flexShrink="0">
                      {place.sort}
                    </Box>
                    <Box as="span" flex="1" minW="0" overflowWrap="anywhere">
                      {place.number && <b>{place.number} </b>}
                      {place.text}
                    </Box>
                    <Box as="span" color="quiet" fontVariantNumeric="tabular-nums">
                      {place.page}
                    </Box>
                  </BareButton>
                ) : null;
              }}
            />
          </Box>
        </Box>
      )}
    </form>
  );
}

/** What a reference shows until the server says it. */
function referenceWords({ number, text, page }: Choosable, way: Shows | "link"): string {
  switch (way) {
    case "page":
      return page;
    case "number":
      return (number.split(" ").at(-1) ?? "") || text;
    case "label":
      return number || text;
    case "way":
      return "above";
    default:
      return text.slice(0, 200);
  }
}
