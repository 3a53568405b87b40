/** How things look, property by property, and how that is said. The same for a selection and for a style. */
import type { StyleShown } from "../../api/client";
import { RANGES } from "../../api/settings";
import { linesInWords } from "./borders";
import { TYPEFACES } from "./fonts";
import { stopsInWords } from "./stops";

export type Properties = Pick<
  StyleShown,
  | "font"
  | "size"
  | "bold"
  | "italic"
  | "underline"
  | "strike"
  | "capitals"
  | "colour"
  | "align"
  | "space_before"
  | "space_after"
  | "line_spacing"
  | "indent"
  | "first_line"
  | "right_indent"
  | "background"
  | "borders"
  | "contextual_spacing"
  | "tab_stops"
> &
  OfWords;
export type Property = keyof Properties;

/** What words may say, and no style. */
interface OfWords {
  script: string;
  highlight: string;
}
export const OF_WORDS: OfWords = { script: "none", highlight: "none" };

/** A look; a property that is left out differs among what is looked at. */
export type Look = Partial<Properties>;

/** A value to choose from, and what it is called. */
export type Choice<T extends string> = readonly [value: T, name: string];

const ALIGNS: readonly Choice<StyleShown["align"]>[] = [
  ["left", "left"],
  ["center", "centred"],
  ["right", "right"],
  ["justify", "both edges"],
];

const COLOURS: readonly Choice<string>[] = [
  ["#000000", "black"],
  ["#26222b", "ink"],
  ["#33263b", "aubergine"],
  ["#5b4aa0", "iris"],
  ["#1f5f8b", "harbour blue"],
  ["#2f7d6b", "verdigris"],
  ["#845600", "marigold"],
  ["#a63b27", "brick"],
  ["#6b6570", "grey"],
];

/** Behind words: light, so that they stay legible. */
const BACKGROUNDS: readonly Choice<string>[] = [
  ["none", "no colour behind"],
  ["#fff2a8", "behind: straw"],
  ["#cfe9d4", "behind: leaf"],
  ["#d6e4f5", "behind: sky"],
  ["#f7d9d2", "behind: rose"],
  ["#e9e5ee", "behind: lilac"],
  ["#e4e2de", "behind: pebble"],
];

const CAPITALS: readonly Choice<StyleShown["capitals"]>[] = [
  ["none", "letters as typed"],
  ["all", "capitals"],
  ["small", "small capitals"],
];

const SCRIPTS: readonly Choice<string>[] = [
  ["none", "on the line"],
  ["super", "raised"],
  ["sub", "lowered"],
];

interface Numeric {
  kind: "number";
  least: number;
  most: number;
  step: number;
  before: string;
  after: string;
}

interface Switch {
  kind: "switch";
  on: string;
  off: string;
}

interface OneOf {
  kind: "choice";
  choices: readonly Choice<string>[];
  /** Whether any other value of the form `#rrggbb` can be chosen as well. */
  colour?: boolean;
  /** Whether families that the report has of its own can be chosen as well. */
  families?: boolean;
}

interface Stops {
  kind: "stops";
}

/** Lines around something, side by side. */
interface Lines {
  kind: "lines";
}

export type Form = (Numeric | Switch | OneOf | Stops | Lines) & { name: string };

interface Range {
  least: number;
  most: number;
}

/** A length in points, within a range of the core's. */
export const points = (name: string, before: string, after: string, { least, most }: Range, step = 1): Form => ({ kind: "number", name, least, most, step, before, after });

const { style: RANGE } = RANGES;

/** Every property in the order in which it is said, and what values it may have. */
export const FORMS: Readonly<Record<Property, Form>> = {
  font: { kind: "choice", name: "Typeface", choices: TYPEFACES.map((font) => [font, font] as const), families: true },
  size: points("Size", "", "pt", RANGE.size, 0.5),
  bold: { kind: "switch", name: "Weight", on: "bold", off: "regular" },
  italic: { kind: "switch", name: "Slant", on: "italic", off: "upright" },
  underline: { kind: "switch", name: "Underline", on: "underlined", off: "no underline" },
  strike: { kind: "switch", name: "Line through", on: "struck", off: "not struck" },
  capitals: { kind: "choice", name: "Capitals", choices: CAPITALS },
  colour: { kind: "choice", name: "Colour", choices: COLOURS, colour: true },
  script: { kind: "choice", name: "Place of the letters", choices: SCRIPTS },
  highlight: { kind: "choice", name: "Colour behind the words", choices: [["none", "no colour behind words"], ...BACKGROUNDS.slice(1)], colour: true },
  align: { kind: "choice", name: "Alignment", choices: ALIGNS },
  space_before: points("Space above", "", "pt above", RANGE.space_before),
  space_after: points("Space below", "", "pt below", RANGE.space_after),
  line_spacing: { kind: "number", name: "Line spacing", ...RANGE.line_spacing, step: 0.05, before: "lines ×", after: "" },
  indent: points("Indent", "indent", "pt", RANGE.indent),
  first_line: points("First line", "first line", "pt", RANGE.first_line),
  right_indent: points("Indent on the right", "right indent", "pt", RANGE.right_indent),
  background: { kind: "choice", name: "Colour behind the paragraph", choices: BACKGROUNDS, colour: true },
  borders: { kind: "lines", name: "Lines around the paragraph" },
  contextual_spacing: { kind: "switch", name: "Space to the same style", on: "close to its like", off: "space to its like" },
  tab_stops: { kind: "stops", name: "Tab stops" },
};

export const PROPERTIES = Object.keys(FORMS) as Property[];

/** Those that a style has. */
export const OF_STYLES = PROPERTIES.filter((property): property is Exclude<Property, keyof OfWords> => !(property in OF_WORDS));

const figure = (value: number) => String(Math.round(value * 100) / 100);

/** "12.5 pt", "bold", "16 pt above": a value in words. */
export const valueInWords = (property: Property, value: unknown): string => inWords(FORMS[property], value);

export function inWords(form: Form, value: unknown): string {
  if (form.kind === "switch") return value ? form.on : form.off;
  if (form.kind === "stops") return stopsInWords(String(value));
  if (form.kind === "lines") return linesInWords(String(value));
  if (form.kind === "choice") return form.choices.find(([one]) => one === value)?.[1] ?? String(value);
  return [form.before, figure(Number(value)), form.after].filter(Boolean).join(" ");
}
