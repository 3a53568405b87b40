/** The report's style sheet and typefaces as CSS: the text leaf shows what the pages will show, in points. */
import type { ReportShown, StyleShown } from "../../api/client";
import { typefaces } from "./schema";

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
  if (style.id === "body" || style.id === "cell") return "¶";
  if (style.marker === "bullet") return "•";
  if (style.marker === "decimal") return "1.";
  return style.name.slice(0, 2);
}

const safe = (name: string) => name.replace(/[^A-Za-z0-9 _-]/g, "");

function rule(style: StyleShown): string {
  const at = `.text-of-report p[data-style="${safe(style.id)}"]`;
  const hangs = style.marker !== null;
  const tag = `\n.text-of-report .band > p[data-style="${safe(style.id)}"]::after {
    display: block; content: "${tagOf(style).replace(/["\\]/g, "")}"; }`;
  return `${at} {
    font-family: "${safe(style.font)}"; font-size: ${style.size}pt; line-height: ${style.line_spacing};
    font-weight: ${style.bold ? "bold" : "normal"}; font-style: ${style.italic ? "italic" : "normal"};
    color: ${style.colour === "#000000" ? "var(--text-ink)" : `color-mix(in oklab, ${style.colour}, var(--text-mix))`};
    text-align: ${style.align}; margin-top: ${style.space_before}pt; margin-bottom: ${style.space_after}pt;
    --line: ${style.size * style.line_spacing}pt; --indent: ${style.indent}pt; --marker: ${style.indent + style.first_line}pt;
    text-indent: ${hangs ? 0 : style.first_line}pt; }
${style.outline_level || style.id === "title" ? tag : ""}`;
}

export function styleRules(report: ReportShown): string {
  const unknown = report.styles.find((style) => style.id === "body");
  const column = report.page.width - report.page.left - report.page.right;
  return [
    ...faces,
    `.text-of-report { --column: ${column}pt; }`,
    unknown ? rule(unknown).replaceAll(`p[data-style="${unknown.id}"]`, "p") : "",
    ...report.styles.map(rule),
  ].join("\n");
}
