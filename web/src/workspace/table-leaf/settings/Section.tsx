/** The section that a table lists. */
import { Choice } from "../../controls/Figure";
import type { Given } from "./words";

/** What stands in the list of sections: deeper ones are too many. */
const DEEPEST = 2;

export function Section({ table, tables, headings }: Given) {
  const { section } = table.recipe;
  const choices: [string, string][] = [
    ["", "the whole report"],
    ["here", "the section it stands in"],
    ...headings
      .filter((heading) => heading.id === section || (heading.level <= DEEPEST && heading.by_hand !== "put in"))
      .map((heading): [string, string] => [heading.id, `${heading.number} ${heading.text}`.trim().slice(0, 80)]),
  ];
  const gone = !choices.some(([id]) => id === section);
  return (
    <Choice
      name="What it lists"
      value={section}
      choices={gone ? [...choices, [section, "a section that is gone"]] : choices}
      set={(value) => void tables.change([[["section"], value]])}
    />
  );
}
