/** What the server computes from the text, as it is sent: made by `make types` from `server/rooms/followers`, never by hand. */
import { asItIs, list, map, mapOf, parts, single, type ChangesOf } from "./wire";

export interface Heading {
  readonly id: string;
  readonly level: number;
  readonly number: string;
  readonly text: string;
  /** Where somebody made an exception of it: it is no heading by its style, or is kept out of tables. */
  readonly by_hand: "" | "put in" | "kept out";
  /** Whether it begins a new page or goes on on the page, where that is said of it alone. */
  readonly own_page: boolean | null;
}
export type HeadingRow = readonly [id: string, level: number, number: string, text: string, by_hand: "" | "put in" | "kept out", own_page: boolean | null];
export const readHeading = ([id, level, number, text, by_hand, own_page]: HeadingRow): Heading => ({ id, level, number, text, by_hand, own_page });

/** A part of the report that has pages; `first` and `last` of them, as sheets counted from 1. */
export interface PartOnPages {
  readonly id: string;
  readonly first: number;
  readonly last: number;
}
export type PartOnPagesRow = readonly [id: string, first: number, last: number];
export const readPartOnPages = ([id, first, last]: PartOnPagesRow): PartOnPages => ({ id, first, last });

/** The start of a page. */
export interface Edge {
  readonly block: string;
  /** In UTF-16 units; in data tables and placed tables the row. */
  readonly offset: number;
}
export type EdgeRow = readonly [block: string, offset: number];
export const readEdge = ([block, offset]: EdgeRow): Edge => ({ block, offset });

/** What a link or reference can lead to, beside headings. `label` and `number` as they are printed. */
export interface Place {
  readonly id: string;
  /** See the core's `place_kinds`. */
  readonly kind: string;
  readonly label: string;
  readonly number: string;
  readonly text: string;
}
export type PlaceRow = readonly [id: string, kind: string, label: string, number: string, text: string];
export const readPlace = ([id, kind, label, number, text]: PlaceRow): Place => ({ id, kind, label, number, text });

/** A reference, or a link within the report, which shows nothing of its own but `words`. */
export interface CrossReference {
  /** Where it stands. */
  readonly paragraph: string;
  readonly to: string;
  readonly shows: string;
  readonly words: string;
}
export type CrossReferenceRow = readonly [paragraph: string, to: string, shows: string, words: string];
export const readCrossReference = ([paragraph, to, shows, words]: CrossReferenceRow): CrossReference => ({ paragraph, to, shows, words });

/** Words that cite an authority, `of`. */
export interface Cited {
  readonly id: string;
  readonly of: string;
  readonly words: string;
}
export type CitedRow = readonly [id: string, of: string, words: string];
export const readCited = ([id, of, words]: CitedRow): Cited => ({ id, of, words });

/** A term of the index, at most three deep; `main` for the place that says most about it. */
export interface Entry {
  readonly terms: readonly string[];
  readonly main: boolean;
}
export type EntryRow = readonly [terms: readonly string[], main: boolean];
export const readEntry = ([terms, main]: EntryRow): Entry => ({ terms, main });

/** Words that the index leads to, under one term or several. */
export interface Termed {
  readonly id: string;
  readonly entries: readonly Entry[];
  readonly words: string;
}
export type TermedRow = readonly [id: string, entries: readonly EntryRow[], words: string];
export const readTermed = ([id, entries, words]: TermedRow): Termed => ({ id, entries: entries.map(readEntry), words });

/** How the lines of one level look. */
export interface LevelLook {
  readonly indent: number;
  /** How much further the second and all following rows of a line are indented. */
  readonly hang: number;
  readonly font: string;
  readonly size: number;
  readonly bold: boolean;
  readonly italic: boolean;
  readonly colour: string;
  readonly capitals: boolean;
  /** Whether its lines have their page numbers, in a table that has any. */
  readonly page_number: boolean;
  readonly space_before: number;
  readonly space_after: number;
  /** As a multiple of the size. */
  readonly line_spacing: number;
}

