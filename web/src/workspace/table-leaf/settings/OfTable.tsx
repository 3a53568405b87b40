/** What a table lists, and how it looks as a whole. */
import { Flex } from "@chakra-ui/react";
import { Choice } from "../../controls/Figure";
import { Press, Row } from "../../controls/parts";
import { tableWords } from "../../printed/kinds";
import { Either, type Given, LEVELS, OneOf } from "./words";
import { InOrder } from "./InOrder";
import { Section } from "./Section";
import { Feeds } from "./Feeds";

export function OfTable(given: Given) {
  const { table, tables } = given;
  const { recipe } = table;
  const toggle = (level: number) => {
    const levels = recipe.levels.includes(level) ? recipe.levels.filter((one) => one !== level) : [...recipe.levels, level].sort();
    if (levels.length) void tables.change([[["levels"], levels]]);
  };
  const { lists, levels: named } = tableWords(recipe.kind);
  const captions = (
    <Row label="Captions">
      <Choice
        name="Captions that are listed"
        value={recipe.label}
        choices={given.report.labels.map(({ id, name }) => [id, name] as const)}
        set={(label) => void tables.change([[["label"], label]])}
      />
      <Either {...given} setting="first_sentence" name="How much of a caption" on="up to the first full stop" off="all of their words" />
    </Row>
  );
  const levels = (
    <Row label="Levels">
      <Flex gap="1" wrap="wrap" role="group" aria-label="Levels that are listed">
        {(named ? LEVELS.slice(0, named.length) : LEVELS).map((level) => (
          <Press
            key={level}
            type="button"
            px={named ? "1.5" : "0"}
            w={named ? undefined : "26px"}
            justifyContent="center"
            aria-label={named ? undefined : `Level ${level}`}
            aria-pressed={recipe.levels.includes(level)}
            disabled={recipe.levels.length === 1 && recipe.levels[0] === level}
            _pressed={{ bg: "irisWash", borderColor: "iris", fontWeight: "600", color: "ink" }}
            onClick={() => toggle(level)}
          >
            {named?.[level - 1] ?? level}
          </Press>
        ))}
      </Flex>
    </Row>
  );
  const inOrder = lists === "authorities" || lists === "terms";
  return (
    <>
      {lists === "captions" ? captions : levels}
      <Row label="Lists">
        <Section {...given} />
      </Row>
      {inOrder ? <InOrder {...given} categories={lists === "authorities"} /> : lists !== "captions" && <Feeds {...given} />}
      <Row label="Set in">
        <Choice
          name="Columns"
          value={String(recipe.columns)}
          choices={[["1", "one column"], ["2", "two columns"]]}
          set={(value) => void tables.change([[["columns"], Number(value)]])}
        />
        <OneOf {...given} setting="ruled" name="Rules" choices={[["none", "no rules"], ["lines", "a rule beneath each line"], ["sections", "a rule beneath main sections"]]} />
      </Row>
      <Row label="Lines">
        <Either {...given} setting="links" name="Links" on="are links" off="are no links" />
        {recipe.links && <Either {...given} setting="look_like_links" name="Look of links" on="look like links" off="look like text" />}
        <Either {...given} setting="formatting" name="Italics of headings" on="italics of headings kept" off="italics of headings left" />
      </Row>
      <Row label="Ways back">
        <Choice
          name="Ways back to the contents"
          value={String(given.report.page.back_level ?? "")}
          choices={[["", "none in the text"], ...LEVELS.map((level): [string, string] => [String(level), `end sections of level ${level}`])]}
          set={(level) => void tables.endInWaysBack(level === "" ? null : Number(level))}
        />
      </Row>
    </>
  );
}
