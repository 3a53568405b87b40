/** What the server computes from the text: headings, page edges, markers, tables. Kept level by small changes. */
import { measures, NO_RECIPE, type Measures, type RawMeasures, type Recipe } from "./table-leaf/recipe";

export interface Heading {
  id: string;
  level: number;
  number: string;
  text: string;
  page: number;
  label: string;
  /** Where somebody made an exception of it: it is no heading by its style, or is kept out of tables. */
  byHand: "" | "put in" | "kept out";
}

/** The start of a page: block id, offset in UTF-16 units (or row, in data and placed tables), printed number. */
export interface Edge {
  block: string;
  offset: number;
  label: string;
}

export interface TableLine {
  /** The id of what it stands for, to which it leads. */
  source: string;
  level: number;
  number: string;
  text: string;
  /** The printed numbers of the pages on which that is. */
  pages: readonly string[];
  emphasis: readonly Emphasis[];
  /** Where each of its pages leads, if not to its source; and whether that place says most. */
  leads: readonly (readonly [to: string, main: boolean])[];
}

/** Where the words of a line lead. */
export const leadsTo = ({ leads, source }: TableLine): string => leads[0]?.[0] ?? source;

/** Characters (code points) of a line that are set otherwise than the rest; `how` holds b, i and u. */
export type Emphasis = readonly [start: number, end: number, how: string];

export type Kind = "new" | "gone" | "moved" | "level" | "renamed" | "formatting" | "renumbered" | "page";

export interface Cause {
  who: string;
  at: string;
}

export interface Difference {
  kinds: Kind[];
  source: string;
  issued: TableLine | null;
  fresh: TableLine | null;
  cause: Cause | null;
  /** The source of the line behind which the text gives this one. */
  behind: string | null;
}

/** What is to be known of a table apart from its lines. */
interface RawAbout {
  recipe: Recipe;
  /** The printed number of the sheet on which it begins, and how many it takes. */
  page: string;
  pages: number;
  set: RawMeasures;
  /** Why the text gives it no lines; nothing if there are some. */
  why: string;
  issuedAt: string | null;
  issuedBy: string | null;
  /** Whether it is brought up to date by itself. */
  keepsLevel: boolean;
}

/** Lines that are renumbered since something else has changed: said once. */
export interface Follows {
  sentence: string;
  sources: readonly string[];
}

/** Own words for a line (null: it is left out), the heading's words at the time, and those by now (null: it is gone). */
export interface OwnWords {
  source: string;
  words: string | null;
  then: string;
  now: string | null;
}

export interface Table extends Omit<RawAbout, "set"> {
  set: Measures;
  lines: readonly TableLine[];
  differences: readonly Difference[];
  follows: readonly Follows[];
  own: readonly OwnWords[];
}

/** How paragraphs of one look are set. */
export interface Face {
  font: string;
  size: number;
  bold: boolean;
  italic: boolean;
  underline: boolean;
  colour: string;
}

/** Paragraphs of one look, or those that a rule asks for, and what they are proposed for. */
export interface FoundLook {
  key: string;
  /** The look in words, or the name of the rule. */
  name: string;
  /** The id of the style; null if they are to stay as they are. */
  style: string | null;
  members: readonly string[];
  /** From what it was made, in words. */
  why: string;
  face: Face | null;
  /** Whether numbers are typed in front of them. */
  numbered: boolean;
  /** What others keep since they ask for more: name, and how many. */
  left: readonly (readonly [name: string, count: number])[];
  fault: string;
}

/** The first paragraph of each list of contents that was typed, and of each row of empty paragraphs. */
export interface Leftovers {
  contents: readonly string[];
  rows: readonly string[];
}

/** A structural fault: its kind, the block that has it, and what is wrong there. */
export interface Finding {
  id: string;
  kind: string;
  place: string;
  text: string;
}

/** What a kind of finding is called, why it matters, and what the button for its remedy says; empty if nothing mends it. */
export interface Check {
  name: string;
  why: string;
  saying: string;
}

/** Why a finding is to stay, and who said so, when. */
export interface Aside {
  reason: string;
  who: string;
  at: string;
}