/** What one table is made by. Raises SettingError for what cannot be used. */
export interface Recipe {
  /** What it lists: see `tables/kinds.py`. */
  readonly kind: string;
  /** Nothing for a table without a title. */
  readonly title: string;
  /** The id of the style of its title; nothing for that of the role `table-title`. */
  readonly title_style: string;
  /** Whether the title stands over each further page as well, and says that the table goes on. */
  readonly continued: boolean;
  readonly levels: readonly number[];
  /** Lists what stands beneath the heading with this id, or in the section where it is placed (`HERE`); or all. */
  readonly section: string;
  /** The level at which paragraphs of a style are listed, by its id, where that is not its outline level; 0 keeps them out. */
  readonly feeds: Readonly<Record<string, number>>;
  /** The id of the label whose captions it lists, where it lists captions. */
  readonly label: string;
  /** Whether captions are listed up to their first full stop only. */
  readonly first_sentence: boolean;
  /** The ids of the categories of authorities that it lists; none for all. */
  readonly categories: readonly string[];
  /** The number of pages from which on "passim" is printed in place of them (common practice, no source); 0 for never. */
  readonly passim: number;
  /** How many pages that follow each other are printed as a range, at least; 0 for none but those of one place. */
  readonly ranges: number;
  /** Whose order the lines have, where they are in the order of an alphabet; nothing for that of the report. */
  readonly language: string;
  /** Whether spaces and hyphens count for nothing in that order. */
  readonly by_letter: boolean;
  /** Whether lines of the third level and deeper stand behind the one above them, and not on rows of their own; not with page numbers at the edge. */
  readonly run_in: boolean;
  /** Whether page numbers stand at the right edge or right behind the words. */
  readonly page_numbers: "edge" | "words" | "none";
  /** What stands between the words and a page number behind them. */
  readonly separator: string;
  /** What leads to page numbers at the edge, over and over; `_` is a continuous line. */
  readonly leader: string;
  /** From one leader character to the next; in all lines these stand in the same columns. */
  readonly leader_step: number;
  /** Whether heading numbers stand in front of the words, hang in a column of their own level, or all at the left edge. */
  readonly numbers: "run in" | "hung" | "margin" | "none";
  readonly links: boolean;
  readonly look_like_links: boolean;
  readonly columns: 1 | 2;
  /** Whether there is a thin rule beneath each line, or beneath those of the highest level. */
  readonly ruled: "none" | "lines" | "sections";
  /** Whether italics, bold and underlined words in a heading are so in its line. */
  readonly formatting: boolean;
  readonly looks: readonly LevelLook[];
}

export const EMPTY_RECIPE: Recipe = {"kind": "contents", "title": "Contents", "title_style": "", "continued": false, "levels": [1, 2, 3], "section": "", "feeds": {}, "label": "", "first_sentence": false, "categories": [], "passim": 5, "ranges": 3, "language": "", "by_letter": false, "run_in": false, "page_numbers": "edge", "separator": " ", "leader": ".", "leader_step": 4.5, "numbers": "run in", "links": true, "look_like_links": false, "columns": 1, "ruled": "none", "formatting": true, "looks": [{"indent": 0.0, "hang": 0.0, "font": "Carlito", "size": 11.0, "bold": true, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 7.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 16.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 32.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 48.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 64.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 80.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 96.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 112.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}, {"indent": 128.0, "hang": 0.0, "font": "Carlito", "size": 10.5, "bold": false, "italic": false, "colour": "#000000", "capitals": false, "page_number": true, "space_before": 1.0, "space_after": 2.0, "line_spacing": 1.35}]};

/** What all lines of a table have in common. By level, from 1, where there are several. */
export interface Measures {
  /** Width of a column of lines. */
  readonly column: number;
  /** Width kept free for page numbers at its right edge. */
  readonly pages: number;
  /** Room for heading numbers that hang; 0 where none does. */
  readonly number_widths: readonly number[];
  /** As far as there is room for them. */
  readonly indents: readonly number[];
  /** How much further all rows but the first are indented, as far as there is room for it. */
  readonly hangs: readonly number[];
  /** Width of one figure of a page number. */
  readonly figures: readonly number[];
  /** Width of the leader's character. */
  readonly leaders: readonly number[];
}

export const EMPTY_MEASURES: Measures = {"column": 0.0, "pages": 0.0, "number_widths": [], "indents": [], "hangs": [], "figures": [], "leaders": []};

