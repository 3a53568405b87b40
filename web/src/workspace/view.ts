/** What the server computes from the text: headings, page edges, markers, tables. Kept level by small changes. */

export interface Heading {
  id: string;
  level: number;
  number: string;
  text: string;
  page: number;
  label: string;
}

/** The start of a page: block id, offset in UTF-16 units (or row, in data and placed tables), printed number. */
export interface Edge {
  block: string;
  offset: number;
  label: string;
}

export interface TableLine {
  heading: string;
  level: number;
  number: string;
  text: string;
  page: string;
}

export type Kind = "new" | "gone" | "moved" | "level" | "renamed" | "renumbered" | "page";

export interface Difference {
  kinds: Kind[];
  heading: string;
  issued: TableLine | null;
  fresh: TableLine | null;
  change: { who: string; at: string } | null;
}

export interface Table {
  title: string;
  levels: number[];
  leader: string;
  page: number;
  issuedAt: string | null;
  issuedBy: string | null;
  lines: TableLine[];
  differences: Difference[];
}

export interface View {
  pages: number;
  headings: readonly Heading[];
  edges: readonly Edge[];
  markers: ReadonlyMap<string, string>;
  tables: ReadonlyMap<string, Table>;
}

type RawHeading = [string, number, string, string, number, string];
type RawEdge = [string, number, string];

export interface RawView {
  pages: number;
  headings: RawHeading[];
  edges: RawEdge[];
  markers: Record<string, string>;
  tables: Record<string, Table>;
}

interface Splice<T> {
  at: number;
  remove: number;
  insert: T[];
}

export interface Changes {
  pages?: number;
  headings?: Splice<RawHeading>;
  edges?: Splice<RawEdge>;
  markers?: Record<string, string | null>;
  /** A table whose lines are as before comes without them. */
  tables?: Record<string, (Omit<Table, "lines"> & { lines?: TableLine[] }) | null>;
}

export const EMPTY_VIEW: View = { pages: 1, headings: [], edges: [], markers: new Map(), tables: new Map() };

const heading = ([id, level, number, text, page, label]: RawHeading): Heading => ({ id, level, number, text, page, label });
const edge = ([block, offset, label]: RawEdge): Edge => ({ block, offset, label });

export const fullView = (raw: RawView): View => ({
  pages: raw.pages,
  headings: raw.headings.map(heading),
  edges: raw.edges.map(edge),
  markers: new Map(Object.entries(raw.markers)),
  tables: new Map(Object.entries(raw.tables)),
});

export const applyChanges = (view: View, changes: Changes): View => ({
  pages: changes.pages ?? view.pages,
  headings: spliced(view.headings, changes.headings, heading),
  edges: spliced(view.edges, changes.edges, edge),
  markers: merged(view.markers, changes.markers),
  tables: mergedTables(view.tables, changes.tables),
});

function spliced<Raw, T>(list: readonly T[], splice: Splice<Raw> | undefined, read: (raw: Raw) => T): readonly T[] {
  if (!splice) return list;
  const { at, remove, insert } = splice;
  return [...list.slice(0, at), ...insert.map(read), ...list.slice(at + remove)];
}

function merged<T>(map: ReadonlyMap<string, T>, changes: Record<string, T | null> | undefined): ReadonlyMap<string, T> {
  if (!changes) return map;
  const result = new Map(map);
  for (const [key, value] of Object.entries(changes)) {
    if (value === null) result.delete(key);
    else result.set(key, value);
  }
  return result;
}

function mergedTables(tables: ReadonlyMap<string, Table>, changes: Changes["tables"]): ReadonlyMap<string, Table> {
  if (!changes) return tables;
  const whole = Object.entries(changes).map(([key, table]) => [
    key,
    table && { ...table, lines: table.lines ?? tables.get(key)?.lines ?? [] },
  ]);
  return merged(tables, Object.fromEntries(whole) as Record<string, Table | null>);
}

export const linesBehind = (view: View): number =>
  [...view.tables.values()].reduce((sum, table) => sum + table.differences.length, 0);

/** How a heading stands to a table: is its line level with the text, behind it, or is it not listed at all. */
export type Standing = "level" | "behind" | "unlisted";

export function standings(table: Table | undefined): (id: string) => Standing {
  if (!table) return () => "unlisted";
  const behind = new Set(table.differences.map((difference) => difference.heading));
  const listed = new Set(table.lines.map((line) => line.heading));
  return (id) => (behind.has(id) ? "behind" : listed.has(id) ? "level" : "unlisted");
}
