/** The line above the leaves: the report's name, how far behind it is, who is here, and its PDF. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import { memo, useEffect, useState } from "react";
import { Link } from "wouter";
import { api, type Person, type ReportShown } from "../api/client";
import { useJob } from "../api/useJob";
import { Mark } from "../theme/Mark";
import { counted, howFarBehind } from "../words";
import type { Room } from "./room";
import { usePresence } from "./usePresence";
import { useRoom } from "./useRoom";
import { linesBehind } from "./view";

interface Props {
  report: ReportShown;
  title: string;
  room: Room;
  person: Person;
  rename: (title: string) => Promise<void>;
}

export const Above = memo(function Above({ report, title, room, person, rename }: Props) {
  return (
    <Flex as="header" align="center" gap="4" px="4" h="52px" bg="leaf" borderBottomWidth="1px" borderColor="edge" minW="0">
      <Link href="/" aria-label="To your shelf" title="To your shelf">
        <Mark />
      </Link>
      <Title title={title} mayChange={report.role !== "reader"} rename={rename} />
      <Behind room={room} />
      <Box flex="1" />
      <Saved room={room} mayWrite={report.role !== "reader"} />
      <Here room={room} person={person} />
      <Pdf report={report} />
    </Flex>
  );
});

function Behind({ room }: { room: Room }) {
  const view = useRoom(room, "view");
  const behind = linesBehind(view);
  if (view.tables.size === 0) return null;
  const words = howFarBehind(behind);
  // Where there is little room, the number stands alone.
  const rest = behind ? words.indexOf(" ") : 0;
  return (
    <Text
      flexShrink="0"
      fontWeight="600"
      fontSize="14px"
      color={behind ? "behindInk" : "level"}
      title={words}
      data-testid="how-far-behind"
    >
      {behind ? "◇ " : "◆ "}
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
  const keep = async () => {
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
        ref={(element) => element?.focus()}
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onBlur={() => void keep()}
        onKeyDown={(event) => {
          if (event.key === "Enter") void keep();
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

function Saved({ room, mayWrite }: { room: Room; mayWrite: boolean }) {
  const line = useRoom(room, "line");
  const unsaved = useRoom(room, "unsaved");
  const waiting = unsaved > 0;
  let words = mayWrite ? "Saved" : "You are reading";
  if (line === "opening") words = "Connecting …";
  else if (line === "lost")
    words = waiting
      ? `No connection. ${counted(unsaved, "change")} kept here until it is back`
      : "No connection. You can go on writing";
  return (
    <Text
      role="status"
      flexShrink="1"
      truncate
      hideBelow={line === "live" && !waiting ? "md" : undefined}
      fontSize="14px"
      color={line === "lost" ? "behindInk" : "quiet"}
      fontWeight={line === "lost" ? "600" : undefined}
      title={words}
      data-saved={!waiting && line === "live"}
    >
      {waiting && line === "live" ? <Saving before={words} /> : words}
    </Text>
  );
}

/** Says that something is being saved only once it takes long enough to be noticed. */
function Saving({ before }: { before: string }) {
  const [slow, setSlow] = useState(false);
  useEffect(() => {
    const timer = window.setTimeout(() => setSlow(true), 600);
    return () => window.clearTimeout(timer);
  }, []);
  return slow ? "Saving …" : before;
}

function Here({ room, person }: { room: Room; person: Person }) {
  const others = usePresence(room).filter((one) => one.id !== person.id);
  const people = [{ id: person.id, name: `${person.name} (you)`, colour: person.colour }, ...others];
  return (
    <Flex as="ul" listStyleType="none" aria-label="Who is here" flexShrink="0">
      {people.slice(0, 6).map((one) => (
        <Box
          as="li"
          key={one.id}
          title={one.name}
          aria-label={one.name}
          w="30px"
          h="30px"
          ml="-6px"
          rounded="full"
          borderWidth="2px"
          borderColor="leaf"
          color="white"
          fontSize="12px"
          fontWeight="600"
          lineHeight="26px"
          textAlign="center"
          style={{ background: one.colour }}
        >
          {initials(one.name)}
        </Box>
      ))}
      {people.length > 6 && <Text ml="2">and {people.length - 6} more</Text>}
    </Flex>
  );
}

export const initials = (name: string) =>
  name
    .replace(/ \(you\)$/, "")
    .split(/\s+/)
    .map((word) => word[0] ?? "")
    .slice(0, 2)
    .join("");

function Pdf({ report }: { report: ReportShown }) {
  const writing = useJob((job) => window.location.assign(api.fileOf(job.key)));
  if (writing.running && writing.job) {
    const share = Math.round((100 * writing.job.done) / writing.job.total);
    return (
      <Button size="sm" variant="outline" borderColor="quiet" flexShrink="0" onClick={writing.cancel} aria-label={`PDF: ${share} % written. Press to cancel`}>
        PDF {share} % · Cancel
      </Button>
    );
  }
  return (
    <>
      {writing.trouble && (
        <Text role="alert" color="gone" fontSize="13px" maxW="30ch">
          {writing.trouble}
        </Text>
      )}
      <Button
        size="sm"
        variant="outline"
        borderColor="quiet"
        flexShrink="0"
        onClick={() => void writing.begin(() => api.beginPdf(report.key))}
      >
        <span>
          <Box as="span" hideBelow="md">
            Take away a{" "}
          </Box>
          PDF
        </span>
      </Button>
    </>
  );
}