/** Who brought a table up to date last, and when (ISO 8601); and whether that is done by itself. */
export interface Issuance {
  readonly at: string | null;
  readonly by: string | null;
  readonly keeps_level: boolean;
}
export type IssuanceRow = readonly [at: string | null, by: string | null, keeps_level: boolean];
export const readIssuance = ([at, by, keeps_level]: IssuanceRow): Issuance => ({ at, by, keeps_level });

/** A stretch of a line's words (from character `start` to before `end`) that is set otherwise than the rest. `how` holds "i" for italic, "b" for bold, "u" for underlined. */
export interface Emphasis {
  readonly start: number;
  readonly end: number;
  readonly how: string;
}
export type EmphasisRow = readonly [start: number, end: number, how: string];
export const readEmphasis = ([start, end, how]: EmphasisRow): Emphasis => ({ start, end, how });

/** Where a page number leads: the id of a place. `main` for the one that says most. */
export interface Lead {
  readonly to: string;
  readonly main: boolean;
}
export type LeadRow = readonly [to: string, main: boolean];
export const readLead = ([to, main]: LeadRow): Lead => ({ to, main });

/** One entry of a table. */
export interface Line {
  /** The id of what it stands for, to which it leads. */
  readonly source: string;
  readonly level: number;
  readonly number: string;
  readonly text: string;
  /** The printed numbers of the pages on which that is; one, or several. */
  readonly pages: readonly string[];
  readonly emphasis: readonly Emphasis[];
  /** Where each of its pages leads, if not to its source. */
  readonly leads: readonly Lead[];
}
export type LineRow = readonly [source: string, level: number, number: string, text: string, pages: readonly string[], emphasis: readonly EmphasisRow[], leads: readonly LeadRow[]];
export const readLine = ([source, level, number, text, pages, emphasis, leads]: LineRow): Line => ({ source, level, number, text, pages, emphasis: emphasis.map(readEmphasis), leads: leads.map(readLead) });

/** Who did it, and when (ISO 8601). */
export interface Cause {
  readonly who: string;
  readonly at: string;
}
export type CauseRow = readonly [who: string, at: string];
export const readCause = ([who, at]: CauseRow): Cause => ({ who, at });

/** How a line differs from the text. */
export interface Difference {
  readonly kinds: readonly ("new" | "gone" | "moved" | "level" | "renamed" | "formatting" | "renumbered" | "page")[];
  readonly source: string;
  readonly issued: Line | null;
  readonly fresh: Line | null;
  readonly cause: Cause | null;
  /** The source of the line behind which the text gives this one. */
  readonly after: string | null;
}
export type DifferenceRow = readonly [kinds: readonly ("new" | "gone" | "moved" | "level" | "renamed" | "formatting" | "renumbered" | "page")[], source: string, issued: LineRow | null, fresh: LineRow | null, cause: CauseRow | null, after: string | null];
export const readDifference = ([kinds, source, issued, fresh, cause, after]: DifferenceRow): Difference => ({ kinds, source, issued: issued && readLine(issued), fresh: fresh && readLine(fresh), cause: cause && readCause(cause), after });

/** Lines that are renumbered since something else has changed: said once. */
export interface Renumbering {
  readonly sentence: string;
  readonly sources: readonly string[];
}
export type RenumberingRow = readonly [sentence: string, sources: readonly string[]];
export const readRenumbering = ([sentence, sources]: RenumberingRow): Renumbering => ({ sentence, sources });

/** How own words stand to the text. `now`: the heading's words by now; None if it is not in the text any more. */
export interface Standing {
  readonly source: string;
  readonly words: string | null;
  readonly then: string;
  readonly now: string | null;
}
export type StandingRow = readonly [source: string, words: string | null, then: string, now: string | null];
export const readStanding = ([source, words, then, now]: StandingRow): Standing => ({ source, words, then, now });

/** A placed table: what is to be known about it, its issued lines, and how each differs from the text. */
export interface Table {
  readonly recipe: Recipe;
  /** The printed number of the sheet on which it begins. */
  readonly page: string;
  /** How many it takes. */
  readonly pages: number;
  /** The measures by which its lines are set. */
  readonly set: Measures;
  /** Why the text gives it no lines; nothing if there are some. */
  readonly why: string;
  readonly issuance: Issuance;
  readonly lines: readonly Line[];
  readonly differences: readonly Difference[];
  /** What merely renumbers lines. */
  readonly renumbered: readonly Renumbering[];
  /** Own words, and how they stand to the text. */
  readonly own: readonly Standing[];
}

