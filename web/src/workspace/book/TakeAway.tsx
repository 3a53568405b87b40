/** Takes the report away as a file: in which format, what that will not have as it is here, and how far it is written. It unfolds beneath
 * the line above the leaves, which make room for it. */
import { Box, Button, chakra, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useId, useRef, useState, type ReactNode } from "react";
import { createPortal } from "react-dom";
import { api, type Extent, type Format, type ReportShown } from "../../api/client";
import { useJob } from "../../api/useJob";
import { counted } from "../../words";
import { Press } from "../controls/parts";
import { partsOf } from "../controls/partsOf";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";

interface Way {
  ending: Format;
  name: string;
  /** As what the file is spoken of. */
  file: string;
  what: string;
}

const WAYS: readonly Way[] = [
  { ending: "pdf", name: "PDF", file: "PDF", what: "The pages as they are in the proof, with links, outline, page labels, and tags for those who do not see them." },
  {
    ending: "docx",
    name: "Office Open XML",
    file: ".docx",
    what: "For others to go on with: styles, numbers, notes, references, and tables that their programs refresh. It can be brought in again.",
  },
  { ending: "html", name: "Web page", file: ".html", what: "One page that stands alone, with its pictures in it." },
  { ending: "md", name: "Markdown", file: ".md", what: "The words with their structure, as plain text." },
  { ending: "txt", name: "Plain text", file: ".txt", what: "The words, with numbers and page numbers." },
];

const Choice = chakra("label", {
  base: {
    display: "flex",
    alignItems: "center",
    gap: "2",
    px: "2",
    py: "3px",
    rounded: "sm",
    cursor: "pointer",
    whiteSpace: "nowrap",
    _hover: { bg: "raised" },
    "&:has(input:checked)": { bg: "raised", fontWeight: "600" },
  },
});

interface Props {
  report: ReportShown;
  room: Room;
  /** Where it unfolds. */
  slot: HTMLElement | null;
}

export function TakeAway({ report, room, slot }: Props) {
  const [open, setOpen] = useState(false);
  const [way, setWay] = useState<Way>(WAYS[0] as Way);
  const [extent, setExtent] = useState(ALL);
  const button = useRef<HTMLButtonElement>(null);
  const id = useId();
  const close = () => {
    setOpen(false);
    button.current?.focus();
  };
  const writing = useJob((job) => {
    window.location.assign(api.fileOf(job.key));
    close();
  });
  const share = writing.running && writing.job ? Math.round((100 * writing.job.done) / writing.job.total) : null;
  return (
    <>
      <Button
        ref={button}
        size="sm"
        variant="outline"
        borderColor="quiet"
        flexShrink="0"
        aria-expanded={open}
        aria-controls={open ? id : undefined}
        onClick={() => setOpen(!open)}
      >
        {share === null ? "Take away" : `${way.file} ${share} %`}
      </Button>
      {open &&
        slot &&
        createPortal(
          <Slip id={id} close={close}>
            <Box flex="0 0 auto">
              <Ways chosen={way} choose={setWay} disabled={writing.running} />
              <Extents report={report} room={room} chosen={extent} choose={setExtent} disabled={writing.running} />
            </Box>
            <Box flex="1 1 340px" minW="0">
              <Text>{way.what}</Text>
              <NotCarried report={report.key} way={way} extent={extent} />
            </Box>
            <Flex direction="column" gap="2" align="stretch" flex="0 0 auto" minW="150px">
              {share === null ? (
                <Button size="sm" bg="iris" color="leaf" onClick={() => void writing.begin(() => api.beginFile(report.key, way.ending, ...meant(extent)))}>
                  Write the {way.file}
                </Button>
              ) : (
                <>
                  <Box role="progressbar" aria-label={`${way.file} being written`} aria-valuenow={share} bg="raised" h="6px" rounded="sm" overflow="hidden">
                    <Box h="full" bg="iris" style={{ width: `${share}%` }} />
                  </Box>
                  <Press type="button" justifyContent="center" onClick={writing.cancel}>
                    Cancel, {share} % written
                  </Press>
                </>
              )}
              <Press type="button" justifyContent="center" onClick={close}>
                Close
              </Press>
              {writing.trouble && (
                <Text role="alert" color="gone" maxW="26ch">
                  {writing.trouble}
                </Text>
              )}
            </Flex>
          </Slip>,
          slot,
        )}
    </>
  );
}

/** What of the report is meant, as the value of a choice: a kind, and behind a space which of these. */
const ALL = "all";

const meant = (extent: string): [kind: Extent, of: string] => {
  const [kind, of = ""] = extent.split(" ");
  return [kind as Extent, of];
};

