/** The report's style sheet as rules of the browser's. Names come from files and people and never become rules. */
import { expect, test } from "vitest";
import type { ReportShown, StyleShown } from "../src/api/client";
import { roomRules, styleRules, tagOf } from "../src/workspace/text-leaf/styleRules";
import cases from "./styles.json";
import { style, STYLES } from "./writing";

const report = (...more: Parameters<typeof style>[]) =>
  ({
    page: { width: 595.28, height: 841.89, left: 72, right: 72, top: 72, bottom: 72 },
    key: "r",
    styles: [...STYLES, ...more.map((one) => style(...one))],
    typefaces: [{ family: "Quill Hand", bold: true, italic: false, file: "k" }],
  }) as unknown as ReportShown;

test("a style is shown in points, as it will be on the page", () => {
  const rules = styleRules(report(["note", { font: "Carlito", size: 9.5, space_before: 4, align: "right", italic: true }]));
  const rule = /p\[data-style="note"\] \{[^}]*\}/.exec(rules)?.[0] ?? "";
  for (const part of [`font-family: "Carlito"`, "font-size: 9.5pt", "margin-top: 4pt", "text-align: right", "font-style: italic"]) {
    expect(rule).toContain(part);
  }
  expect(rules).toContain("--column: 451.28pt");
});

test("a face that the report has of its own is asked for under a name that nobody has installed", () => {
  const rules = styleRules(report(["note", { font: "Quill Hand" }]));
  const face = /@font-face \{ font-family: "of this report, Quill Hand"[^}]*\}/.exec(rules)?.[0] ?? "";
  for (const part of ["font-weight: bold", "font-style: normal", `url("/api/reports/r/typefaces/k/file")`]) expect(face).toContain(part);
  expect(rules).toContain(`font-family: "of this report, Quill Hand", "Liberation Sans"`);
});

test("names do not become rules", () => {
  const rules = styleRules(report([`x"] { } * { display: none } [a="`, { font: `Evil"; } body { color: red` }]));
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

/** What the rules that match an element say, the later over the earlier: each of ours is at least as specific as those before it. */
function declared(element: Element, rules: string): { own: Map<string, string>; marker: Map<string, string> } {
  const found = { own: new Map<string, string>(), marker: new Map<string, string>() };
  for (const [, selector = "", body = ""] of rules.matchAll(/([^{}]+)\{([^{}]*)\}/g)) {
    const [plain = "", pseudo] = selector.trim().split("::");
    if (plain.startsWith("@") || (pseudo && pseudo !== "before") || !element.matches(plain.trim())) continue;
    for (const one of body.split(";")) {
      const [name, value] = one.split(/:(.*)/s).map((part) => part.trim());
      if (name && value) (pseudo ? found.marker : found.own).set(name, value);
    }
  }
  return found;
}

/** The value of a length in points, with what the paragraph and its rules say for variables. */
function valueOf(length: string, variables: ReadonlyMap<string, string>): number {
  let said = length;
  for (let turn = 0; turn < 9 && said.includes("var("); turn += 1) {
    said = said.replace(/var\((--[a-z-]+)(?:,\s*([^()]*))?\)/g, (_, name: string, otherwise?: string) => `(${variables.get(name) ?? otherwise ?? "0"})`);
  }
  const sum = said.replaceAll("pt", "").replaceAll("calc", "").replaceAll("max", "Math.max");
  expect(sum).toMatch(/^[\d\s+*().,-]*(Math\.max[\d\s+*().,-]*)*$/);
  return Number(new Function(`return ${sum}`)());
}

test.each(cases.map((one, at) => [at, one] as const))("lines begin where the core sets them: case %i", (_, { style: given, room, own, begins }) => {
  const shown = given as unknown as StyleShown;
  const rules = [styleRules({ ...report(), styles: [...STYLES, shown] }), ...roomRules([shown], new Map([[shown.id, room]]))].join("\n");
  document.body.innerHTML = `<div class="text-of-report"><p data-style="${shown.id}"></p></div>`;
  const paragraph = document.querySelector("p") as HTMLElement;
  if (own.align) paragraph.dataset.align = own.align;
  if (own.first !== null) paragraph.setAttribute(own.first > 0 ? "data-indented" : "data-hanging", "");
  const { own: said, marker } = declared(paragraph, rules);
  if (own.indent !== null) said.set("--own-indent", `${own.indent}pt`);
  if (own.first !== null) said.set("--own-first", `${own.first}pt`);
  const rest = valueOf(said.get("--indent") ?? "0", said);
  // A number that stands in the first line takes its room there.
  const inLine = marker.get("margin-left") === "0" ? valueOf(marker.get("width") ?? "0", said) : 0;
  expect([rest + valueOf(said.get("text-indent") ?? "0", said) + inLine, rest]).toEqual(begins);
});
