/** The report's style sheet and typefaces as CSS: the text leaf shows what the pages will show, in points. */
import type { ReportShown, StyleShown } from "../../api/client";
import { api } from "../../api/client";
import { familyOf, ownFamily, SYMBOLS, TYPEFACES } from "../controls/fonts";
import { backgroundInCss, bordersInCss, CAPITALS_IN_CSS, FRAME, inkInCss } from "./inCss";
import { styleOf } from "./styles";

const VARIANTS = [
  ["Regular", "normal", "normal"],
  ["Bold", "bold", "normal"],
  ["Italic", "normal", "italic"],
  ["BoldItalic", "bold", "italic"],
] as const;

// The face of signs is the same for all: a browser would make it bold or slanted by itself.
const faces = [...TYPEFACES, SYMBOLS].flatMap((font) =>
  VARIANTS.map(
    ([file, weight, slant]) =>
      `@font-face { font-family: "${font}"; font-weight: ${weight}; font-style: ${slant}; font-display: swap;
        src: url("/static/fonts/${font.replaceAll(" ", "")}-${font === SYMBOLS ? "Regular" : file}.ttf"); }`,
  ),
);

/** The faces that a report has of its own. The core chooses among them; a browser would make one bold or slanted by itself. */
const ownFaces = ({ key, typefaces }: ReportShown) =>
  typefaces.map(
    ({ family, bold, italic, file }) =>
      `@font-face { font-family: "${ownFamily(family)}"; font-weight: ${bold ? "bold" : "normal"}; font-style: ${italic ? "italic" : "normal"};
        font-display: swap; src: url("${api.typeface(key, file)}"); }`,
  );

/** The face in which the core draws formulas. */
const MATHEMATICS = `@font-face { font-family: "STIX Two Math"; font-display: swap; src: url("/static/fonts/STIXTwoMath-Regular.ttf"); }`;

const SIGNS: Record<NonNullable<StyleShown["marker"]>, string> = {
  bullet: "•",
  decimal: "1.",
  "upper-roman": "I.",
  "lower-roman": "i.",
  "upper-letter": "A.",
  "lower-letter": "a.",
};

/** What the gutter tag of a style says. */
export function tagOf(style: StyleShown): string {
  if (style.outline_level) return `H${style.outline_level}`;
  if (style.role === "body" || style.role === "cell") return "¶";
  if (style.marker) return SIGNS[style.marker];
  if (style.role === "note") return "Nt"; // the first two letters would be a word
  return style.name.slice(0, 2);
}

const safe = (name: string) => name.replace(/[^A-Za-z0-9 _-]/g, "");

/** How each property of a style is said in CSS; null for one that is not seen in the text itself. */
type Declarations = { [Name in keyof StyleShown]: ((value: StyleShown[Name], style: StyleShown) => string) | null };

const DECLARATIONS: Declarations = {
  id: null,
  name: null,
  role: null,
  based_on: null,
  declared: null,
  put_away: null,
  font: (font) => `font-family: ${familyOf(font)}`,
  size: (size) => `font-size: ${size}pt`,
  bold: (bold) => `font-weight: ${bold ? "bold" : "normal"}`,
  italic: (italic) => `font-style: ${italic ? "italic" : "normal"}`,
  underline: (underline, { strike }) => `text-decoration: ${[underline && "underline", strike && "line-through"].filter(Boolean).join(" ") || "none"}`,
  strike: null, // with the line under it
  capitals: (capitals) => CAPITALS_IN_CSS[capitals] ?? "",
  colour: (colour) => `color: ${inkInCss(colour)}`,
  align: (align) => `text-align: ${align}`,
  space_before: (points) => `margin-top: ${points}pt`,
  space_after: (points) => `margin-bottom: ${points}pt`,
  line_spacing: (times, { size }) => `line-height: ${times}; --line: ${size * times}pt`,
  indent: (points) => `--indent: ${own("indent", points)}`,
  // Where a marker hangs there, the text itself begins at the indent. What hangs has no room beside a picture at the left.
  first_line: (points, { marker }) =>
    `${points < 0 ? "clear: left; " : ""}--marker: calc(var(--indent) + ${own("first", points)}); text-indent: ${marker ? "0" : own("first", points)}`,
  right_indent: (points) => `--right-indent: var(--own-right, ${points}pt)`,
  background: (colour) => (colour === "none" ? "" : `--background: ${backgroundInCss(colour)}`),
  borders: (borders, { background }) => [borders !== "none" && bordersInCss(borders), (borders !== "none" || background !== "none") && FRAME].filter(Boolean).join("; "),
  contextual_spacing: null, // see `contextualRules`
  tab_stops: null, // see `tabs.ts`
  keep_with_next: null,
  hyphenate: null,
  keep_together: null,
  orphans: null,
  widows: null,
  new_page: null,
  outline_level: null,
  next: null,
  marker: null,
  marker_text: null,
  list_level: null,
};

