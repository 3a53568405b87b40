/** The spine: one rib per heading, stitched where the table at hand is level with it, open where it is behind. */
import { Box, Button, chakra, Flex, Input, Text } from "@chakra-ui/react";
import { memo, useMemo, useRef, useState, type RefObject } from "react";
import type { Person, ReportShown } from "../../api/client";
import { LongList } from "../../theme/LongList";
import { counted, initials, notMarked, shortened } from "../../words";

import type { Room } from "../room/room";
import type { Styles } from "../text-leaf/styles";
import type { Whereabouts } from "../text-leaf/whereabouts";
import { usePresence, type PersonHere } from "../room/usePresence";
import { useRoom } from "../room/useRoom";
import { standings, tableAtHand, unmarked, type Heading, type Standing } from "../view";
import { PageStrip } from "./PageStrip";
import { PlaceRibs, spineLists, type SpineList } from "./PlaceRibs";

const Press = chakra("button");
const STANDING = { level: "in the table", behind: "table is behind", unlisted: "not in the table" };

interface Props {
  room: Room;
  chosen: string | null;
  person: Person;
  here: Whereabouts;
  goTo: (id: string) => void;
  report: ReportShown;
  /** Marks a heading from its rib; for whoever may write. */
  mark: ((id: string, style: string) => void) | null;
  setUpPage: () => void;
  openLadder: () => void;
  filter: RefObject<HTMLInputElement | null>;
  /** Whether it is the one leaf in sight on a phone. */
  inSight: boolean;
}

export const Spine = memo(function Spine({ room, chosen, person, here, goTo, report, mark, setUpPage, openLadder, filter, inSight }: Props) {
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
            goTo={goTo}
            styles={report.styles}
            mark={mark}
          />
        )}
      </Flex>
      <Flex direction="column" align="center" flexShrink="0" w="28px" ml="-6px">
        <PageStrip view={view} here={here} goTo={goTo} />
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
          onClick={setUpPage}
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

interface RibsProps {
  ribs: readonly Heading[];
  standing: (id: string) => Standing;
  hasTable: boolean;
  current: string | null;
  people: readonly PersonHere[];
  goTo: (id: string) => void;
  styles: Styles;
  mark: Props["mark"];
}

const NOBODY: PersonHere[] = [];

const Ribs = memo(function Ribs({ ribs, standing, hasTable, current, people, goTo, styles, mark }: RibsProps) {
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const at = useMemo(() => Map.groupBy(people, (one) => one.heading), [people]);
  return (
    <Box
      ref={setScroller}
      flex="1"
      overflowY="auto"
      pb="8"
      css={{ scrollbarColor: "var(--chakra-colors-rib-quiet) transparent", scrollbarWidth: "thin" }}
    >
      <LongList
        count={ribs.length}
        scroller={scroller}
        estimate={25}
        label="Headings"
        keyOf={(index) => ribs[index]?.id ?? String(index)}
        current={current === null ? undefined : ribs.findIndex((heading) => heading.id === current)}
        row={(index, tabbable) => {
          const heading = ribs[index];
          return heading ? (
            <>
              <Rib
                heading={heading}
                standing={standing(heading.id)}
                hasTable={hasTable}
                current={heading.id === current}
                people={at.get(heading.id) ?? NOBODY}
                tabbable={tabbable}
                goTo={goTo}
              />
              {mark && heading.id === current && <Level heading={heading} styles={styles} mark={mark} />}
            </>
          ) : null;
        }}
      />
    </Box>
  );
});

/** A paragraph that is put into tables may be long. */

const BY_HAND = { "put in": "put into tables", "kept out": "kept out of tables" };

/** The level of the heading at hand, chosen on its rib. */
const Level = ({ heading, styles, mark }: { heading: Heading; styles: Styles; mark: (id: string, style: string) => void }) => (
  <select
    className="rib-level"
    // Keys have Alt+S and a digit for it; Tab leads on to the text.
    tabIndex={-1}
    aria-label={`Level of “${heading.text}”`}
    title="Its level"
    value=""
    onChange={(event) => mark(heading.id, event.target.value)}
  >
    <option value="" disabled>
      {heading.by_hand === "put in" ? "¶" : `H${heading.level}`}
    </option>
    {styles
      .filter((style) => style.outline_level || style.role === "body")
      .map((style) => (
        <option key={style.id} value={style.id}>
          {style.name}
        </option>
      ))}
  </select>
);

interface RibProps {
  heading: Heading;
  standing: Standing;
  hasTable: boolean;
  current: boolean;
  people: PersonHere[];
  tabbable: boolean;
  goTo: (id: string) => void;
}

const Rib = memo(
  function Rib({ heading, standing, hasTable, current, people, tabbable, goTo }: RibProps) {
    return (
        <button
          type="button"
          className={hasTable && standing === "unlisted" ? "rib no-line" : "rib"}
          data-rib={heading.id}
          tabIndex={tabbable ? 0 : -1}
          data-level={heading.level}
          data-standing={standing}
          aria-current={current ? "location" : undefined}
          title={[
            ...people.map((one) => `${one.name} is here`),
            ...(hasTable ? [STANDING[standing]] : []),
          ].join(", ")}
          onClick={() => goTo(heading.id)}
        >
          {hasTable && <Stitch standing={standing} />}
          <span className="words" style={{ paddingLeft: `${(heading.level - 1) * 11 + (hasTable ? 0 : 14)}px` }}>
            {heading.number && <span className="number">{heading.number} </span>}
            {heading.by_hand === "put in" ? shortened(heading.text, 60) : heading.text}{" "}
            {heading.by_hand && <span className="by-hand">{BY_HAND[heading.by_hand]}</span>}
          </span>
          {people.map((one) => (
            <span key={one.id} className="bead" title={`${one.name} is here`} style={{ background: one.colour }}>
              {initials(one.name)}
            </span>
          ))}
          <span className="page">{heading.label}</span>
        </button>
    );
  },
  (before, now) =>
    before.heading.text === now.heading.text &&
    before.heading.number === now.heading.number &&
    before.heading.label === now.heading.label &&
    before.heading.level === now.heading.level &&
    before.heading.id === now.heading.id &&
    before.heading.by_hand === now.heading.by_hand &&
    before.standing === now.standing &&
    before.hasTable === now.hasTable &&
    before.current === now.current &&
    before.tabbable === now.tabbable &&
    before.goTo === now.goTo &&
    before.people.map((one) => one.id).join() === now.people.map((one) => one.id).join(),
);

/** A stitch: closed where the table is level with the heading, an open loop where it is behind. */
function Stitch({ standing }: { standing: Standing }) {
  const closed = standing === "level";
  return (
    <svg className="stitch" aria-hidden>
      {standing === "unlisted" ? null : closed ? (
        <path d="M4.5 2 V12" stroke="currentColor" strokeWidth="2.5" strokeLinecap="round" />
      ) : (
        <path d="M6.5 1.5 C-0.500 4 -0.500 10 6.5 12.5" stroke="currentColor" strokeWidth="2" fill="none" strokeLinecap="round" />
      )}
    </svg>
  );
}
