/** One line of a table as it is printed: indent, number, words, leader, page. The whole line is the link. */
import { Box, chakra } from "@chakra-ui/react";
import { memo, type ReactNode } from "react";
import type { TableLine } from "../view";

const Press = chakra("button");

interface Props {
  line: TableLine;
  leader: string;
  page: ReactNode;
  go: () => void;
  faded?: boolean;
}

export const PrintedLine = memo(function PrintedLine({ line, leader, page, go, faded = false }: Props) {
  const top = line.level === 1;
  return (
    <Press
      type="button"
      display="flex"
      alignItems="baseline"
      w="100%"
      textAlign="left"
      fontFamily="Carlito, sans-serif"
      fontSize={top ? "11pt" : "10.5pt"}
      fontWeight={top ? "bold" : "normal"}
      lineHeight="1.35"
      minH="24px"
      pt={top ? "5pt" : "0"}
      pb="2pt"
      rounded="sm"
      color="ink"
      cursor="pointer"
      _hover={{ color: "iris" }}
      style={{ paddingLeft: `${(line.level - 1) * 14}pt` }}
      onClick={go}
    >
      <Box as="span" minW="0" overflowWrap="anywhere" textDecoration={faded ? "line-through" : undefined}>
        {line.number && <>{line.number}&ensp;</>}
        {line.text}
      </Box>
      <Box
        as="span"
        aria-hidden
        flex="1"
        minW="14px"
        mx="5px"
        overflow="hidden"
        whiteSpace="nowrap"
        color="quiet"
        letterSpacing="2px"
        fontWeight="normal"
        direction="rtl"
        h="1.35em"
      >
        {leader.repeat(120)}
      </Box>
      <Box as="span" flexShrink="0" fontVariantNumeric="tabular-nums">
        {page}
      </Box>
    </Press>
  );
});
