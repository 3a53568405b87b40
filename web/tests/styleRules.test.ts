/** The report's style sheet as rules of the browser's. Names come from files and people and never become rules. */
import { expect, test } from "vitest";
import type { ReportShown } from "../src/api/client";
import { styleRules, tagOf } from "../src/workspace/text-leaf/styleRules";
import { style, STYLES } from "./writing";

const report = (...more: Parameters<typeof style>[]) =>
  ({
    page: { width: 595.28, height: 841.89, left: 72, right: 72, top: 72, bottom: 72 },
    styles: [...STYLES, ...more.map((one) => style(...one))],
  }) as unknown as ReportShown;

test("a style is shown in points, as it will be on the page", () => {
  const rules = styleRules(report(["note", { font: "Carlito", size: 9.5, space_before: 4, align: "right", italic: true }]));
  const rule = /p\[data-style="note"\] \{[^}]*\}/.exec(rules)?.[0] ?? "";
  for (const part of [`font-family: "Carlito"`, "font-size: 9.5pt", "margin-top: 4pt", "text-align: right", "font-style: italic"]) {
    expect(rule).toContain(part);
  }
  expect(rules).toContain("--column: 451.28pt");
});

test("names do not become rules", () => {
  const rules = styleRules(report([`x"] { } * { display: none } [a="`, { font: `Evil"; } body { color: red` as "Carlito" }]));
  expect(rules).not.toContain("* {");
  expect(rules).not.toContain("body {");
});

test("the gutter tag is short and tells levels apart", () => {
  expect([1, 9].map((level) => tagOf(style("h", { outline_level: level })))).toEqual(["H1", "H9"]);
  expect(tagOf(style("b", { role: "body" }))).toBe("¶");
  expect(tagOf(style("b", { marker: "bullet" }))).toBe("•");
  expect(tagOf(style("n", { marker: "decimal" }))).toBe("1.");
  expect(tagOf(style("q", { name: "Quotation" }))).toBe("Qu");
});
