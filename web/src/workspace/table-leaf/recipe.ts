/** What a table is made by, and the measures of its lines: as the core has them. Lengths in points. */

export interface LevelLook {
  indent: number;
  hang: number;
  font: string;
  size: number;
  bold: boolean;
  italic: boolean;
  colour: string;
  capitals: boolean;
  /** Whether its lines have their page numbers, in a table that has any. */
  page_number: boolean;
  space_before: number;
  space_after: number;
  line_spacing: number;
}

export interface Recipe {
  kind: string;
  title: string;
  title_style: string;
  continued: boolean;
  levels: readonly number[];
  section: string;
  feeds: Readonly<Record<string, number>>;
  /** The label of the captions that it lists, and whether these are listed up to their first full stop only. */
  label: string;
  first_sentence: boolean;
  /** Categories of authorities that it lists; none for all. */
  categories: readonly string[];
  /** Pages from which on "passim" stands for them, and pages that are a range at least; 0 for never. */
  passim: number;
  ranges: number;
  /** Whose alphabet orders its lines, and whether spaces count in it. */
  language: string;
  by_letter: boolean;
  /** Whether lines of the third level and deeper stand behind the one above them. */
  run_in: boolean;
  page_numbers: "edge" | "words" | "none";
  /** What stands between the words and a page number behind them. */
  separator: string;
  leader: string;
  leader_step: number;
  numbers: "run in" | "hung" | "margin" | "none";
  links: boolean;
  look_like_links: boolean;
  columns: 1 | 2;
  ruled: "none" | "lines" | "sections";
  formatting: boolean;
  /** By level, from 1. */
  looks: readonly LevelLook[];
}

/** What all lines of a table have in common; by level, from 1, where there are several. */
export interface Measures {
  /** Width of a column of lines, and of that kept free for page numbers at its right edge. */
  column: number;
  pages: number;
  /** Room for heading numbers that hang. */
  rooms: readonly number[];
  indents: readonly number[];
  /** How much further all rows but the first are indented. */
  hangs: readonly number[];
  /** Width of one figure of a page number, and of the leader's character. */
  figures: readonly number[];
  leaders: readonly number[];
}

export type RawMeasures = [column: number, pages: number, rooms: number[], indents: number[], hangs: number[], figures: number[], leaders: number[]];

export const measures = ([column, pages, rooms, indents, hangs, figures, leaders]: RawMeasures): Measures => ({
  column,
  pages,
  rooms,
  indents,
  hangs,
  figures,
  leaders,
});

export const NO_RECIPE: Recipe = {
  kind: "",
  title: "",
  title_style: "",
  continued: false,
  levels: [],
  section: "",
  feeds: {},
  label: "",
  first_sentence: false,
  categories: [],
  passim: 5,
  ranges: 3,
  language: "en-GB",
  by_letter: false,
  run_in: false,
  page_numbers: "edge",
  separator: "\u2002",
  leader: "",
  leader_step: 5,
  numbers: "run in",
  links: true,
  look_like_links: false,
  columns: 1,
  ruled: "none",
  formatting: true,
  looks: [],
};

export type Path = readonly [keyof Recipe] | readonly ["looks", string, keyof LevelLook];

/** A setting by its path, and the value that it is to have. */
export type Setting = readonly [path: Path, value: unknown];

/** The recipe with other settings, as it will be once the core has them. */
export function withSettings(recipe: Recipe, settings: readonly Setting[]): Recipe {
  const looks = [...recipe.looks];
  let result = recipe;
  for (const [[name, level, property], value] of settings) {
    if (level === undefined || property === undefined) result = { ...result, [name]: value };
    else {
      const at = Number(level) - 1;
      const look = looks[at];
      if (look) looks[at] = { ...look, [property]: value };
    }
  }
  return { ...result, looks };
}
