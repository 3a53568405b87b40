/** Settings of a sheet in words: for where a report departs from its house sheet. */
import type { Departure } from "../../../api/client";
import { FORMS, valueInWords, type Property } from "../../controls/look";

export const SCHEMES = [
  ["none", "no numbers"],
  ["decimal", "1, 1.1, 1.1.1"],
  ["outline", "I., A., 1., a."],
  ["legal", "Article 1, § 1.1, (a)"],
  ["chapters", "Part I, Chapter 1, 1.1"],
] as const;

export const FIGURES = [
  ["decimal", "1, 2, 3"],
  ["upper-roman", "I, II, III"],
  ["lower-roman", "i, ii, iii"],
  ["upper-letter", "A, B, C"],
  ["lower-letter", "a, b, c"],
] as const;

const POINTS_A_MM = 72 / 25.4;

export const mm = (points: number) => Math.round((points / POINTS_A_MM) * 10) / 10;
export const pointsOf = (millimetres: number) => Math.round(millimetres * POINTS_A_MM * 100) / 100;

const isProperty = (name: string): name is Property => name in FORMS;

const SWITCHES: Record<string, readonly [on: string, off: string]> = {
  keep_with_next: ["stays with what follows", "may part from what follows"],
  hyphenate: ["parts words at the ends of lines", "keeps words whole"],
  keep_together: ["keeps its lines on one page", "may be parted"],
  new_page: ["begins a new page", "goes on on the page"],
  on: ["is numbered", "has no number"],
  restarts: ["is counted anew in each section", "is counted through"],
  mirrored: ["has its margins mirrored on left-hand pages", "has the same margins on all pages"],
  head_rule: ["has a line under the head", "has no line under the head"],
  foot_rule: ["has a line over the foot", "has no line over the foot"],
};

/** What settings of pages are called. */
export const PAGE: Record<string, string> = {
  width: "Paper width",
  height: "Paper height",
  top: "Upper margin",
  bottom: "Lower margin",
  left: "Left margin",
  right: "Right margin",
  columns: "Columns",
  column_gap: "Room between columns",
  left_pages: "Left-hand pages",
  first_page: "The first page",
  version: "The version",
  picture: "The picture at head and foot",
  picture_height: "Height of the picture at head and foot",
  front: "Front pages",
  back_level: "Ways back end sections of level",
  back_says: "Ways back say",
};
const RUNNING = { head_left: "The head, left,", head_middle: "The head, in the middle,", head_right: "The head, right,", foot_left: "The foot, left,", foot_middle: "The foot, in the middle,", foot_right: "The foot, right," };
for (const [name, words] of Object.entries(RUNNING)) {
  PAGE[name] = words;
  PAGE[`left_${name}`] = `${words} of left-hand pages`;
  PAGE[`first_${name}`] = `${words} of the first page`;
}

/** How a style parts its paragraphs between pages, in lines. */
const PARTED: Record<string, string> = {
  orphans: "left at the foot of a page at least",
  widows: "taken to the next page at least",
};

const OF_PAGES: Record<string, string> = {
  counted: "counted along",
  roman: "in small roman numerals",
  same: "as the others",
  mirrored: "left for right",
  own: "with words of their own",
  none: "without head and foot",
};

function words(name: string, value: unknown): string {
  if (isProperty(name)) return valueInWords(name, value);
  const [on, off] = SWITCHES[name] ?? [];
  if (on && off) return value ? on : off;
  if (name === "back_level") return value === null ? "none" : String(value);
  if (name in PAGE && typeof value === "number") return `${mm(value)} mm`;
  if (name === "outline_level") return value === null ? "no heading" : `heading of level ${String(value)}`;
  if (value === null) return "none";
  if (name in PARTED) return `${String(value)} ${value === 1 ? "line" : "lines"} ${PARTED[name] ?? ""}`;
    if (name in PAGE && name.includes("_") && typeof value === "string" && /head|foot/.test(name)) return value ? `“${value}”` : "empty";
  return (name in PAGE ? OF_PAGES[String(value)] : undefined) ?? `“${String(value)}”`;
}

/** What a setting of a table is, where its own name does not say it. */
const OF_TABLES: Record<string, string> = {
  leader: "the leader",
  leader_step: "the leader’s step",
  page_numbers: "page numbers",
  numbers: "heading numbers",
  look_like_links: "the look of links",
  by_letter: "order letter by letter",
  first_sentence: "captions up to the first full stop",
  hang: "hanging rows",
  page_number: "a page number",
};

/** "In “Contents”, the leader of level 2 is “-”; the house sheet says “.”". */
function departedTable({ path, style, here, there }: Departure): string {
  const name = path.at(-1) ?? "";
  const level = path[2] === "looks" ? ` of level ${path[3] ?? ""}` : "";
  const value = (given: unknown) =>
    typeof given === "boolean" ? (given ? "yes" : "no") : Array.isArray(given) ? given.join(", ") : given === "" ? "none" : isProperty(name) ? valueInWords(name, given) : words(name, given);
  return `In “${style}”, ${OF_TABLES[name] ?? name.replaceAll("_", " ")}${level}: ${value(here)}; the house sheet says ${value(there)}`;
}

/** "Heading 2 is 13 pt; the house sheet says 12 pt". */
export function departed(departure: Departure): string {
  const { path, style, here, there } = departure;
  if (path[0] === "tables") return departedTable(departure);
  const name = path.at(-1) ?? "";
  if (path[0] === "styles" && path.length === 2) return `There is no style “${String(there)}”; the house sheet has one`;
  const [one, other] = [words(name, here), words(name, there)];
  const level = path[0] === "numbering" ? `Level ${path[2] ?? ""}${path[1] === "appendix" ? " of appendices" : ""}` : "";
  const subject = style || level || (PAGE[name] ?? (path[0] === "page" ? "The page" : name));
  if (name in PARTED) return `${subject} has ${one}; the house sheet says ${other}`;
  const kind = isProperty(name) || name in SWITCHES || path[0] === "page" ? "" : `${name.replaceAll("_", " ")} `;
  const verb = name in SWITCHES ? "" : kind || name === "tab_stops" ? "has " : subject.endsWith("s") && path[0] === "page" ? "are " : "is ";
  return `${subject} ${verb}${kind}${one}; the house sheet says ${other}`;
}
