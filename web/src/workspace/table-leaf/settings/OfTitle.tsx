/** The title of a table. */
import { Input } from "@chakra-ui/react";
import { Choice } from "../../controls/Figure";
import { Row } from "../../controls/parts";
import { useTyped } from "../../controls/useTyped";
import { offered } from "../../text-leaf/styles";
import { Either, type Given } from "./words";

export function OfTitle(given: Given) {
  const { table, tables } = given;
  const { styles } = given.report;
  return (
    <>
      <Row label="Title">
        <TitleField title={table.recipe.title} give={(title) => tables.change([[["title"], title]])} />
      </Row>
      <Row label="Set as">
        <Choice
          name="Style of the title"
          value={table.recipe.title_style}
          choices={[["", "Table title"], ...offered(styles, table.recipe.title_style).filter(([id]) => styles.find((style) => style.id === id)?.role !== "table-title")]}
          set={(value) => void tables.change([[["title_style"], value]])}
        />
        <Either {...given} setting="continued" name="On further pages" on="again on each further page" off="on the first page only" />
      </Row>
    </>
  );
}

function TitleField({ title, give }: { title: string; give: (title: string) => Promise<void> }) {
  const field = useTyped(title, (typed) => give(typed.trim()));
  return <Input size="xs" bg="raised" aria-label="Title of the table" placeholder="No title" maxLength={200} {...field} />;
}
