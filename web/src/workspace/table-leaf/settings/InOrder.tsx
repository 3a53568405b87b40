import { RANGES } from "../../../api/settings";
import { Flex } from "@chakra-ui/react";
import { Choice, Figure } from "../../controls/Figure";
import { Press, Row } from "../../controls/parts";
import { LANGUAGES } from "../../controls/languages";
import type { Setting } from "../../tables/recipe";
import { type Choices, Either, type Given, OneOf } from "./words";

const ORDERS: Choices<string> = [["", "as the report’s language"], ...LANGUAGES.filter(([code]) => code !== "en-US").map(([code, name]) => [code, `as in ${name.replace(/ \(.*/, "")}`] as const)];

/** Settings of tables whose lines stand in the order of an alphabet, each with all its pages. */
export function InOrder({ categories, ...given }: Given & { categories: boolean }) {
  const { table, tables, report } = given;
  const { recipe } = table;
  const toggle = (id: string) => {
    const chosen = recipe.categories.length > 0 ? recipe.categories : report.categories.map(({ id }) => id);
    const now = chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id];
    if (now.length > 0) void tables.change([[["categories"], report.categories.every(({ id }) => now.includes(id)) ? [] : now]]);
  };
  const number = (setting: "passim" | "ranges", name: string, before: string, after: string, never: string) => (
    <>
      <Choice
        name={name}
        value={recipe[setting] === 0 ? "never" : "from"}
        choices={[["from", before], ["never", never]]}
        set={(value) => void tables.change([[[setting], value === "never" ? 0 : setting === "passim" ? 5 : 3]])}
      />
      {recipe[setting] > 0 && (
        <Figure name={`${name} from`} value={recipe[setting]} least={2} most={RANGES.recipe[setting].most} step={1} before="" after={after} set={(value) => void tables.change([[[setting], value]])} />
      )}
    </>
  );
  return (
    <>
      {categories && (
        <Row label="Categories">
          <Flex gap="1" wrap="wrap" role="group" aria-label="Categories that are listed">
            {report.categories.map(({ id, name }) => (
              <Press
                key={id}
                type="button"
                px="1.5"
                aria-pressed={recipe.categories.length === 0 || recipe.categories.includes(id)}
                _pressed={{ bg: "irisWash", borderColor: "iris", color: "ink" }}
                onClick={() => toggle(id)}
              >
                {name}
              </Press>
            ))}
          </Flex>
        </Row>
      )}
      <Row label="Order">
        <OneOf {...given} setting="language" name="Language of the order" choices={ORDERS} />
        <Either {...given} setting="by_letter" name="How words are put in order" on="letter by letter" off="word by word" />
      </Row>
      {!categories && (
        <Row label="Beneath">
          <Choice
            name="Terms beneath others"
            value={recipe.run_in && recipe.page_numbers !== "edge" ? "run in" : "rows"}
            choices={[["rows", "on rows of their own"], ["run in", "run in behind these"]]}
            set={(value) => void tables.change(value === "rows" ? [[["run_in"], false]] : [[["run_in"], true], ...(recipe.page_numbers === "edge" ? [[["page_numbers"], "words"] as Setting] : [])])}
          />
        </Row>
      )}
      <Row label="Pages">
        {number("ranges", "Ranges of pages", "a range from", "pages in a row", "ranges only where one place goes over them")}
        {number("passim", "Passim", "“passim” from", "pages", "never “passim”")}
      </Row>
    </>
  );
}
