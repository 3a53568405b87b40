/** A table as somebody tries other settings for it: at once from what is known, then as the core makes it. */
import { expect, test } from "vitest";
import { tried, type Trial } from "../src/workspace/tables/useTrial";
import { applyChanges, EMPTY_VIEW, RECIPE, type LevelLook, type Table } from "../src/workspace/view";

const LOOK: LevelLook = {
  indent: 0, hang: 0, font: "Carlito", size: 10, bold: false, italic: false, colour: "#000000", page_number: true, capitals: false,
  space_before: 0, space_after: 0, line_spacing: 1.3,
}; // prettier-ignore

const SET = { column: 451, pages: 27, number_widths: [0, 0], indents: [0, 0], hangs: [0, 0], figures: [5, 5], leaders: [2, 2] };

function table(): Table {
  const view = applyChanges(EMPTY_VIEW, {
    tables: {
      t: {
        recipe: [{ ...RECIPE, looks: [LOOK, LOOK] }],
        set: [SET],
        lines: { at: 0, remove: 0, insert: [["a", 1, "", "Aims", ["1"], [], []]] },
      },
    },
  });
  return view.tables.get("t") as Table;
}

const trial = (result: Trial["result"]): Trial => ({ table: "t", settings: [[["looks", "2", "indent"], 30], [["leader"], "-"]], result });

test("without a trial it is the table itself", () => {
  const one = table();
  expect(tried(one, null)).toBe(one);
});

test("before the core has answered it has the settings, and the indents as they were asked for", () => {
  const shown = tried(table(), trial(null));
  expect([shown.recipe.leader, shown.set.indents, shown.lines.length]).toEqual(["-", [0, 30], 1]);
});

test("then it has the lines, measures and pages that the core gives; lines that stayed as they were are not sent", () => {
  const set = { ...SET, indents: [0, 24] };
  const same = tried(table(), trial({ lines: null, pages: 2, set }));
  expect([same.pages, same.set.indents[1], same.lines.map((line) => line.text)]).toEqual([2, 24, ["Aims"]]);
  const other = tried(table(), trial({ lines: [["b", 1, "", "Terms", ["2"], [], []]], pages: 2, set }));
  expect(other.lines.map((line) => line.text)).toEqual(["Terms"]);
});
