/** The leader, page numbers and heading numbers of a table. */
import { RANGES } from "../../../api/settings";
import { Input } from "@chakra-ui/react";
import { useState } from "react";
import { Choice } from "../../controls/Figure";
import { Word } from "../../controls/LookWords";
import { points } from "../../controls/look";
import { Row } from "../../controls/parts";
import { type Choices, type Given, OneOf } from "./words";

const LEADERS: Choices<string> = [
  ["", "nothing"],
  [".", "dots"],
  ["-", "dashes"],
  ["_", "a line"],
];

export function OfLeader({ table, tables }: Given) {
  const { leader, leader_step } = table.recipe;
  const own = !LEADERS.some(([one]) => one === leader);
  const [typing, setTyping] = useState(false);
  return (
    <Row label="Leader">
      <Choice
        name="Leader"
        value={own || typing ? "own" : leader}
        choices={[...LEADERS, ["own", "a character of your own"]]}
        set={(value) => {
          setTyping(value === "own");
          if (value !== "own") void tables.change([[["leader"], value]]);
        }}
      />
      {(own || typing) && (
        <Input
          size="xs"
          w="44px"
          bg="raised"
          aria-label="Character of the leader"
          defaultValue={own ? leader : ""}
          onChange={(event) => {
            const [character] = event.target.value.trim();
            if (character) void tables.change([[["leader"], character]]);
          }}
        />
      )}
      {leader && leader !== "_" && (
        <Word
          form={points("Distance from one to the next", "every", "pt", RANGES.recipe.leader_step, 0.5)}
          value={leader_step}
          set={(value) => void tables.change([[["leader_step"], value]])}
          live={(value) => tables.attempt([[["leader_step"], value]])}
        />
      )}
    </Row>
  );
}

export const OfPages = (given: Given) => (
  <Row label="Pages">
    <OneOf {...given} setting="page_numbers" name="Page numbers" choices={[["edge", "at the right edge"], ["words", "behind the words"], ["none", "no page numbers"]]} />
    {given.table.recipe.page_numbers === "words" && (
      <Choice
        name="Between words and page number"
        value={given.table.recipe.separator}
        choices={[["\u2002", "after a space"], [", ", "after a comma"], [" – ", "after a dash"], [" / ", "after a stroke"]]}
        set={(separator) => void given.tables.change([[["separator"], separator]])}
      />
    )}
  </Row>
);

export const OfNumbers = (given: Given) => (
  <Row label="Numbers">
    <OneOf
      {...given}
      setting="numbers"
      name="Heading numbers"
      choices={[["run in", "run in, before the words"], ["hung", "hung in a column of their level"], ["margin", "all at the left edge"], ["none", "no heading numbers"]]}
    />
  </Row>
);