/** A length of the style, or what a paragraph says itself instead: see `kinds/paragraph.ts`. */
const own = (name: "indent" | "first", points: number) => `var(--own-${name}, ${points}pt)`;

function declared<Name extends keyof StyleShown>(name: Name, style: StyleShown): string {
  const css = DECLARATIONS[name];
  return css ? `${css(style[name], style)};` : "";
}

/** No space between neighbours of one style that asks for none. */
function contextualRule({ id, contextual_spacing }: StyleShown): string {
  const named = `.text-of-report p[data-style="${safe(id)}"]`;
  const [all, not] = contextual_spacing ? ["", ':not([data-contextual-spacing="false"])'] : ['[data-contextual-spacing="true"]', ""];
  const like = `p[data-style="${safe(id)}"]${all}${not}`;
  return `.text-of-report ${like}:has(+ ${like}) { margin-bottom: 0 !important; } ${named}${all}${not} + ${like} { margin-top: 0 !important; }`;
}

/** Neighbours of one style stand in one frame (core, `pages/frames.py`): what is free between them is within it. */
function joinedRule({ id, borders, background, space_before, space_after, contextual_spacing }: StyleShown): string {
  if (borders === "none" && background === "none") return "";
  const like = `p[data-style="${safe(id)}"]:not([data-framed])`;
  const between = contextual_spacing ? 0 : Math.max(space_before, space_after);
  return `.text-of-report ${like}:has(+ ${like}) { --line-bottom: none; --line-bottom-room: ${between}pt; margin-bottom: 0; }
.text-of-report ${like} + ${like} { --line-top: none; --line-top-room: 0pt; margin-top: 0; }`;
}

function rule(style: StyleShown): string {
  const named = `p[data-style="${safe(style.id)}"]`;
  const declarations = Object.keys(DECLARATIONS).map((name) => declared(name as keyof StyleShown, style));
  const tag = `\n.text-of-report .band > ${named}::after {
    display: block; content: "${tagOf(style).replace(/["\\]/g, "")}"; }`;
  return `.text-of-report ${named} { ${declarations.filter(Boolean).join(" ")} }
${style.outline_level || style.role === "title" ? tag : ""}`;
}

/**
 * Room for heading numbers, as the core keeps it (`core/pages/lines.py`, `set_style`): a number at the left edge hangs, and
 * the words behind it form a column; elsewhere it stands in the first line.
 */
export function roomRules(styles: readonly StyleShown[], widths: ReadonlyMap<string, number>): string[] {
  return styles.flatMap((style) => {
    const room = widths.get(style.id);
    if (!room) return [];
    const numbered = `.text-of-report p[data-style="${safe(style.id)}"]:not([data-number="none"])`;
    const [indent, first] = [own("indent", style.indent), own("first", style.first_line)];
    const hanging = `--marker: calc(${indent} + ${first}); --indent: calc(${indent} + ${first} + max(${room}pt, -1 * ${first})); text-indent: 0;`;
    const inLine = (selector: string) => [
      `${selector} { --indent: ${indent}; text-indent: ${first}; }`,
      `${selector}::before { width: ${room}pt; margin-left: 0; }`,
    ];
    const inFront = (selector: string) => [
      `${selector} { ${hanging} }`,
      `${selector}::before { width: calc(var(--indent) - var(--marker)); margin-left: calc(var(--marker) - var(--indent)); }`,
    ];
    const atLeft = style.align === "left" || style.align === "justify";
    // Where the style indents the first line, only a paragraph that says itself that it does not has its number in front.
    const unindented = style.first_line <= 0 ? numbered : `${numbered}[data-hanging]`;
    return [
      ...inLine(numbered),
      ...(atLeft ? inFront(unindented) : []),
      ...inFront(`${unindented}:is([data-align="left"], [data-align="justify"])`),
      ...inLine(`${numbered}:is([data-align="center"], [data-align="right"], [data-indented])`),
    ];
  });
}

export function styleRules(report: ReportShown): string {
  const unknown = styleOf(report.styles, null);
  const column = report.page.width - report.page.left - report.page.right;
  return [
    ...faces,
    ...ownFaces(report),
    MATHEMATICS,
    `.text-of-report { --column: ${column}pt; }`,
    unknown ? rule(unknown).replaceAll(`p[data-style="${unknown.id}"]`, "p") : "",
    `.text-of-report p[data-framed] { ${FRAME} }`,
    ...report.styles.map(rule),
    ...report.styles.map(contextualRule),
    ...report.styles.map(joinedRule),
  ].join("\n");
}
