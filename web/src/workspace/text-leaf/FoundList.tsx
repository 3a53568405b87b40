/** Places that were found in the text, each with the words around it, to take or to leave. */
import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { LongList } from "../../theme/LongList";
import { api, type FoundWords, type ToFind } from "../../api/client";
import { counted } from "../../words";
import type { Room } from "../room/room";
import { elsewhere, type Stretch } from "./citing";
import { BareButton } from "../controls/BareButton";

/** Milliseconds without a key after which what was typed is looked for. */
const PAUSE = 250;
/** And after which it is looked for again, where the server could not be reached. */
const AGAIN = 3000;

/** Where words stand that are not marked, in the text as it is with all that was typed here; nowhere without words. */
async function findNow(report: string, room: Room, wanted: ToFind): Promise<readonly FoundWords[]> {
  if (!wanted.long.trim()) return [];
  await room.caughtUp();
  return api.findWords(report, wanted);
}

/** Where words stand that are not marked: looked for again as they change. Null while that is not known. */
function useFound(report: string, room: Room, wanted: ToFind, notify: (notice: string) => void): readonly FoundWords[] | null {
  const [found, setFound] = useState<{ of: string; places: readonly FoundWords[] } | null>(null);
  const asked = JSON.stringify(wanted);
  useEffect(() => {
    const given = JSON.parse(asked) as ToFind;
    if (!given.long.trim()) return;
    let left = false;
    let told = false;
    const look = async () => {
      try {
        const places = await findNow(report, room, given);
        if (!left) setFound({ of: asked, places });
      } catch (error) {
        if (left) return;
        if (!told) notify((error as Error).message);
        told = true;
        pause = setTimeout(() => void look(), AGAIN);
      }
    };
    let pause = setTimeout(() => void look(), PAUSE);
    return () => {
      left = true;
      clearTimeout(pause);
    };
  }, [report, room, asked, notify]);
  return wanted.long.trim() ? (found?.of === asked ? found.places : null) : [];
}

/** What tells one place from another. */
const placeOf = ({ paragraph, start }: FoundWords): string => `${paragraph} ${start}`;

interface Chosen {
  /** What was found elsewhere than in the words that are marked themselves; null while that is not known. */
  found: readonly FoundWords[] | null;
  left: ReadonlySet<string>;
  leave: (left: ReadonlySet<string>) => void;
  /** How many places would be marked, those words included. */
  count: number;
  /** The words and the places that are meant at this moment: others may have written, and somebody may be quicker than the looking. */
  now: () => Promise<{ here: Stretch[]; others: FoundWords[]; count: number }>;
}

/** Words that are about to be marked, and where else they stand. `here` gives those selected. */
export function useChosen(report: string, room: Room, wanted: ToFind, here: () => Stretch[], notify: (notice: string) => void): Chosen {
  const [left, leave] = useState<ReadonlySet<string>>(new Set());
  const all = useFound(report, room, wanted, notify);
  const found = all && elsewhere(all, here());
  const taken = found?.filter((one) => !left.has(placeOf(one)));
  const counting = (stretches: Stretch[], others: readonly FoundWords[]) => others.length + (stretches.length > 0 ? 1 : 0);
  const now = async () => {
    const places = taken ?? (await findNow(report, room, wanted));
    const stretches = here();
    const others = elsewhere(places, stretches);
    return { here: stretches, others, count: counting(stretches, others) };
  };
  return { found, left, leave, count: counting(here(), taken ?? []), now };
}

interface Props {
  found: readonly FoundWords[] | null;
  /** Those that are left, by `placeOf`. */
  left: ReadonlySet<string>;
  leave: (left: ReadonlySet<string>) => void;
  goTo: (id: string) => void;
}

export function FoundList({ found, left, leave, goTo }: Props) {
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  if (found === null) {
    return (
      <Box color="quiet" fontSize="12px" role="status">
        Looking through the text …
      </Box>
    );
  }
  const taken = found.filter((one) => !left.has(placeOf(one))).length;
  const toggle = (one: FoundWords) => {
    const now = new Set(left);
    if (!now.delete(placeOf(one))) now.add(placeOf(one));
    leave(now);
  };
  return (
    <Box>
      <Flex align="center" gap="2" fontSize="12px" color="quiet">
        <Box as="span" role="status">
          {found.length === 0 ? "Nowhere else in the text, as far as it is not marked." : `${counted(found.length, "more place")}, ${taken === found.length ? "all" : taken.toLocaleString("en-GB")} of them chosen`}
        </Box>
        {found.length > 0 && (
          <>
            <BareButton type="button" className="word" onClick={() => leave(new Set())}>
              all
            </BareButton>
            <BareButton type="button" className="word" onClick={() => leave(new Set(found.map(placeOf)))}>
              none
            </BareButton>
          </>
        )}
      </Flex>
      {found.length > 0 && (
        <Box ref={setScroller} maxH="150px" overflowY="auto" borderWidth="1px" borderColor="edge" rounded="sm" bg="raised">
          <LongList
            count={found.length}
            scroller={scroller}
            estimate={28}
            label="Places that were found"
            keyOf={(index) => (found[index] ? placeOf(found[index]) : String(index))}
            row={(index, tabbable) => {
              const one = found[index];
              if (!one) return null;
              const chosen = !left.has(placeOf(one));
              return (
                <Flex align="center" px="1" gap="1">
                  <BareButton
                    type="button"
                    role="checkbox"
                    aria-checked={chosen}
                    tabIndex={tabbable ? 0 : -1}
                    display="block"
                    flex="1"
                    minW="0"
                    minH="26px"
                    textAlign="left"
                    data-found={placeOf(one)}
                    opacity={chosen ? 1 : 0.75}
                    onClick={() => toggle(one)}
                  >
                    <Box as="span" aria-hidden fontFamily="mono" color="iris" me="1.5">
                      {chosen ? "☑" : "☐"}
                    </Box>
                    <Box as="span" color="quiet">
                      …{one.before.slice(-36)}
                    </Box>
                    <b>{one.words}</b>
                    <Box as="span" color="quiet">
                      {one.after.slice(0, 36)}…
                    </Box>
                  </BareButton>
                  <BareButton type="button" className="word" color="iris" tabIndex={tabbable ? 0 : -1} aria-label={`Go there: ${one.words}`} onClick={() => goTo(one.paragraph)}>
                    ↗
                  </BareButton>
                </Flex>
              );
            }}
          />
        </Box>
      )}
    </Box>
  );
}
