import { RANGES } from "../../../api/settings";
import { Flex } from "@chakra-ui/react";
import { Word } from "../../controls/LookWords";
import { type Form, FORMS, points } from "../../controls/look";
import type { LevelLook } from "../../view";
import type { Path, Setting } from "../../tables/recipe";
import type { Given } from "./words";

/** The properties of a level's look, in the order in which they are said. */
const LOOK: readonly (readonly [keyof LevelLook, Form])[] = [
  ["font", FORMS.font],
  ["size", FORMS.size],
  ["bold", FORMS.bold],
  ["italic", FORMS.italic],
  ["page_number", { kind: "switch", name: "Page numbers of the level", on: "with page numbers", off: "without page numbers" }],
  ["capitals", { kind: "switch", name: "Capitals", on: "capitals", off: "as written" }],
  ["colour", FORMS.colour],
  ["indent", FORMS.indent],
  ["hang", points("Indent of further rows", "further rows", "pt more", RANGES.level_look.hang)],
  ["space_before", FORMS.space_before],
  ["space_after", FORMS.space_after],
  ["line_spacing", FORMS.line_spacing],
];

export function OfLevel({ table, tables, level }: Given & { level: number }) {
  const look = table.recipe.looks[level - 1];
  if (!look) return null;
  const setting = (name: keyof LevelLook, value: unknown): Setting => [["looks", String(level), name] satisfies Path, value];
  return (
    <Flex wrap="wrap" align="baseline" role="group" aria-label={`Look of level ${level}`}>
      {LOOK.map(([name, form]) => (
        <Word
          key={name}
          form={form}
          value={look[name]}
          set={(value) => void tables.change([setting(name, value)])}
          live={(value) => tables.attempt([setting(name, value)])}
        />
      ))}
    </Flex>
  );
}
