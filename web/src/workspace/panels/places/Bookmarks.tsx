/** The places of a report that are no headings, and what leads to them: bookmarks to rename and take off, what is broken. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { counted } from "../../../words";
import type { Notify } from "../../controls/Notice";
import { useRoom } from "../../room/useRoom";
import type { Panel, PanelProps } from "../panel";
import { PlacesPanel } from "./PlacesPanel";
import { PanelTitle, Press } from "../../controls/parts";
import { useTyped } from "../../controls/useTyped";
import { changeBookmark } from "../../text-leaf/placing";
import { leadWords, type Place, type View } from "../../view";

interface Props {
  view: View;
  /** For whoever may write. */
  writer: Editor | null;
  goTo: (id: string) => void;
  notify: Notify;
}

function Bookmarks({ view, writer, goTo, notify }: Props) {
  const [words, setWords] = useState("");
  const wanted = words.trim().toLowerCase();
  const bookmarks = view.places.filter(({ kind, text }) => kind === "bookmark" && text.toLowerCase().includes(wanted));
  const broken = view.leads.filter(({ to }) => !view.reaches(to));
  return (
    <Box>
      <PanelTitle>Bookmarks</PanelTitle>
      <Text color="quiet" mb="2">
        A bookmark names words in the text, so that links and references can lead there. {writer && "Select some and press “bookmark …” beneath the text, or Alt+S and b."}
      </Text>
      {view.places.some(({ kind }) => kind === "bookmark") && (
        <Input size="xs" bg="raised" type="search" aria-label="Search bookmarks" placeholder="Search bookmarks" mb="2" value={words} onChange={(event) => setWords(event.target.value)} />
      )}
      <Box as="ul" listStyleType="none" aria-label="Bookmarks">
        {bookmarks.map((place) => (
          <Bookmark key={place.id} place={place} view={view} writer={writer} goTo={goTo} notify={notify} />
        ))}
      </Box>
      {bookmarks.length === 0 && <Text color="quiet">{wanted ? "No bookmark has these words." : "There are none yet."}</Text>}
      {broken.length > 0 && (
        <Box mt="5">
          <PanelTitle>What leads nowhere</PanelTitle>
          <Box as="ul" listStyleType="none" aria-label="What leads nowhere">
            {broken.map((lead, index) => (
              <Flex as="li" key={index} gap="2" align="baseline" py="0.5">
                <Box flex="1" minW="0" color="gone">
                  {leadWords(view, lead)}
                </Box>
                <Press type="button" onClick={() => goTo(lead.paragraph)}>
                  Go there
                </Press>
              </Flex>
            ))}
          </Box>
          <Text color="quiet" mt="1">
            The check-up says what they led to, and makes them plain words.
          </Text>
        </Box>
      )}
    </Box>
  );
}

interface BookmarkProps extends Props {
  place: Place;
}

function Bookmark({ place, view, writer, goTo, notify }: BookmarkProps) {
  const [asked, setAsked] = useState(false);
  const leading = view.leads.filter(({ to }) => to === place.id).length;
  const field = useTyped(place.text, (typed) => {
    const name = typed.replace(/\s+/g, " ").trim();
    if (writer && name) changeBookmark(writer, place.id, name);
    return Promise.resolve();
  });
  const remove = () => {
    if (leading > 0 && !asked) return setAsked(true);
    if (writer) changeBookmark(writer, place.id, null);
    notify(`The bookmark “${place.text}” is off; its words stay. Undo (Ctrl+Z) takes that back.`);
  };
  return (
    <Box as="li" py="1" borderTopWidth="1px" borderColor="edge">
      {writer ? <Input size="xs" bg="raised" maxLength={80} aria-label={`Name of the bookmark “${place.text}”`} {...field} /> : <Box>{place.text}</Box>}
      <Flex gap="1" align="center" mt="1">
        <Box as="span" color="quiet" fontVariantNumeric="tabular-nums" flex="1">
          page {view.labels[place.page - 1] ?? ""}
        </Box>
        <Press type="button" aria-label={`Go there: “${place.text}”`} onClick={() => goTo(place.id)}>
          Go there
        </Press>
        {writer && (
          <Press type="button" color="gone" aria-label={`Take off “${place.text}”`} onClick={remove}>
            Take off
          </Press>
        )}
      </Flex>
      {asked && leading > 0 && (
        <Text role="alert" color="behindInk" pt="1">
          {counted(leading, "link or reference", "links and references")} {leading === 1 ? "leads" : "lead"} here and would reach nothing. Press “Take off” again if that is meant.
        </Text>
      )}
    </Box>
  );
}

const Show = ({ room, writer, goTo, notify }: PanelProps) => (
  <PlacesPanel>
    <Bookmarks view={useRoom(room, "view")} writer={writer} goTo={goTo} notify={notify} />
  </PlacesPanel>
);

export const bookmarks: Panel = { key: "bookmarks", group: "Tables", name: "Bookmarks", Show };
