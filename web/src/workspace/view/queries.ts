/** What is asked of a view. */
import type { CrossReference, View } from "./apply";
import type { Difference, Line, Marked, Standing as OwnWords, Table } from "./described";

/** The kinds in which a line can differ from the text. */
export type Kind = Difference["kinds"][number];

/** Where the words of a line lead. */
export const leadsTo = ({ leads, source }: Line): string => leads[0]?.to ?? source;

/** Under which key it is told what a reference shows, as the core's `shown_as`. */
export const shownAs = (to: string, shows: string, paragraph: string): string => (shows === "way" ? `way ${to} ${paragraph}` : `${shows} ${to}`);

/** The sign of a note; empty while nothing refers to it. */
export const noteSign = (view: View, id: string): string => view.shown.get(shownAs(id, "note", "")) ?? "";

/** What a link or reference reads. */
export const leadWords = (view: View, { paragraph, to, shows, words }: CrossReference): string =>
  shows ? (view.shown.get(shownAs(to, shows, paragraph)) ?? "a reference") : words;

/** How many paragraphs look like headings and are not marked as such. */
export const unmarked = (looks: readonly Marked[]): number =>
  looks.reduce((sum, look) => sum + (look.key.startsWith("look-") ? look.members.length : 0), 0);

/** Whether the heading beneath own words has changed since, so that somebody should choose. */
export const asks = ({ words, then, now }: OwnWords): boolean => words !== null && now !== null && then !== "" && now !== then;

/** Whether a table lists nothing, and has nothing to list. */
export const isEmpty = (table: Table): boolean => table.lines.length === 0 && table.differences.length === 0;

export const linesBehind = (view: View): number =>
  [...view.tables.values()].reduce((sum, table) => sum + table.differences.length, 0);

/** The key of the table at hand: the one chosen, if it is in the text, or else the first. */
export const tableAtHand = (view: View, chosen: string | null): string | null =>
  chosen !== null && view.tables.has(chosen) ? chosen : ([...view.tables.keys()][0] ?? null);

/** How a heading stands to a table: is its line level with the text, behind it, or is it not listed at all. */
export type Standing = "level" | "behind" | "unlisted";

export function standings(table: Table | undefined): (id: string) => Standing {
  if (!table) return () => "unlisted";
  const behind = new Set(table.differences.map((difference) => difference.source));
  const listed = new Set(table.lines.map((line) => line.source));
  return (id) => (behind.has(id) ? "behind" : listed.has(id) ? "level" : "unlisted");
}