const PARTS_OF_TABLE = parts({
  recipe: single<Recipe, Recipe>(asItIs<Recipe>, EMPTY_RECIPE),
  page: single<string, string>(asItIs<string>, "1"),
  pages: single<number, number>(asItIs<number>, 1),
  set: single<Measures, Measures>(asItIs<Measures>, EMPTY_MEASURES),
  why: single<string, string>(asItIs<string>, ""),
  issuance: single<Issuance, IssuanceRow>(readIssuance, [null, null, false]),
  lines: list(readLine),
  differences: list(readDifference),
  renumbered: list(readRenumbering),
  own: list(readStanding),
});

/** How a paragraph is set, whether its style or somebody's hand makes it so. */
export interface Face {
  readonly font: string;
  readonly size: number;
  readonly bold: boolean;
  readonly italic: boolean;
  readonly underline: boolean;
  readonly capitals: boolean;
  readonly colour: string;
  readonly align: "left" | "center" | "right" | "justify";
}
export type FaceRow = readonly [font: string, size: number, bold: boolean, italic: boolean, underline: boolean, capitals: boolean, colour: string, align: "left" | "center" | "right" | "justify"];
export const readFace = ([font, size, bold, italic, underline, capitals, colour, align]: FaceRow): Face => ({ font, size, bold, italic, underline, capitals, colour, align });

/** Paragraphs of one look or rule, and the style that they get (None: they stay as they are). `why`: from what it was made, in words; `face`: how the first of them is set; `numbered`: whether numbers are typed in front of them. `left`: paragraphs that it asks for and others get, since these ask for more: by name of the others, how many. `fault`: why it takes none. */
export interface Marked {
  readonly key: string;
  readonly name: string;
  readonly style: string | null;
  readonly members: readonly string[];
  readonly why: string;
  readonly face: Face | null;
  readonly numbered: boolean;
  readonly left: readonly (readonly [string, number])[];
  readonly fault: string;
}
export type MarkedRow = readonly [key: string, name: string, style: string | null, members: readonly string[], why: string, face: FaceRow | null, numbered: boolean, left: readonly (readonly [string, number])[], fault: string];
export const readMarked = ([key, name, style, members, why, face, numbered, left, fault]: MarkedRow): Marked => ({ key, name, style, members, why, face: face && readFace(face), numbered, left, fault });

/** The first paragraph of each list of contents that was typed, and of each row of empty paragraphs. */
export interface Leftovers {
  readonly contents: readonly string[];
  readonly rows: readonly string[];
}
export type LeftoversRow = readonly [contents: readonly string[], rows: readonly string[]];
export const readLeftovers = ([contents, rows]: LeftoversRow): Leftovers => ({ contents, rows });

/** `id` stays as long as the fault is there; `place` is the id of its block, `text` says what is wrong with it. */
export interface Finding {
  readonly id: string;
  readonly kind: string;
  readonly place: string;
  readonly text: string;
}
export type FindingRow = readonly [id: string, kind: string, place: string, text: string];
export const readFinding = ([id, kind, place, text]: FindingRow): Finding => ({ id, kind, place, text });

/** What a kind of finding is called, why it matters, and what the button for its remedy says; empty if nothing mends it. */
export interface Check {
  readonly name: string;
  readonly why: string;
  readonly label: string;
}
export type CheckRow = readonly [name: string, why: string, label: string];
export const readCheck = ([name, why, label]: CheckRow): Check => ({ name, why, label });

/** Words that are kept, in one section: who wrote them, when last (ISO 8601), and who took out what they stood in. `writer` and `remover`: these by number. `rows`: under which numbers they are kept; `words`: how many they are; `paragraphs`: what they say, of each paragraph; `place`: the block behind which they stood. */
export interface Kept {
  readonly id: string;
  readonly writer: number | null;
  readonly remover: number | null;
  readonly text: string;
  readonly at: string;
  readonly words: number;
  readonly paragraphs: readonly string[];
  readonly place: string;
  readonly rows: readonly number[];
}
export type KeptRow = readonly [id: string, writer: number | null, remover: number | null, text: string, at: string, words: number, paragraphs: readonly string[], place: string, rows: readonly number[]];
export const readKept = ([id, writer, remover, text, at, words, paragraphs, place, rows]: KeptRow): Kept => ({ id, writer, remover, text, at, words, paragraphs, place, rows });

