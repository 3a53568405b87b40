import { Flex, Text } from "@chakra-ui/react";
import { Choice } from "../../controls/Figure";
import { Press, Row } from "../../controls/parts";
import { offered } from "../../text-leaf/styles";
import { type Choices, type Given, LEVELS } from "./words";

const AT: Choices<string> = [...LEVELS.map((level): [string, string] => [String(level), `at level ${level}`]), ["0", "not at all"]];

/** Styles whose paragraphs are listed otherwise than by their outline level. */
export function Feeds({ table, tables, report: { styles } }: Given) {
  const { feeds } = table.recipe;
  const change = (id: string, level: number | null) => {
    const others = Object.entries(feeds).filter(([one]) => one !== id);
    void tables.change([[["feeds"], Object.fromEntries(level === null ? others : [...others, [id, level]])]]);
  };
  const listed = Object.entries(feeds);
  return (
    <Row label="Styles">
      {listed.map(([id, level]) => {
        const name = styles.find((style) => style.id === id)?.name ?? "A deleted style";
        return (
          <Flex key={id} align="baseline" w="100%">
            <Text truncate flex="1">
              {name}
            </Text>
            <Choice name={`${name} is listed`} value={String(level)} choices={AT} set={(value) => change(id, Number(value))} />
            <Press type="button" aria-label={`${name} as its style has it`} title="As its style has it" px="1.5" onClick={() => change(id, null)}>
              ×
            </Press>
          </Flex>
        );
      })}
      <Choice
        name="List a style otherwise"
        value=""
        choices={[["", "list a style otherwise …"], ...offered(styles).filter(([id]) => !(id in feeds))]}
        set={(id) => id && change(id, styles.find((style) => style.id === id)?.outline_level ? 0 : (table.recipe.levels.at(-1) ?? 1))}
      />
    </Row>
  );
}
