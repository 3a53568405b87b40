/** Which leaf is in sight where there is no room for all: on a phone one of three, on a small screen the spine and one. */
import { Button, Flex } from "@chakra-ui/react";

export type Leaf = "table" | "spine" | "text";

const NAMES: Record<Leaf, string> = { table: "Table", spine: "Spine", text: "Text" };

interface Props {
  shown: Leaf;
  show: (leaf: Leaf) => void;
}

export function LeafChooser({ shown, show }: Props) {
  return (
    <Flex hideFrom="lg" gap="2" px="3" py="2" bg="spine" role="group" aria-label="Leaf in sight">
      {(["table", "spine", "text"] as const).map((leaf) => (
        <Button
          key={leaf}
          size="xs"
          flex="1"
          maxW="160px"
          hideFrom={leaf === "spine" ? "md" : undefined}
          aria-pressed={shown === leaf}
          bg={shown === leaf ? "rib" : "transparent"}
          color={shown === leaf ? "spine" : "rib"}
          borderWidth="1px"
          borderColor="ribQuiet"
          _focusVisible={{ outlineColor: "rib" }}
          onClick={() => show(leaf)}
        >
          {NAMES[leaf]}
        </Button>
      ))}
    </Flex>
  );
}
