/** The report's style sheet and typefaces as CSS: the text leaf shows what the pages will show, in points. */
import type { ReportShown, StyleShown } from "../../api/client";
import { typefaces } from "./marks";
import { styleOf } from "./styles";

const VARIANTS = [
  ["Regular", "normal", "normal"],
  ["Bold", "bold", "normal"],
  ["Italic", "normal", "italic"],
  ["BoldItalic", "bold", "italic"],
] as const;

const faces = typefaces.flatMap((font) =>
  VARIANTS.map(
    ([file, weight, slant]) =>
      `@font-face { font-family: "${font}"; font-weight: ${weight}; font-style: ${slant}; font-display: swap;
        src: url("/static/fonts/${font.replaceAll(" ", "")}-${file}.ttf"); }`,
  ),
);

/** What the gutter tag of a style says. */
export function tagOf(style: StyleShown): string {
  if (style.outline_level) return `H${style.outline_level}`;
  if (style.role === "body" || style.role === "cell") return "¶";
  if (style.marker === "bullet") return "•";
  if (style.marker === "decimal") return "1.";
  return style.name.slice(0, 2);
}

const safe = (name: string) => name.replace(/[^A-Za-z0-9 _-]/g, "");

/** How each property of a style is said in CSS; null for one that is not seen in the text itself. */
type Declarations = { [Name in keyof StyleShown]: ((value: StyleShown[Name], style: StyleShown) => string) | null };

const DECLARATIONS: Declarations = {
  id: null,
  name: null,
  role: null,
  font: (font) => `font-family: "${safe(font)}"`,
  size: (size) => `font-size: ${size}pt`,
  bold: (bold) => `font-weight: ${bold ? "bold" : "normal"}`,
  italic: (italic) => `font-style: ${italic ? "italic" : "normal"}`,
  colour: (colour) => `color: ${colour === "#000000" ? "var(--text-ink)" : `color-mix(in oklab, ${colour}, var(--text-mix))`}`,
  align: (align) => `text-align: ${align}`,
  space_before: (points) => `margin-top: ${points}pt`,
  space_after: (points) => `margin-bottom: ${points}pt`,
  line_spacing: (times, { size }) => `line-height: ${times}; --line: ${size * times}pt`,
  indent: (points) => `--indent: ${points}pt`,
  // Where a marker hangs there, the text itself begins at the indent.
  first_line: (points, { indent, marker }) => `--marker: ${indent + points}pt; text-indent: ${marker ? 0 : points}pt`,
  keep_with_next: null,
  new_page: null,
  outline_level: null,
  next: null,
  marker: null,
  list_level: null,
};

function declared<Name extends keyof StyleShown>(name: Name, style: StyleShown): string {
  const say = DECLARATIONS[name];
  return say ? `${say(style[name], style)};` : "";
}

function rule(style: StyleShown): string {
  const named = `p[data-style="${safe(style.id)}"]`;
  const declarations = Object.keys(DECLARATIONS).map((name) => declared(name as keyof StyleShown, style));
  const tag = `\n.text-of-report .band > ${named}::after {
    display: block; content: "${tagOf(style).replace(/["\\]/g, "")}"; }`;
  return `.text-of-report ${named} { ${declarations.filter(Boolean).join(" ")} }
${style.outline_level || style.role === "title" ? tag : ""}`;
}

export function styleRules(report: ReportShown): string {
  const unknown = styleOf(report.styles, null);
  const column = report.page.width - report.page.left - report.page.right;
  return [
    ...faces,
    `.text-of-report { --column: ${column}pt; }`,
    unknown ? rule(unknown).replaceAll(`p[data-style="${unknown.id}"]`, "p") : "",
    ...report.styles.map(rule),
  ].join("\n");
}
