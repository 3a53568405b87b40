/** A part of the report: what it is called, how its pages are numbered, where it begins. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { PartChange, PartShown } from "../../../api/client";
import { RANGES } from "../../../api/settings";
import { Choice, Figure } from "../../controls/Figure";
import { Press, Row, Tick } from "../../controls/parts";
import { FIRST, ownOf } from "../../controls/partsOf";
import { useTyped } from "../../controls/useTyped";
import { FIGURES, PAGE } from "./settings";

const BEGINS = [
  ["any", "on the next page"],
  ["right", "on a right-hand page"],
  ["left", "on a left-hand page"],
] as const;

interface Props {
  id: string;
  part: PartShown;
  mayWrite: boolean;
  change: (change: PartChange) => Promise<boolean>;
  /** Takes its start out of the text; for one that begins there. */
  takeAway: (() => void) | null;
  goTo: (() => void) | null;
}

export function PartSettings({ id, part, mayWrite, change, takeAway, goTo }: Props) {
  const name = useTyped(part.name, (typed) => change({ values: { name: typed } }));
  const words = useTyped(part.words, (typed) => change({ values: { words: typed } }));
  const first = id === FIRST;
  const figures = [...(first ? [] : [["", "as in the part in front of it"] as const]), ...FIGURES, ["none", "no numbers"] as const];
  const counted = part.figures ?? (first ? "decimal" : null);
  const own = Object.keys(ownOf(part));
  return (
    <Box mb="2">
      <Row label="Name">
        <Input size="xs" bg="raised" aria-label="Name of the part" placeholder="Front matter, Body, Appendices …" maxLength={80} disabled={!mayWrite} {...name} />
      </Row>
      <Row label="Numbers">
        <Choice
          name="How its pages are numbered"
          value={counted ?? ""}
          choices={figures}
          disabled={!mayWrite}
          set={(chosen) => void change({ values: { figures: (chosen || null) as PartShown["figures"] } })}
        />
        {/* There always, in a line of its own: what is below it would move away from under a press. */}
        <Flex align="baseline" gap="1" w="full">
          <Text as="span" color="quiet">
            behind
          </Text>
          <Input size="xs" w="6em" bg="raised" aria-label="Words before the number" placeholder="A-" maxLength={20} disabled={!mayWrite || counted === null || counted === "none"} {...words} />
        </Flex>
      </Row>
      <Row label="Counted">
        <Tick ticked={part.start === null} disabled={!mayWrite} set={(on) => change({ values: { start: on ? null : 1 } })}>
          {first ? "from 1" : "on from the part in front of it"}
        </Tick>
        {part.start !== null && (
          <Figure name="Number of its first page" value={part.start} {...RANGES.part.start} step={1} before="from" after="" disabled={!mayWrite} set={(start) => void change({ values: { start } })} />
        )}
      </Row>
      {!first && (
        <Row label="Begins">
          <Choice name="Where it begins" value={part.begins} choices={BEGINS} disabled={!mayWrite} set={(begins) => void change({ values: { begins: begins as PartShown["begins"] } })} />
        </Row>
      )}
      <Flex gap="2" mt="2" wrap="wrap">
        {goTo && (
          <Press type="button" onClick={goTo}>
            To its start in the text
          </Press>
        )}
        {takeAway && mayWrite && (
          <Press type="button" onClick={takeAway}>
            Take the part away
          </Press>
        )}
      </Flex>
      <Text color="quiet" mt="3">
        {own.length === 0 ? "Its pages are set up as the report’s. What you change below is changed for this part alone." : `Otherwise than in the report: ${[...new Set(own.map((one) => (PAGE[one] ?? one).toLowerCase()))].join(", ")}.`}
      </Text>
      {own.length > 0 && mayWrite && (
        <Press type="button" mt="1" onClick={() => void change({ as_report: own })}>
          All as in the report
        </Press>
      )}
    </Box>
  );
}
