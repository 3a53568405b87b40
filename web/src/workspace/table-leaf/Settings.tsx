/** The settings of the part of a table that is at hand, in words that are pressed to change them. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { counted } from "../../words";
import { Press } from "../controls/parts";
import { OwnLine } from "./Own";
import { PartNames, type Part } from "./Shape";
import { OfTable } from "./settings/OfTable";
import { OfTitle } from "./settings/OfTitle";
import { OfLeader, OfPages, OfNumbers } from "./settings/OfLeader";
import { OfLevel } from "./settings/OfLevel";
import type { Given } from "./settings/words";

interface Props extends Given {
  part: Part;
  choose: (part: Part) => void;
  close: () => void;
}

export function Settings({ part, choose, close, ...props }: Props) {
  const { table } = props;
  return (
    <Box className="table-foot" as="section" aria-label="How the table looks">
      <Flex justify="space-between" align="baseline" mb="1">
        <Text fontSize="13px" color="quiet" role="status">
          Takes {counted(table.pages, "page")}, from page {table.page}
        </Text>
        <Press type="button" onClick={close}>
          Done
        </Press>
      </Flex>
      <PartNames table={table} part={part} choose={choose} />
      <Box fontSize="14px">
        {part.part === "table" && <OfTable {...props} />}
        {part.part === "title" && <OfTitle {...props} />}
        {part.part === "leader" && <OfLeader {...props} />}
        {part.part === "pages" && <OfPages {...props} />}
        {part.part === "numbers" && <OfNumbers {...props} />}
        {part.part === "level" && (
          <>
            {part.source !== undefined && <OwnLine table={table} tables={props.tables} source={part.source} done={() => choose({ part: "level", level: part.level })} />}
            <OfLevel {...props} level={part.level} />
          </>
        )}
      </Box>
    </Box>
  );
}
