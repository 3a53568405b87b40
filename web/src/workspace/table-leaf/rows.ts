/** The rows of the table leaf: the lines of a table as issued, and those that are new. */
import type { Difference, OwnWords, Table, TableLine } from "../view";

export interface Row {
  line: TableLine;
  difference: Difference | undefined;
  /** Why it is renumbered, and others behind it: said at the first of them. */
  follows: string | undefined;
  following: boolean;
  /** Its own words, if it has some. */
  own: OwnWords | undefined;
}

/** Issued lines in their order; each new one behind the issued line that stands nearest before it in the text. */
export function rowsOf(table: Table): Row[] {
  const differing = new Map(table.differences.map((one) => [one.source, one]));
  const listed = new Set(table.lines.map((line) => line.source));
  const said = new Map(table.renumbered.map(({ sentence, sources }) => [sources[0], sentence]));
  const following = new Set(table.renumbered.flatMap(({ sources }) => sources));
  const own = new Map(table.own.map((one) => [one.source, one]));
  const row = (line: TableLine, difference: Difference | undefined): Row => ({
    line,
    difference,
    follows: said.get(line.source),
    following: following.has(line.source),
    own: own.get(line.source),
  });
  const news = new Map<string | null, Row[]>();
  /** Behind which issued line each new one stands. */
  const places = new Map<string, string | null>();
  for (const difference of table.differences) {
    const { fresh, after } = difference;
    if (difference.kinds[0] !== "new" || !fresh) continue;
    const place = after === null || listed.has(after) ? after : (places.get(after) ?? null);
    places.set(fresh.source, place);
    news.set(place, [...(news.get(place) ?? []), row(fresh, difference)]);
  }
  return [
    ...(news.get(null) ?? []),
    ...table.lines.flatMap((line) => [row(line, differing.get(line.source)), ...(news.get(line.source) ?? [])]),
  ];
}
