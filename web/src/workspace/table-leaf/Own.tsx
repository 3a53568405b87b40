/** What somebody wrote in a line or left out, and the way back to the heading's words. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { Press } from "../controls/parts";
import type { Tables } from "../tables/useTables";
import type { OwnWords, Table } from "../view";

interface LineProps {
  table: Table;
  tables: Tables;
  source: string;
  done: () => void;
}

/** What can be done with the words of one line. */
export function OwnLine({ table, tables, source, done }: LineProps) {
  const own = table.own.find((one) => one.source === source);
  if (!table.lines.some((line) => line.source === source)) return null;
  return (
    <Box mb="1">
      {own?.words && (
        <Text color="quiet" fontSize="13px">
          In own words; the heading reads “{own.now ?? own.then}”.
        </Text>
      )}
      <Flex gap="1" wrap="wrap">
        {own?.words && (
          <Press type="button" onClick={() => void tables.useHeadingWords(source)}>
            Back to the heading’s words
          </Press>
        )}
        <Press
          type="button"
          onClick={() => {
            void tables.setWords(source, null);
            done();
          }}
        >
          Leave this line out
        </Press>
      </Flex>
    </Box>
  );
}

interface ListProps {
  table: Table;
  /** Null for whoever may only read. */
  tables: Tables | null;
  goTo: (id: string) => void;
}

/** Lines that are left out, and own words whose headings are gone. */
export function OwnList({ table, tables, goTo }: ListProps) {
  const out = table.own.filter((one) => one.words === null);
  const gone = table.own.filter((one) => one.words !== null && one.now === null);
  if (!out.length && !gone.length) return null;
  return (
    <Box mt="4" pl="22px" fontSize="14px">
      {out.length > 0 && <Text color="quiet">Left out by hand:</Text>}
      {out.map((one) => (
        <Kept key={one.source} one={one} words={one.now ?? one.then} what="Put it in again" tables={tables} goTo={goTo} />
      ))}
      {gone.length > 0 && <Text color="quiet">Own words whose headings are gone; they come back with them:</Text>}
      {gone.map((one) => (
        <Kept key={one.source} one={one} words={one.words ?? ""} what="Forget them" tables={tables} goTo={goTo} />
      ))}
    </Box>
  );
}

interface KeptProps extends Omit<ListProps, "table"> {
  one: OwnWords;
  words: string;
  what: string;
}

const Kept = ({ one, words, what, tables, goTo }: KeptProps) => (
  <Flex gap="2" align="baseline" mb="1">
    {one.now === null ? (
      <Text flex="1">{words}</Text>
    ) : (
      <Press type="button" flex="1" borderColor="transparent" bg="transparent" textAlign="left" onClick={() => goTo(one.source)}>
        {words}
      </Press>
    )}
    {tables && (
      <Press type="button" aria-label={`${what}: ${words}`} onClick={() => void tables.useHeadingWords(one.source)}>
        {what}
      </Press>
    )}
  </Flex>
);