/** What a link or reference can lead to, beside headings. `label` and `number` as they are printed. */
export interface Place {
  id: string;
  kind: "caption" | "bookmark";
  label: string;
  number: string;
  text: string;
  page: number;
}

/** A link within the report (without `shows`), or a reference. `paragraph` is where it stands. */
export interface Lead {
  paragraph: string;
  to: string;
  shows: string;
  words: string;
  page: number;
}

/** Words that cite an authority. */
export interface Cited {
  id: string;
  of: string;
  words: string;
  page: number;
}

/** Words that the index leads to, under one term or several. */
export interface Termed {
  id: string;
  entries: readonly (readonly [terms: readonly string[], main: boolean])[];
  words: string;
  page: number;
}

export interface View {
  /** The printed number of every page. */
  labels: readonly string[];
  headings: readonly Heading[];
  edges: readonly Edge[];
  markers: ReadonlyMap<string, string>;
  /** Room for heading numbers in points, by style. */
  rooms: ReadonlyMap<string, number>;
  /** What stands beneath a block to lead back to the contents, by the block's id. */
  backs: ReadonlyMap<string, string>;
  /** What stands in front of the words of a caption, by its id. */
  captions: ReadonlyMap<string, string>;
  /** What references show, by the core's `shown_as`. */
  shown: ReadonlyMap<string, string>;
  /** Captions and bookmarks, in reading order. */
  places: readonly Place[];
  /** Links within the report and references, in reading order. */
  leads: readonly Lead[];
  /** Citations, and words marked for the index, in reading order. */
  cited: readonly Cited[];
  terms: readonly Termed[];
  /** Whether there is a place with this id that a link can lead to. */
  reaches: (id: string) => boolean;
  tables: ReadonlyMap<string, Table>;
  /** What looks like headings and is not marked as such, and what rules ask for. */
  looks: readonly FoundLook[];
  leftovers: Leftovers;
  /** By kind, and then in reading order. */
  findings: readonly Finding[];
  checks: ReadonlyMap<string, Check>;
  /** By id of the finding. */
  aside: ReadonlyMap<string, Aside>;
}

type RawFace = [font: string, size: number, bold: boolean, italic: boolean, underline: boolean, capitals: boolean, colour: string, align: string];
type RawFoundLook = [
  key: string,
  name: string,
  style: string | null,
  members: string[],
  why: string,
  face: RawFace | null,
  numbered: boolean,
  left: [string, number][],
  fault: string,
];
type RawHeading = [id: string, level: number, number: string, text: string, byHand: Heading["byHand"]];
type RawPlace = [id: string, kind: Place["kind"], label: string, number: string, text: string];
type RawLead = [paragraph: string, to: string, shows: string, words: string];
type RawEdge = [block: string, offset: number];
export type RawLine = [source: string, level: number, number: string, text: string, pages: string[], emphasis: Emphasis[], leads?: [to: string, main: boolean][]];
type RawCited = [id: string, of: string, words: string];
type RawTermed = [id: string, entries: [terms: string[], main: boolean][], words: string];
type RawOwn = [source: string, words: string | null, then: string, now: string | null];
type RawDifference = [kinds: Kind[], issued: RawLine | null, fresh: RawLine | null, cause: Cause | null, behind: string | null];

interface Splice<T> {
  at: number;
  remove: number;
  insert: T[];
}

interface TableChanges {
  about?: Partial<RawAbout>;
  lines?: Splice<RawLine>;
  differences?: Splice<RawDifference>;
  follows?: Splice<[sentence: string, sources: string[]]>;
  own?: Splice<RawOwn>;
}

