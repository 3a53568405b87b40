/** How far a table is behind, and the ways to bring it level. */
import { Box, Button, Flex, Stack, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { Scope } from "../../api/client";
import { counted, howFarBehind, NOTHING_TO_LIST, when } from "../../words";
import { Tick } from "../controls/parts";
import type { Tables } from "../tables/useTables";
import { asks, isEmpty, type Kind, type Table } from "../view";

interface Props {
  table: Table;
  mayWrite: boolean;
  tables: Tables;
  /** The sources of the lines that are chosen. */
  chosen: readonly string[];
  only: boolean;
  setOnly: (only: boolean) => void;
  /** Brings the table level, or shows first how it would be. */
  run: (scope: Scope) => Promise<void>;
  first: boolean;
  setFirst: (first: boolean) => void;
}

export function State({ table, mayWrite, tables, chosen, only, setOnly, run, first, setFirst }: Props) {
  const [busy, setBusy] = useState<Scope | null>(null);
  const behind = table.differences.length;
  const pages = table.differences.filter((one) => one.kinds.includes("page")).length;
  const asking = table.own.filter(asks).length;
  const begin = async (scope: Scope) => {
    setBusy(scope);
    await run(scope);
    setBusy(null);
  };
  const offer = (scope: Scope, name: string, count: number, title?: string) => (
    <Button
      size="sm"
      variant={scope === "everything" && behind ? "solid" : "outline"}
      bg={scope === "everything" && behind ? "iris" : "raised"}
      color={scope === "everything" && behind ? "leaf" : undefined}
      borderColor="quiet"
      disabled={count === 0}
      loading={busy === scope}
      title={title}
      onClick={() => void begin(scope)}
    >
      {name}
    </Button>
  );
  return (
    <Box
      bg={behind ? "behindWash" : "raised"}
      borderWidth="1px"
      borderColor={behind ? "behind" : "edge"}
      rounded="md"
      p="3"
      data-testid="table-state"
    >
      <HowFar table={table} />
      <Text fontSize="13px" color="quiet">
        {table.issuance.at
          ? `Last caught up ${when(table.issuance.at)}${table.issuance.by ? ` by ${table.issuance.by}` : ""}`
          : "Not caught up yet"}
      </Text>
      {behind > 0 && (
        <Text fontSize="14px" mt="1">
          {kindsOf(table)}
        </Text>
      )}
      {asking > 0 && (
        <Text fontSize="14px" mt="1" color="behindInk">
          {asking === 1 ? "A heading has changed beneath a line in own words." : `${asking} headings have changed beneath lines in own words.`}
        </Text>
      )}
      {behind > 0 && (
        <Tick ticked={only} set={setOnly}>
          Show only the lines that differ
        </Tick>
      )}
      {mayWrite && (
        <>
          <Stack gap="2" mt="2">
            {offer("everything", "Catch up everything", behind)}
            {offer("pages", "Catch up page numbers", pages, pages ? `${counted(pages, "page number")} would change` : "All page numbers are right")}
            {behind > 0 && offer("chosen", "Catch up chosen lines", chosen.length, chosen.length ? `${counted(chosen.length, "line")} chosen` : "Press the mark beside a line to choose it")}
          </Stack>
          <Flex wrap="wrap" mt="1" fontSize="14px">
            {behind > 0 && (
              <Tick ticked={first} set={setFirst}>
                See the result first
              </Tick>
            )}
            <Tick ticked={table.issuance.keeps_level} set={tables.keepLevel}>
              Keep itself level
            </Tick>
          </Flex>
        </>
      )}
    </Box>
  );
}

/** "11 lines behind". */
export function HowFar({ table }: { table: Table }) {
  const behind = table.differences.length;
  return (
    <Text fontWeight="600" fontSize="17px" color={behind ? "behindInk" : isEmpty(table) ? "quiet" : "level"} role="status">
      {isEmpty(table) ? NOTHING_TO_LIST : `${behind ? "◇" : "◆"} ${howFarBehind(behind)}`}
    </Text>
  );
}

/** "2 new, 1 gone, 7 page": how many lines differ in each way. */
function kindsOf(table: Table): string {
  const counts = new Map<Kind, number>();
  for (const { kinds } of table.differences) for (const kind of kinds) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts].map(([kind, count]) => `${count}\u00a0${kind}`).join(" · ");
}
