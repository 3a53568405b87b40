/** The spine: one rib per heading, stitched where the table at hand is level with it, open where it is behind. */
import { Box, Button, chakra, Flex, Input, Text } from "@chakra-ui/react";
import { memo, useCallback, useMemo, useRef, useState, type RefObject } from "react";
import type { Person, ReportShown } from "../../api/client";
import { counted, notMarked } from "../../words";

import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import type { Sections } from "../text-leaf/sections";
import type { Whereabouts } from "../text-leaf/whereabouts";
import { usePresence } from "../room/usePresence";
import { useRoom } from "../room/useRoom";
import { standings, tableAtHand, unmarked, type Heading } from "../view";
import { PageStrip } from "./PageStrip";
import { Ribs } from "./Ribs";
import { PlaceRibs, spineLists, type SpineList } from "./PlaceRibs";
import { useKept } from "./useKept";
import { useNews } from "./useNews";

const Press = chakra("button");

interface Props {
  room: Room;
  chosen: string | null;
  person: Person;
  here: Whereabouts;
  goTo: (id: string) => void;
  report: ReportShown;
  /** Marks a heading from its rib; for whoever may write. */
  mark: ((id: string, style: string) => void) | null;
  /** What rearranges sections; for whoever may write. */
  sections: Sections | null;
  chooseRibs: (ids: readonly string[]) => void;
  /** Shows how the page is set up, or that of a part. */
  setUpPage: (part?: string) => void;
  toPanel: (panel: string) => void;
  /** Whether the exact pages are shown in the place of the text; and the way to them, or back. */
  proofShown: boolean;
  toProof: () => void;
  notify: Notify;
  ready: boolean;
  openLadder: () => void;
  filter: RefObject<HTMLInputElement | null>;
  /** Whether it is the one leaf in sight on a phone. */
  inSight: boolean;
}

