/** The spine: one rib per heading, stitched where the table at hand is level with it, open where it is behind. */
import { Box, Button, chakra, Flex, Input, Text } from "@chakra-ui/react";
import { memo, useDeferredValue, useEffect, useMemo, useRef, useState, type RefObject } from "react";
import type { Person } from "../../api/client";
import { counted } from "../../words";
import { initials } from "../Above";
import type { Room } from "../room";
import type { Whereabouts } from "../text-leaf/whereabouts";
import { usePresence, type PersonHere } from "../usePresence";
import { standings, type Heading, type Standing, type Table, type View } from "../view";
import { PageStrip } from "./PageStrip";

const Press = chakra("button");
const STANDING = { level: "in the table", behind: "table is behind", unlisted: "not in the table" };

interface Props {
  view: View;
  table: Table | undefined;
  room: Room;
  person: Person;
  here: Whereabouts;
  goTo: (id: string) => void;
  filter: RefObject<HTMLInputElement | null>;
  shown: "table" | "text";
  show: (leaf: "table" | "text") => void;
}

export function Spine({ view, table, room, person, here, goTo, filter, shown, show }: Props) {
  const [words, setWords] = useState("");
  const [deepest, setDeepest] = useState(9);
  const wanted = useDeferredValue(words.trim().toLowerCase());
  const standing = useMemo(() => standings(table), [table]);
  const others = usePresence(room).filter((one) => one.id !== person.id);
  const levels = useMemo(() => new Set(view.headings.map((heading) => heading.level)), [view.headings]);
  const ribs = useMemo(
    () =>
      view.headings.filter(
        (heading) =>
          (wanted ? `${heading.number} ${heading.text}`.toLowerCase().includes(wanted) : heading.level <= deepest),
      ),
    [view.headings, wanted, deepest],
  );
  const list = useRef<HTMLOListElement>(null);
  const current = nearest(view.headings, here.heading, ribs);

  useEffect(() => {
    if (!current || list.current?.contains(document.activeElement)) return;
    const rib = list.current?.querySelector(`[data-rib="${CSS.escape(current)}"]`);
    rib?.scrollIntoView({ block: "nearest" });
  }, [current]);

  const step = (event: React.KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!by) return;
    const all = [...(list.current?.querySelectorAll<HTMLElement>("[data-rib]") ?? [])];
    const at = all.indexOf(document.activeElement as HTMLElement);
    event.preventDefault();
    (all[at + by] ?? (at < 0 ? all[0] : undefined))?.focus();
  };

  return (
    <Flex as="nav" aria-label="Spine" bg="spine" color="rib" minH="0" gridRow="1" gridColumn={{ base: "1", lg: "auto" }}>
      <Flex direction="column" flex="1" minW="0">
        <Flex gap="1" p="2" hideFrom="lg" role="group" aria-label="Leaf in sight">
          {(["table", "text"] as const).map((leaf) => (
            <Button
              key={leaf}
              size="xs"
              flex="1"
              aria-pressed={shown === leaf}
              bg={shown === leaf ? "rib" : "transparent"}
              color={shown === leaf ? "spine" : "rib"}
              borderWidth="1px"
              borderColor="ribQuiet"
              onClick={() => show(leaf)}
            >
              {leaf === "table" ? "Table" : "Text"}
            </Button>
          ))}
        </Flex>
        <Box px="3" pt="3" pb="2">
          <Input
            ref={filter}
            size="xs"
            type="search"
            aria-label="Filter the spine"
            placeholder="Filter headings"
            bg="transparent"
            borderColor="ribQuiet"
            color="rib"
            _placeholder={{ color: "ribQuiet" }}
            _focusVisible={{ outlineColor: "rib" }}
            value={words}
            onChange={(event) => setWords(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Escape") setWords("");
              step(event);
            }}
          />
          <Flex justify="space-between" mt="2" align="center" fontSize="12px" color="ribQuiet">
            <Text>{wanted ? `${ribs.length} of ${counted(view.headings.length, "heading")}` : counted(view.pages, "page")}</Text>
            {levels.size > 1 && !wanted && (
              <Flex gap="0.5" role="group" aria-label="Fold the spine below level">
                {[...levels].sort().map((level) => (
                  <Press
                    key={level}
                    type="button"
                    w="20px"
                    h="20px"
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
        <Box
          as="ol"
          ref={list}
          listStyleType="none"
          flex="1"
          overflowY="auto"
          pb="8"
          onKeyDown={step}
          css={{ scrollbarColor: "var(--chakra-colors-rib-quiet) transparent", scrollbarWidth: "thin" }}
        >
          {ribs.map((heading) => (
            <Rib
              key={heading.id}
              heading={heading}
              standing={table ? standing(heading.id) : "unlisted"}
              hasTable={table !== undefined}
              current={heading.id === current}
              people={others.filter((one) => one.heading === heading.id)}
              goTo={goTo}
            />
          ))}
        </Box>
        {view.headings.length === 0 && (
          <Text px="4" py="2" color="ribQuiet" fontSize="14px">
            No headings yet. Mark one with the tag beside a paragraph, or press Alt+S and then 1.
          </Text>
        )}
        {wanted && ribs.length === 0 && (
          <Text px="4" py="2" color="ribQuiet" fontSize="14px">
            No heading has these words.
          </Text>
        )}
      </Flex>
      <PageStrip view={view} here={here} goTo={goTo} />
    </Flex>
  );
}

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

interface RibProps {
  heading: Heading;
  standing: Standing;
  hasTable: boolean;
  current: boolean;
  people: PersonHere[];
  goTo: (id: string) => void;
}

const Rib = memo(
  function Rib({ heading, standing, hasTable, current, people, goTo }: RibProps) {
    return (
      <Box as="li" css={{ contentVisibility: "auto", containIntrinsicSize: "auto 28px" }}>
        <Press
          type="button"
          data-rib={heading.id}
          data-standing={standing}
          aria-current={current ? "location" : undefined}
          display="flex"
          w="100%"
          textAlign="left"
          alignItems="baseline"
          gap="1.5"
          pr="2"
          py="3px"
          fontSize="13.5px"
          lineHeight="1.3"
          position="relative"
          bg={current ? "whiteAlpha.200" : undefined}
          color={standing === "unlisted" && hasTable ? "ribQuiet" : "rib"}
          fontWeight={heading.level === 1 ? "600" : "400"}
          transition="padding 150ms, background 150ms"
          _hover={{ bg: "whiteAlpha.200" }}
          _focusVisible={{ outlineColor: "rib", outlineOffset: "-2px" }}
          style={{ paddingLeft: `${18 + (heading.level - 1) * 11}px` }}
          onClick={() => goTo(heading.id)}
        >
          {hasTable && <Stitch standing={standing} />}
          <Box as="span" flex="1" minW="0" lineClamp="2" overflowWrap="anywhere" title={heading.text}>
            {heading.number && (
              <Box as="span" mr="1.5" fontVariantNumeric="tabular-nums">
                {heading.number}
              </Box>
            )}
            {heading.text}
          </Box>
          {people.map((one) => (
            <Box
              as="span"
              key={one.id}
              title={`${one.name} is here`}
              alignSelf="center"
              flexShrink="0"
              rounded="full"
              w="18px"
              h="18px"
              fontSize="9px"
              lineHeight="16px"
              textAlign="center"
              fontWeight="700"
              color="white"
              borderWidth="1px"
              borderColor="rib"
              style={{ background: one.colour }}
            >
              <span aria-hidden>{initials(one.name)}</span>
              <Box as="span" srOnly>
                {one.name} is here
              </Box>
            </Box>
          ))}
          <Box as="span" flexShrink="0" color="ribQuiet" fontVariantNumeric="tabular-nums" fontWeight="400">
            <Box as="span" srOnly>
              {hasTable ? `${STANDING[standing]}, page ` : "page "}
            </Box>
            {heading.label}
          </Box>
        </Press>
      </Box>
    );
  },
  (before, now) =>
    before.heading.text === now.heading.text &&
    before.heading.number === now.heading.number &&
    before.heading.label === now.heading.label &&
    before.heading.level === now.heading.level &&
    before.heading.id === now.heading.id &&
    before.standing === now.standing &&
    before.hasTable === now.hasTable &&
    before.current === now.current &&
    before.goTo === now.goTo &&
    before.people.map((one) => one.id).join() === now.people.map((one) => one.id).join(),
);

/** A stitch: closed where the table is level with the heading, an open loop where it is behind. */
function Stitch({ standing }: { standing: Standing }) {
  if (standing === "unlisted") return null;
  const closed = standing === "level";
  return (
    <Box
      as="svg"
      aria-hidden
      position="absolute"
      left="4px"
      top="50%"
      mt="-7px"
      w="9px"
      h="14px"
      color={closed ? "levelOnSpine" : "behindOnSpine"}
    >
      {closed ? (
        <path d="M4.5 2 V12" stroke="currentColor" strokeWidth="2.5" strokeLinecap="round" />
      ) : (
        <path d="M6.5 1.5 C-0.500 4 -0.500 10 6.5 12.5" stroke="currentColor" strokeWidth="2" fill="none" strokeLinecap="round" />
      )}
    </Box>
  );
}
