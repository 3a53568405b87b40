/** Where new lines stand among those of a table that were issued before. */
import { expect, test } from "vitest";
import { rowsOf } from "../src/workspace/table-leaf/rows";
import { applyChanges, EMPTY_VIEW, type Changes } from "../src/workspace/view";

type Lines = NonNullable<NonNullable<NonNullable<Changes["tables"]>[string]>["lines"]>["insert"];

const line = (source: string): Lines[number] => [source, 1, "", source, ["1"], [], []];

/** The rows of a table with these lines, after these new ones, each with the line before it in the text. */
function rows(issued: string, news: [source: string, behind: string | null][]): string {
  const view = applyChanges(EMPTY_VIEW, {
    tables: {
      t: {
        lines: { at: 0, remove: 0, insert: [...issued].map(line) },
        differences: { at: 0, remove: 0, insert: news.map(([source, behind]) => [["new"], source, null, line(source), null, behind]) },
      },
    },
  });
  const table = view.tables.get("t");
  return table ? rowsOf(table).map((row) => row.line.source).join("") : "";
}

test("a new line stands behind the line before it in the text, or first", () => {
  expect(rows("abc", [["x", "b"]])).toBe("abxc");
  expect(rows("abc", [["x", null]])).toBe("xabc");
  expect(rows("", [["x", null], ["y", "x"]])).toBe("xy");
});

test("several new lines in a row keep the order of the text", () => {
  expect(rows("abc", [["x", "a"], ["y", "x"], ["z", "y"]])).toBe("axyzbc");
});

test("a new line behind one that was moved goes with that one's old place", () => {
  expect(rows("abc", [["x", "a"], ["y", "c"]])).toBe("axbcy");
});

test("what renumbers several lines is said at the first of them", () => {
  const view = applyChanges(EMPTY_VIEW, {
    tables: { t: { lines: { at: 0, remove: 0, insert: [..."abcd"].map(line) }, renumbered: { at: 0, remove: 0, insert: [["b to c count one less.", ["b", "c"]]] } } },
  });
  const table = view.tables.get("t");
  const found = table ? rowsOf(table) : [];
  expect(found.map((row) => row.follows)).toEqual([undefined, "b to c count one less.", undefined, undefined]);
  expect(found.map((row) => row.own)).toEqual([undefined, undefined, undefined, undefined]);
  expect(found.map((row) => row.following)).toEqual([false, true, true, false]);
});