/** What the server sends after each edit, and when the room is entered: what differs from the view before. */
export interface Changes {
  labels?: Splice<string>;
  headings?: Splice<RawHeading>;
  /** The page of every heading. */
  on?: Splice<number>;
  edges?: Splice<RawEdge>;
  markers?: Record<string, string | null>;
  rooms?: Record<string, number | null>;
  backs?: Record<string, string | null>;
  captions?: Record<string, string | null>;
  shown?: Record<string, string | null>;
  places?: Splice<RawPlace>;
  /** The page of every place, and of every lead. */
  places_on?: Splice<number>;
  leads?: Splice<RawLead>;
  leads_on?: Splice<number>;
  cited?: Splice<RawCited>;
  cited_on?: Splice<number>;
  terms?: Splice<RawTermed>;
  terms_on?: Splice<number>;
  tables?: Record<string, TableChanges | null>;
  looks?: Splice<RawFoundLook>;
  leftovers?: Partial<Leftovers>;
  findings?: Splice<[id: string, kind: string, place: string, text: string]>;
  checks?: Record<string, [name: string, why: string, saying: string]>;
  set_aside?: Record<string, [reason: string, who: string, at: string] | null>;
}

export const EMPTY_VIEW: View = {
  labels: [],
  headings: [],
  edges: [],
  markers: new Map(),
  rooms: new Map(),
  backs: new Map(),
  captions: new Map(),
  shown: new Map(),
  places: [],
  leads: [],
  cited: [],
  terms: [],
  reaches: () => false,
  tables: new Map(),
  looks: [],
  leftovers: { contents: [], rows: [] },
  findings: [],
  checks: new Map(),
  aside: new Map(),
};

const EMPTY_TABLE: Table = {
  recipe: NO_RECIPE,
  page: "1",
  pages: 1,
  set: measures([0, 0, [], [], [], [], []]),
  why: "",
  issuedAt: null,
  issuedBy: null,
  keepsLevel: false,
  lines: [],
  differences: [],
  follows: [],
  own: [],
};

const asItIs = <T>(value: T): T => value;

export function applyChanges(view: View, changes: Changes): View {
  const labels = spliced(view.labels, changes.labels, asItIs<string>);
  const headings = headingsOf(view, changes, labels);
  const places = paged(view.places, changes.places, changes.places_on, ([id, kind, label, number, text]: RawPlace) => ({ id, kind, label, number, text }));
  return {
    labels,
    headings,
    captions: merged(view.captions, changes.captions, asItIs<string>),
    shown: merged(view.shown, changes.shown, asItIs<string>),
    places,
    leads: paged(view.leads, changes.leads, changes.leads_on, ([paragraph, to, shows, words]: RawLead) => ({ paragraph, to, shows, words })),
    cited: paged(view.cited, changes.cited, changes.cited_on, ([id, of, words]: RawCited) => ({ id, of, words })),
    terms: paged(view.terms, changes.terms, changes.terms_on, ([id, entries, words]: RawTermed) => ({ id, entries, words })),
    reaches: changes.headings || changes.places ? reaching(headings, places) : view.reaches,
    edges: edgesOf(view, changes, labels),
    markers: merged(view.markers, changes.markers, asItIs<string>),
    rooms: merged(view.rooms, changes.rooms, asItIs<number>),
    backs: merged(view.backs, changes.backs, asItIs<string>),
    tables: tablesOf(view.tables, changes.tables),
    looks: spliced(view.looks, changes.looks, foundLook),
    leftovers: changes.leftovers ? { ...view.leftovers, ...changes.leftovers } : view.leftovers,
    findings: spliced(view.findings, changes.findings, ([id, kind, place, text]) => ({ id, kind, place, text })),
    checks: merged(view.checks, changes.checks, ([name, why, saying]) => ({ name, why, saying })),
    aside: merged(view.aside, changes.set_aside, ([reason, who, at]) => ({ reason, who, at })),
  };
}

const foundLook = ([key, name, style, members, why, face, numbered, left, fault]: RawFoundLook): FoundLook => ({
  key,
  name,
  style,
  members,
  why,
  face: face && { font: face[0], size: face[1], bold: face[2], italic: face[3], underline: face[4], colour: face[6] },
  numbered,
  left,
  fault,
});

function headingsOf(view: View, changes: Changes, labels: readonly string[]): readonly Heading[] {
  if (!changes.headings && !changes.on && !changes.labels) return view.headings;
  const pages = spliced(view.headings.map((heading) => heading.page), changes.on, asItIs<number>);
  const unplaced = spliced(view.headings, changes.headings, ([id, level, number, text, byHand]: RawHeading): Heading => ({
    id,
    level,
    number,
    text,
    page: 0,
    label: "",
    byHand,
  }));
  return unplaced.map((heading, index) => {
    const page = pages[index] ?? 1;
    const label = labels[page - 1] ?? "";
    return heading.page === page && heading.label === label ? heading : { ...heading, page, label };
  });
}

