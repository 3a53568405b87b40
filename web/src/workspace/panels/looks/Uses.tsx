/** How many paragraphs have a style, and the way from one to the next. */
import { Flex, Text } from "@chakra-ui/react";
import { counted } from "../../../words";
import { Press } from "../../controls/parts";
import type { Use } from "./useUses";

interface UsesProps {
  use: Use | undefined;
  one: string;
  /** The block that somebody is at. */
  at: () => string | null;
  goTo: (id: string) => void;
}

export function Uses({ use, one, at, goTo }: UsesProps) {
  const ids = use?.ids ?? [];
  const step = (by: number) => {
    const here = at();
    const now = here === null ? -1 : ids.indexOf(here);
    const next = ids[now < 0 ? (by > 0 ? 0 : ids.length - 1) : (now + by + ids.length) % ids.length];
    if (next) goTo(next);
  };
  if (ids.length === 0) return <Text color="quiet">No {one} has it.</Text>;
  return (
    <Flex align="center" gap="2">
      <Text color="quiet">{counted(ids.length, one)}</Text>
      <Press type="button" aria-label={`To the ${one} before`} onClick={() => step(-1)}>
        ↑
      </Press>
      <Press type="button" aria-label={`To the next ${one}`} onClick={() => step(1)}>
        ↓
      </Press>
    </Flex>
  );
}
