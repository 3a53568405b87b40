/** Lines of tables read in the browser as the core sets them: the cases are made by the core (`tests/core/line_cases.py`). */
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, test } from "vitest";
import { RunIn, runTogether } from "../src/workspace/printed/PrintedLine";
import { readLine, type LineRow, type Measures, type Recipe } from "../src/workspace/view";
import cases from "./lines-of-tables.json";

interface Reads {
  number: string;
  words: [text: string, how: string][];
  edge: string;
}

const NINE = Array<number>(9).fill(20);
const SET: Measures = { column: 400, pages: 30, number_widths: NINE, indents: NINE, hangs: NINE, figures: NINE, leaders: NINE };

/** Whether a property of CSS is set where a node stands, or by the level's look. */
function isSet(node: Node, root: Element, property: "fontWeight" | "fontStyle" | "textDecoration", is: string): boolean {
  for (let at = node.parentElement; at; at = at.parentElement) {
    const said = at.style[property];
    if (said) return said === is;
    if (at === root) break;
  }
  return false;
}

/** Two spaces stand for an en space; nobody sees the difference. */
const even = (text: string) => text.replace(/[\s\u2002]+/g, " ");

function reads(markup: string): Reads {
  const root = new DOMParser().parseFromString(markup, "text/html").body.firstElementChild as HTMLElement;
  const found: Reads = { number: root.querySelector(".number")?.textContent ?? "", words: [], edge: root.querySelector(".page")?.textContent ?? "" };
  const words = root.querySelector(".words") as Element;
  const nodes = document.createTreeWalker(words, NodeFilter.SHOW_TEXT);
  for (let node = nodes.nextNode(); node; node = nodes.nextNode()) {
    if (node.parentElement?.closest(".number")) continue;
    const how = [isSet(node, root, "fontWeight", "bold") && "b", isSet(node, root, "fontStyle", "italic") && "i", isSet(node, root, "textDecoration", "underline") && "u"];
    const said = how.filter(Boolean).join("");
    const last = found.words.at(-1);
    if (last?.[1] === said) last[0] += node.textContent ?? "";
    else found.words.push([node.textContent ?? "", said]);
  }
  return found;
}

const evenly = ({ number, words, edge }: Reads) => ({ number, edge, words: words.map(([text, how]) => [even(text), how]) });

describe("lines of tables", () => {
  test.each(cases.map((one, at) => [at, one] as const))("case %i", (_, { recipe, lines, reads: wanted }) => {
    const given = recipe as unknown as Recipe;
    const together = runTogether((lines as unknown as LineRow[]).map(readLine), given);
    const found = together.map((some) => reads(renderToStaticMarkup(<RunIn lines={some} recipe={given} set={SET} goTo={() => undefined} />)));
    expect(found.map(evenly)).toEqual((wanted as Reads[]).map(evenly));
  });
});