interface ExtentsProps {
  report: ReportShown;
  room: Room;
  chosen: string;
  choose: (extent: string) => void;
  disabled: boolean;
}

/** All of the report, its tables alone, a part or a section of it. */
function Extents({ report, room, chosen, choose, disabled }: ExtentsProps) {
  const view = useRoom(room, "view");
  const parts = partsOf(report, view);
  const sections = view.headings.filter(({ by_hand }) => by_hand !== "put in");
  const known = [ALL, "tables", ...parts.map(({ id }) => `part ${id}`), ...sections.map(({ id }) => `section ${id}`)];
  // What was chosen may be gone by now.
  const value = known.includes(chosen) ? chosen : ALL;
  return (
    <Flex asChild align="center" gap="2" mt="2" px="2">
      <label>
        What of it
        <chakra.select
          flex="1"
          minW="0"
          maxW="230px"
          h="26px"
          borderWidth="1px"
          borderColor="edge"
          rounded="sm"
          bg="raised"
          disabled={disabled}
          value={value}
          onChange={(event) => choose(event.target.value)}
        >
          <option value={ALL}>All of the report</option>
          {view.tables.size > 0 && <option value="tables">Its tables alone</option>}
          {parts.length > 1 && (
            <optgroup label="A part">
              {parts.map(({ id, name, numbers }) => (
                <option key={id} value={`part ${id}`}>
                  {name}, {numbers}
                </option>
              ))}
            </optgroup>
          )}
          {sections.length > 0 && (
            <optgroup label="A section">
              {sections.map(({ id, level, number, text }) => (
                <option key={id} value={`section ${id}`}>
                  {"\u2003".repeat(level - 1) + `${number} ${text}`.trim()}
                </option>
              ))}
            </optgroup>
          )}
        </chakra.select>
      </label>
    </Flex>
  );
}

function Slip({ id, close, children }: { id: string; close: () => void; children: ReactNode }) {
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => element.current?.querySelector<HTMLInputElement>("input:checked")?.focus(), []);
  return (
    <Flex
      ref={element}
      id={id}
      as="section"
      aria-label="Take away"
      gap={{ base: "3", md: "5" }}
      px="4"
      py="3"
      wrap="wrap"
      align="flex-start"
      bg="tableLeaf"
      borderBottomWidth="1px"
      borderColor="edge"
      fontSize="13px"
      maxH="45vh"
      overflowY="auto"
      onKeyDown={(event) => {
        if (event.key === "Escape") close();
      }}
    >
      {children}
    </Flex>
  );
}

function Ways({ chosen, choose, disabled }: { chosen: Way; choose: (way: Way) => void; disabled: boolean }) {
  const name = useId();
  return (
    <chakra.fieldset disabled={disabled}>
      <chakra.legend fontFamily="heading" fontSize="17px" mb="1">
        Take away as
      </chakra.legend>
      <Box display="grid" gridTemplateColumns="repeat(2, auto)" columnGap="1">
        {WAYS.map((way) => (
          <Choice key={way.ending}>
            <input type="radio" name={name} checked={way === chosen} onChange={() => choose(way)} />
            <span>
              {way.name}
              {way.name !== way.file && (
                <Box as="span" color="quiet" fontWeight="400">
                  {" "}
                  {way.file}
                </Box>
              )}
            </span>
          </Choice>
        ))}
      </Box>
    </chakra.fieldset>
  );
}

/** What of the report the file will not have as it is. */
function NotCarried({ report, way, extent }: { report: string; way: Way; extent: string }) {
  const found = useQuery({
    queryKey: ["report", report, "told", way.ending, extent],
    queryFn: () => api.toldOfFile(report, way.ending, ...meant(extent)),
    gcTime: 0,
    retry: false,
  });
  if (found.isError) return <Text color="gone">{found.error.message}</Text>;
  if (!found.data) return <Text color="quiet">Looking at what is in the report …</Text>;
  if (found.data.length === 0) return <Text color="quiet">{extent === ALL ? "All of the report is in it." : "All of it is in the file as here."}</Text>;
  return (
    <>
      <Text mt="1" fontWeight="600">
        {counted(found.data.length, "thing")} will not be in it as here:
      </Text>
      <Box as="ul" aria-label="What the file will not have as it is here" pl="4" listStyleType="disc">
        {found.data.map(({ what, instead, count }) => (
          <li key={what}>
            {what}
            {count > 1 && `, ${count.toLocaleString("en-GB")}`}: {instead}
          </li>
        ))}
      </Box>
    </>
  );
}
