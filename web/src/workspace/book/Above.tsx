/** The line above the leaves: the report's name, how far behind it is, who is here, and taking it away. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { memo, useEffect, useRef, useState, useSyncExternalStore } from "react";
import { Link } from "wouter";
import { focusWhenItAppears } from "../../theme/focus";
import { type Person, type ReportShown } from "../../api/client";
import { Disc } from "../../theme/Disc";
import { Mark } from "../../theme/Mark";
import { counted, howFarBehind, NOTHING_TO_LIST } from "../../words";
import type { Room, RoomState } from "../room/room";
import { usePresence } from "../room/usePresence";
import { useRoom } from "../room/useRoom";
import { isEmpty, linesBehind } from "../view";
import { TakeAway } from "./TakeAway";

interface Props {
  report: ReportShown;
  room: Room;
  person: Person;
  mayWrite: boolean;
  rename: (title: string) => Promise<void>;
}

export const Above = memo(function Above({ report, room, person, mayWrite, rename }: Props) {
  const [slot, setSlot] = useState<HTMLElement | null>(null);
  return (
    <>
      <Flex as="header" align="center" gap="4" px="4" h="52px" bg="leaf" borderBottomWidth="1px" borderColor="edge" minW="0">
      <Link href="/" aria-label="To your shelf" title="To your shelf">
        <Mark />
      </Link>
      <Title title={report.title} mayChange={mayWrite} rename={rename} />
      <Behind room={room} />
      <Box flex="1" />
      <Saved room={room} mayWrite={mayWrite} />
      <Here room={room} person={person} />
      <TakeAway report={report} room={room} slot={slot} />
      </Flex>
      <Box ref={setSlot} />
    </>
  );
});

function Behind({ room }: { room: Room }) {
  const view = useRoom(room, "view");
  const behind = linesBehind(view);
  if (view.tables.size === 0) return null;
  const empty = [...view.tables.values()].every(isEmpty);
  const words = empty ? NOTHING_TO_LIST : howFarBehind(behind);
  // Where there is little room, the number stands alone.
  const rest = behind ? words.indexOf(" ") : 0;
  return (
    <Text
      flexShrink="0"
      fontWeight="600"
      fontSize="14px"
      color={behind ? "behindInk" : empty ? "quiet" : "level"}
      title={words}
      data-testid="how-far-behind"
    >
      {!empty && (behind ? "◇ " : "◆ ")}
      {words.slice(0, rest)}
      <Box as="span" hideBelow="md">
        {words.slice(rest)}
      </Box>
    </Text>
  );
}

function Title({ title, mayChange, rename }: { title: string; mayChange: boolean; rename: Props["rename"] }) {
  const [draft, setDraft] = useState<string | null>(null);
  const [trouble, setTrouble] = useState("");
  if (draft === null || !mayChange) {
    return (
      <Text
        asChild={mayChange}
        fontFamily="heading"
        fontSize="19px"
        fontWeight="600"
        truncate
        minW="0"
        title={title}
        cursor={mayChange ? "text" : undefined}
      >
        {mayChange ? (
          <button type="button" aria-label={`Report: ${title}. Press to change the name`} onClick={() => setDraft(title)}>
            {title}
          </button>
        ) : (
          title
        )}
      </Text>
    );
  }
  const save = async () => {
    const name = draft.trim();
    if (name && name !== title) {
      try {
        await rename(name);
      } catch (error) {
        setTrouble((error as Error).message);
        return;
      }
    }
    setTrouble("");
    setDraft(null);
  };
  return (
    <Box flex="1" maxW="480px">
      <Input
        size="sm"
        aria-label="Name of the report"
        maxLength={300}
        ref={focusWhenItAppears}
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => void save()}
        onKeyDown={(event) => {
          if (event.key === "Enter") void save();
          if (event.key === "Escape") setDraft(null);
        }}
      />
      {trouble && (
        <Text role="alert" color="gone" fontSize="13px">
          {trouble}
        </Text>
      )}
    </Box>
  );
}

/** How long it may take to save before it is said that it is being saved, in milliseconds. */
const NOTICED = 600;

/** What is said of how far the text is saved. Nothing changes while each key is saved as quickly as it should be. */
function Saved({ room, mayWrite }: { room: Room; mayWrite: boolean }) {
  const [slow, setSlow] = useState(false);
  const words = useSyncExternalStore(room.subscribe, () => savedWords(room.state, mayWrite, slow));
  const troubled = useSyncExternalStore(room.subscribe, () => isTroubled(room.state));
  const element = useRef<HTMLParagraphElement>(null);
  useEffect(() => {
    let timer: number | undefined;
    const look = () => {
      const { line, unsaved } = room.state;
      const saved = String(line === "live" && unsaved === 0);
      // Written past React: it would go through all of the text for each of these.
      if (element.current && element.current.dataset.saved !== saved) element.current.dataset.saved = saved;
      if (unsaved === 0) {
        window.clearTimeout(timer);
        timer = undefined;
        setSlow(false);
      } else timer ??= window.setTimeout(() => setSlow(true), NOTICED);
    };
    look();
    const stop = room.subscribe(look);
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [room]);
  return (
    <Text
      ref={element}
      role="status"
      flexShrink="1"
      truncate
      hideBelow={troubled || slow ? undefined : "md"}
      fontSize="14px"
      color={troubled ? "behindInk" : "quiet"}
      fontWeight={troubled ? "600" : undefined}
      title={words}
    >
      {words}
    </Text>
  );
}

const isTroubled = ({ line, unsaved, saving }: RoomState) => line === "lost" || line === "stuck" || (unsaved > 0 && !saving);

function savedWords({ line, unsaved, saving }: RoomState, mayWrite: boolean, slow: boolean): string {
  if (line === "opening") return "Connecting …";
  if (line === "stuck" || (mayWrite && unsaved > 0 && !saving)) return `${counted(unsaved, "change")} not saved`;
  if (line === "lost")
    return unsaved > 0
      ? `No connection. ${counted(unsaved, "change")} kept here until it is back`
      : "No connection. You can go on writing";
  if (!mayWrite) return "You are reading";
  return slow ? "Saving …" : "Saved";
}

function Here({ room, person }: { room: Room; person: Person }) {
  const others = usePresence(room).filter((one) => one.id !== person.id);
  const people = [{ id: person.id, name: `${person.name} (you)`, colour: person.colour }, ...others];
  return (
    <Flex as="ul" listStyleType="none" aria-label="Who is here" flexShrink="0">
      {people.slice(0, 6).map((one) => (
        <Box as="li" key={one.id} aria-label={one.name} ml="-6px" rounded="full" borderWidth="2px" borderColor="leaf">
          <Disc name={one.name} colour={one.colour} size={26} />
        </Box>
      ))}
      {people.length > 6 && <Text ml="2">and {people.length - 6} more</Text>}
    </Flex>
  );
}
