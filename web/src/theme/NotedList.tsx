/** What of a file or a clipboard did not come along as it was there: what is left out first, then what is kept in another form. */
import { Box, Text } from "@chakra-ui/react";
import { counted } from "../words";

export interface Noted {
  readonly what: string;
  readonly instead: string;
  readonly count: number;
  readonly lost: boolean;
  readonly where: readonly string[];
}

const NAMED = 3;
/** What the first group says by its name. */
const LEFT_OUT = "left out";

function whereOf(sections: readonly string[]): string {
  const named = sections.slice(0, NAMED).map((words) => (words.length > 60 ? `${words.slice(0, 59)}…` : words));
  const more = sections.length - named.length;
  return named.join("; ") + (more > 0 ? `; ${counted(more, "more section", "more sections")}` : "");
}

function Item({ note: { what, instead, count, where } }: { note: Noted }) {
  return (
    <Box as="li" overflowWrap="anywhere">
      {what}
      {instead !== LEFT_OUT && `: ${instead}`}
      {(count > 1 || where.length > 0) && (
        <Text as="span" color="quiet">
          {count > 1 && ` (${count} times)`}
          {where.length > 0 && ` – ${whereOf(where)}`}
        </Text>
      )}
    </Box>
  );
}

export function NotedList({ notes }: { notes: readonly Noted[] }) {
  const groups = [
    ["Left out", notes.filter((note) => note.lost)],
    ["Kept in another form", notes.filter((note) => !note.lost)],
  ] as const;
  return (
    <>
      {groups
        .filter(([, some]) => some.length > 0)
        .map(([name, some]) => (
          <Box as="section" key={name} aria-label={name} mt="2">
            <Text fontWeight="600">{name}</Text>
            <Box as="ul" ps="5" listStyleType="square">
              {some.map((note) => (
                <Item key={`${note.what} ${note.instead}`} note={note} />
              ))}
            </Box>
          </Box>
        ))}
    </>
  );
}
