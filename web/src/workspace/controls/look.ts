/** How things look, property by property, and how that is said. The same for a selection and for a style. */
import type { StyleShown } from "../../api/client";
import { RANGES } from "../../api/settings";
import { TYPEFACES } from "./fonts";
import { stopsInWords } from "./stops";

export type Properties = Pick<
  StyleShown,
  | "font"
  | "size"
  | "bold"
  | "italic"
  | "underline"
  | "colour"
  | "align"
  | "space_before"
  | "space_after"
  | "line_spacing"
  | "indent"
  | "first_line"
  | "tab_stops"
>;
export type Property = keyof Properties;

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
}

interface Stops {
  kind: "stops";
}

export type Form = (Numeric | Switch | OneOf | Stops) & { name: string };

interface Range {
  least: number;
  most: number;
}

/** A length in points, within a range of the core's. */
export const points = (name: string, before: string, after: string, { least, most }: Range, step = 1): Form => ({ kind: "number", name, least, most, step, before, after });

const { style: RANGE } = RANGES;

/** Every property in the order in which it is said, and what values it may have. */
export const FORMS: Readonly<Record<Property, Form>> = {
  font: { kind: "choice", name: "Typeface", choices: TYPEFACES.map((font) => [font, font] as const) },
  size: points("Size", "", "pt", RANGE.size, 0.5),
  bold: { kind: "switch", name: "Weight", on: "bold", off: "regular" },
  italic: { kind: "switch", name: "Slant", on: "italic", off: "upright" },
  underline: { kind: "switch", name: "Underline", on: "underlined", off: "no underline" },
  colour: { kind: "choice", name: "Colour", choices: COLOURS, colour: true },
  align: { kind: "choice", name: "Alignment", choices: ALIGNS },
  space_before: points("Space above", "", "pt above", RANGE.space_before),
  space_after: points("Space below", "", "pt below", RANGE.space_after),
  line_spacing: { kind: "number", name: "Line spacing", ...RANGE.line_spacing, step: 0.05, before: "lines ×", after: "" },
  indent: points("Indent", "indent", "pt", RANGE.indent),
  first_line: points("First line", "first line", "pt", RANGE.first_line),
  tab_stops: { kind: "stops", name: "Tab stops" },
};

export const PROPERTIES = Object.keys(FORMS) as Property[];

const figure = (value: number) => String(Math.round(value * 100) / 100);

/** "12.5 pt", "bold", "16 pt above": a value in words. */
export const valueInWords = (property: Property, value: unknown): string => inWords(FORMS[property], value);

export function inWords(form: Form, value: unknown): string {
  if (form.kind === "switch") return value ? form.on : form.off;
  if (form.kind === "stops") return stopsInWords(String(value));
  if (form.kind === "choice") return form.choices.find(([one]) => one === value)?.[1] ?? String(value);
  return [form.before, figure(Number(value)), form.after].filter(Boolean).join(" ");
}