export const Spine = memo(function Spine({ room, chosen, person, here, goTo, report, mark, sections, chooseRibs, setUpPage, toPanel, proofShown, toProof, notify, ready, openLadder, filter, inSight }: Props) {
  const view = useRoom(room, "view");
  const table = view.tables.get(tableAtHand(view, chosen) ?? "");
  const [words, setWords] = useState("");
  const [deepest, setDeepest] = useState(9);
  const lists = useMemo(() => spineLists(view, report), [view, report]);
  const [asked, setAsked] = useState<SpineList>("headings");
  const list = lists.some(([one]) => one === asked) ? asked : "headings";
  const wanted = words.trim().toLowerCase();
  const standing = useMemo(() => standings(table), [table]);
  const everyone = usePresence(room);
  const others = useMemo(() => everyone.filter((one) => one.id !== person.id), [everyone, person.id]);
  const levels = useMemo(() => new Set(view.headings.map((heading) => heading.level)), [view.headings]);
  const ribs = useMemo(
    () =>
      view.headings.filter(
        (heading) =>
          (wanted ? `${heading.number} ${heading.text}`.toLowerCase().includes(wanted) : heading.level <= deepest),
      ),
    [view.headings, wanted, deepest],
  );
  const byHand = unmarked(view.looks);
  const news = useNews(report.key, person.id, ready, here.heading);
  const toHappened = useCallback(() => toPanel("happened"), [toPanel]);
  useKept(view.kept, person.id, toHappened, notify);
  const spine = useRef<HTMLDivElement>(null);
  const current = nearest(view.headings, here.heading, ribs);

  /** From the filter, the arrow leads down to the first rib. */
  const toRibs = (event: React.KeyboardEvent) => {
    if (event.key !== "ArrowDown") return;
    event.preventDefault();
    spine.current?.querySelector<HTMLElement>("[data-rib]")?.focus();
  };

  return (
    <Flex
      as="nav"
      aria-label="Spine"
      display={{ base: inSight ? "flex" : "none", md: "flex" }}
      bg="spine"
      color="rib"
      minH="0"
      gridRow="1"
      gridColumn={{ base: "1", lg: "auto" }}
    >
      <Flex ref={spine} direction="column" flex="1" minW="0">
        <Box px="3" pt="3" pb="2">
          {lists.length > 1 && (
            <select className="spine-list" aria-label="What the spine shows" value={list} onChange={(event) => setAsked(event.target.value)}>
              {lists.map(([one, name]) => (
                <option key={one} value={one}>
                  {name}
                </option>
              ))}
            </select>
          )}
          <Input
            ref={filter}
            size="xs"
            type="search"
            aria-label="Filter the spine"
            placeholder={list === "headings" ? "Filter headings" : "Filter"}
            bg="transparent"
            borderColor="ribQuiet"
            color="rib"
            _placeholder={{ color: "ribQuiet" }}
            _focusVisible={{ outlineColor: "rib" }}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") setWords("");
              toRibs(event);
            }}
          />
          <Flex justify="space-between" mt="2" align="center" fontSize="12px" color="ribQuiet">
            <Text>{wanted && list === "headings" ? `${ribs.length} of ${counted(view.headings.length, "heading")}` : counted(view.labels.length, "page")}</Text>
            {list === "headings" && levels.size > 1 && !wanted && (
              <Flex role="group" aria-label="Fold the spine below level" wrap="wrap" justify="end">
                {[...levels].sort().map((level) => (
                  <Press
                    key={level}
                    type="button"
                    w="24px"
                    h="24px"
                    rounded="sm"
                    fontWeight="600"
                    aria-label={`Show levels 1 to ${level}`}
                    aria-pressed={deepest === level || (deepest > level && level === Math.max(...levels))}
                    _pressed={{ bg: "rib", color: "spine" }}
                    _hover={{ bg: "whiteAlpha.300" }}
                    _focusVisible={{ outlineColor: "rib" }}
                    onClick={() => setDeepest(level)}
                  >
                    {level}
                  </Press>
                ))}
              </Flex>
            )}
          </Flex>
        </Box>
        {view.headings.length === 0 && byHand === 0 && (
          <Text px="4" py="2" color="ribQuiet" fontSize="14px">
            No headings yet. Mark one with the tag beside a paragraph, or press Alt+S and then 1.
          </Text>
        )}
        {list === "headings" && byHand > 0 && mark && (
          <Box px="3" py={view.headings.length ? "1" : "2"} fontSize="14px" color="rib">
            {view.headings.length === 0 && <Text mb="2">{notMarked(byHand)}</Text>}
            <Button size="xs" w="100%" bg="rib" color="spine" _focusVisible={{ outlineColor: "rib" }} title={notMarked(byHand)} onClick={openLadder}>
              {view.headings.length === 0 ? "See them on the ladder" : `◇ ${counted(byHand, "heading")} made by hand`}
            </Button>
          </Box>
        )}
        {list === "headings" && (news.count > 0 || view.kept.length > 0) && (
          <Box px="3" py="1" fontSize="14px">
            <Press
              type="button"
              className="news-count"
              _focusVisible={{ outlineColor: "rib" }}
              title="What happened since you were last here"
              onClick={toHappened}
            >
              {view.kept.length === 0 ? `${counted(news.count, "section")} changed` : news.count === 0 ? "Kept words" : `${news.count} changed · kept words`}
            </Press>
          </Box>
        )}
        {list !== "headings" && <PlaceRibs key={list} view={view} report={report} list={list} wanted={wanted} goTo={goTo} />}
        {list === "headings" && wanted && ribs.length === 0 && (
          <Text px="4" py="2" color="ribQuiet" fontSize="14px">
            No heading has these words.
          </Text>
        )}
        {list === "headings" && (
          <Ribs
            ribs={ribs}
            standing={standing}
            hasTable={table !== undefined}
            current={current}
            people={others}
            news={news.of}
            goTo={goTo}
            styles={report.styles}
            mark={mark}
            sections={wanted ? null : sections}
            choose={chooseRibs}
          />
        )}
      </Flex>
      <Flex direction="column" align="center" flexShrink="0" w="28px" ml="-6px">
        <PageStrip report={report} view={view} here={here} goTo={goTo} setUpPage={setUpPage} />
        <Press
          type="button"
          mb="1"
          w="24px"
          h="24px"
          rounded="sm"
          display="grid"
          placeItems="center"
          tabIndex={-1}
          aria-label="Proof: the exact pages"
          title="Proof: the exact pages (Alt+S p)"
          aria-pressed={proofShown}
          borderWidth="1px"
          borderColor="ribQuiet"
          _pressed={{ bg: "rib", color: "spine" }}
          _hover={{ bg: "whiteAlpha.300" }}
          _focusVisible={{ outlineColor: "rib" }}
          onClick={toProof}
        >
          <svg viewBox="0 0 16 12" width="16" height="12" aria-hidden fill="none" stroke="currentColor">
            <path d="M1.5 1.5 H7.5 V10.5 H1.5 Z M8.5 1.5 H14.5 V10.5 H8.5 Z M3 4 H6 M3 6 H6 M10 4 H13 M10 6 H13 M10 8 H12" />
          </svg>
        </Press>
        <Press
          type="button"
          mb="2"
          w="24px"
          h="24px"
          rounded="sm"
          fontSize="12px"
          fontWeight="600"
          // Keys come to it by way of the left leaf; Tab leads on to the text.
          tabIndex={-1}
          aria-label="Page set-up and page numbers"
          title="Page set-up and page numbers"
          borderWidth="1px"
          borderColor="ribQuiet"
          _hover={{ bg: "whiteAlpha.300" }}
          _focusVisible={{ outlineColor: "rib" }}
          onClick={() => setUpPage()}
        >
          №
        </Press>
      </Flex>
    </Flex>
  );
});

/** The rib to light up: the heading at hand, or the last one above it that is shown. */
function nearest(all: readonly Heading[], id: string | null, shown: readonly Heading[]): string | null {
  if (id === null) return null;
  const visible = new Set(shown.map((heading) => heading.id));
  let found: string | null = null;
  for (const heading of all) {
    if (visible.has(heading.id)) found = heading.id;
    if (heading.id === id) return found;
  }
  return found;
}
