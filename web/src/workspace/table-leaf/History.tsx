/** What was done to a table, the newest first: who, when, which lines; and the way back from the last of it. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { api, type TableChange } from "../../api/client";
import { counted, when } from "../../words";
import { PanelTitle, Press } from "../controls/parts";
import type { Tables } from "../tables/useTables";

interface Props {
  report: string;
  table: string;
  /** Null for whoever may only read. */
  tables: Tables | null;
  close: () => void;
}

export function History({ report, table, tables, close }: Props) {
  const history = useQuery({ queryKey: ["table", report, table, "history"], queryFn: () => api.tableHistory(report, table) });
  return (
    <Box mt="3">
      <Flex justify="space-between" align="baseline">
        <PanelTitle>What was done</PanelTitle>
        <Press type="button" onClick={close}>
          Done
        </Press>
      </Flex>
      {history.isError && <Text color="gone">{history.error.message}</Text>}
      {history.data?.length === 0 && <Text color="quiet">Nothing was done to this table by hand yet.</Text>}
      <Box as="ol" listStyleType="none">
        {history.data?.map((one) => (
          <Box as="li" key={one.id} py="2" borderTopWidth="1px" borderColor="edge" fontSize="14px">
            <Change one={one} tables={tables} />
          </Box>
        ))}
      </Box>
    </Box>
  );
}

function Change({ one, tables }: { one: TableChange; tables: Tables | null }) {
  return (
    <>
      <Text fontWeight="600" textDecoration={one.taken_back ? "line-through" : undefined}>
        {one.what}
      </Text>
      <Text color="quiet" fontSize="13px">
        {[one.who, when(one.at), one.taken_back ? "taken back" : ""].filter(Boolean).join(" · ")}
      </Text>
      {one.lines.length > 0 && (
        <details>
          <summary>{counted(one.lines.length, "line")}</summary>
          <Box as="ul" listStyleType="none" fontSize="13px">
            {one.lines.map(([kinds, before, after], index) => (
              <li key={index}>
                <b>{kinds.join(", ")}</b>: {before !== null && after !== null && before !== after ? `${before} → ${after}` : (after ?? before)}
              </li>
            ))}
          </Box>
        </details>
      )}
      {one.may_take_back && tables && (
        <Press type="button" mt="1" onClick={() => void tables.takeBack(one.id)}>
          Take it back
        </Press>
      )}
    </>
  );
}