/** A list of things, each with its page. */
function paged<Raw, T extends { page: number }>(
  list: readonly T[],
  splice: Splice<Raw> | undefined,
  on: Splice<number> | undefined,
  read: (raw: Raw) => Omit<T, "page">,
): readonly T[] {
  if (!splice && !on) return list;
  const pages = spliced(list.map(({ page }) => page), on, asItIs<number>);
  const unplaced = spliced(list, splice, (raw: Raw) => ({ ...read(raw), page: 0 }) as T);
  return unplaced.map((one, index) => (one.page === pages[index] ? one : { ...one, page: pages[index] ?? 1 }));
}

/** Under which key it is told what a reference shows, as the core's `shown_as`. */
export const shownAs = (to: string, shows: string, paragraph: string): string => (shows === "way" ? `way ${to} ${paragraph}` : `${shows} ${to}`);

/** What a link or reference reads. */
export const leadWords = (view: View, { paragraph, to, shows, words }: Lead): string =>
  shows ? (view.shown.get(shownAs(to, shows, paragraph)) ?? "a reference") : words;

function reaching(headings: readonly Heading[], places: readonly Place[]): (id: string) => boolean {
  const ids = new Set([...headings, ...places].map(({ id }) => id));
  return (id) => ids.has(id);
}

function edgesOf(view: View, changes: Changes, labels: readonly string[]): readonly Edge[] {
  if (!changes.edges && !changes.labels) return view.edges;
  const unlabelled = spliced(view.edges, changes.edges, ([block, offset]: RawEdge): Edge => ({ block, offset, label: "" }));
  return unlabelled.map((edge, index) => {
    const label = labels[index + 1] ?? "";
    return edge.label === label ? edge : { ...edge, label };
  });
}

function tablesOf(tables: ReadonlyMap<string, Table>, changes: Changes["tables"]): ReadonlyMap<string, Table> {
  if (!changes) return tables;
  const result = new Map(tables);
  for (const [key, change] of Object.entries(changes)) {
    const before = tables.get(key) ?? EMPTY_TABLE;
    if (change === null) result.delete(key);
    else {
      const { set, ...about } = change.about ?? {};
      result.set(key, {
        ...before,
        ...about,
        set: set ? measures(set) : before.set,
        lines: spliced(before.lines, change.lines, lineOf),
        differences: spliced(before.differences, change.differences, difference),
        follows: spliced(before.follows, change.follows, ([sentence, sources]) => ({ sentence, sources })),
        own: spliced(before.own, change.own, ([source, words, then, now]) => ({ source, words, then, now })),
      });
    }
  }
  return result;
}

export const lineOf = ([source, level, number, text, pages, emphasis, leads = []]: RawLine): TableLine => ({ source, level, number, text, pages, emphasis, leads });

const difference = ([kinds, issued, fresh, cause, behind]: RawDifference): Difference => ({
  kinds,
  source: (fresh ?? issued)?.[0] ?? "",
  issued: issued && lineOf(issued),
  fresh: fresh && lineOf(fresh),
  cause,
  behind,
});

function spliced<Raw, T>(list: readonly T[], splice: Splice<Raw> | undefined, read: (raw: Raw) => T): readonly T[] {
  if (!splice) return list;
  const { at, remove, insert } = splice;
  return [...list.slice(0, at), ...insert.map(read), ...list.slice(at + remove)];
}

function merged<T, Raw = T>(
  map: ReadonlyMap<string, T>,
  changes: Record<string, Raw | null> | undefined,
  read: (raw: Raw) => T,
): ReadonlyMap<string, T> {
  if (!changes) return map;
  const result = new Map(map);
  for (const [key, value] of Object.entries(changes)) {
    if (value === null) result.delete(key);
    else result.set(key, read(value));
  }
  return result;
}

/** How many paragraphs look like headings and are not marked as such. */
export const unmarked = (looks: readonly FoundLook[]): number =>
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