/** Why a finding is to stay, and who said so, when (ISO 8601). */
export interface SetAside {
  readonly reason: string;
  readonly who: string;
  readonly at: string;
}
export type SetAsideRow = readonly [reason: string, who: string, at: string];
export const readSetAside = ([reason, who, at]: SetAsideRow): SetAside => ({ reason, who, at });

/** All that is sent of a report, by name of what computes it. */
export interface Values {
  readonly headings: readonly Heading[];
  /** The page of each of `headings`, counted from 1. */
  readonly headings_on: readonly number[];
  /** What stands in front of items of lists, by their ids. */
  readonly markers: ReadonlyMap<string, string>;
  /** The printed number of every page. */
  readonly labels: readonly string[];
  /** The parts of the report, one at least. */
  readonly parts: readonly PartOnPages[];
  /** The start of every page but the first. */
  readonly edges: readonly Edge[];
  /** Room for heading numbers in points, by style. */
  readonly number_widths: ReadonlyMap<string, number>;
  /** What stands beneath a block to lead back to the contents, by the block's id. */
  readonly backs: ReadonlyMap<string, string>;
  /** What stands in front of the words of a caption, by its id. */
  readonly captions: ReadonlyMap<string, string>;
  /** What references show, by the core's `shown_as`. */
  readonly shown: ReadonlyMap<string, string>;
  /** Captions, bookmarks and other such places, in reading order. */
  readonly places: readonly Place[];
  /** The page of each of `places`, counted from 1. */
  readonly places_on: readonly number[];
  /** References and links within the report, in reading order; without the signs of notes, which are a list of their own. */
  readonly leads: readonly CrossReference[];
  /** Where the paragraph of each of these begins. */
  readonly leads_on: readonly number[];
  /** Citations, in reading order. */
  readonly cited: readonly Cited[];
  /** The page of each of `cited`, counted from 1. */
  readonly cited_on: readonly number[];
  /** Words marked for the index, in reading order. */
  readonly terms: readonly Termed[];
  /** Where each of these begins. */
  readonly terms_on: readonly number[];
  /** By key. */
  readonly tables: ReadonlyMap<string, Table>;
  /** What looks like headings and is not marked as such, and what rules ask for. */
  readonly looks: readonly Marked[];
  readonly leftovers: Leftovers;
  /** By kind, and then in reading order. */
  readonly findings: readonly Finding[];
  /** The kinds of finding. */
  readonly checks: ReadonlyMap<string, Check>;
  /** Words that were written in what another had taken out, and wait for somebody to deal with them. */
  readonly kept: readonly Kept[];
  /** By id of the finding. */
  readonly set_aside: ReadonlyMap<string, SetAside>;
}

export const PARTS = {
  headings: list(readHeading),
  headings_on: list(asItIs<number>),
  markers: map(asItIs<string>),
  labels: list(asItIs<string>),
  parts: list(readPartOnPages),
  edges: list(readEdge),
  number_widths: map(asItIs<number>),
  backs: map(asItIs<string>),
  captions: map(asItIs<string>),
  shown: map(asItIs<string>),
  places: list(readPlace),
  places_on: list(asItIs<number>),
  leads: list(readCrossReference),
  leads_on: list(asItIs<number>),
  cited: list(readCited),
  cited_on: list(asItIs<number>),
  terms: list(readTermed),
  terms_on: list(asItIs<number>),
  tables: mapOf(PARTS_OF_TABLE),
  looks: list(readMarked),
  leftovers: single<Leftovers, LeftoversRow>(readLeftovers, [[], []]),
  findings: list(readFinding),
  checks: map(readCheck),
  kept: list(readKept),
  set_aside: map(readSetAside),
};

/** What is sent after each edit, and when the room is entered. */
export type Changes = ChangesOf<typeof PARTS>;

/** The lists whose rows have a page each, and under which name that is sent. */
export const PAGES = {
  headings: "headings_on",
  places: "places_on",
  leads: "leads_on",
  cited: "cited_on",
  terms: "terms_on",
} as const;
