/** Lines around paragraphs and cells, as they are kept: what is written here, the core reads (core, `report/borders.py`). */
import { expect, test } from "vitest";
import { bordersAsText, bordersOf, linesInWords } from "../src/workspace/controls/borders";

test("lines are written with two places at most, side by side", () => {
  expect(bordersAsText([{ side: "left", width: 1 / 3, colour: "#b9b3bf", kind: "dashed" }, { side: "top", width: 2, colour: "#000000", kind: "solid" }])).toBe(
    "top 2 #000000, left 0.33 #b9b3bf dashed",
  );
  expect(bordersAsText([])).toBe("none");
});

test("what the core would not take is no line", () => {
  for (const text of ["top 0 #000000", "top 0.05 #000000", "top 1 red", "top 1 #000000 wavy", "above 1 #000000", "", null]) expect(bordersOf(text)).toEqual([]);
});

test("lines are said in words", () => {
  expect(linesInWords("none")).toBe("no lines around");
  expect(linesInWords("top 1 #000000, right 1 #000000, bottom 1 #000000, left 1 #000000")).toBe("a box around, 1 pt");
  expect(linesInWords("left 3 #2f7d6b double")).toBe("a line at the left, 3 pt, a double line");
});
