/** The view that the server computes, kept level by what it sends. */
import { describe, expect, test } from "vitest";
import { withSettings } from "../src/workspace/tables/recipe";
import { applyChanges, EMPTY_VIEW, linesBehind, RECIPE, standings, tableAtHand, unmarked, type Changes, type FaceRow, type LevelLook, type Measures, type View } from "../src/workspace/view";

const about = { recipe: [RECIPE], page: ["1"] } as const;

const ENTERED: Changes = {
  labels: { at: 0, remove: 0, insert: ["i", "1", "2"] },
  headings: { at: 0, remove: 0, insert: [["a", 1, "1", "Aims", "", null], ["b", 2, "1.1", "Scope", "", null], ["c", 1, "2", "Site", "", null]] },
  headings_on: { at: 0, remove: 0, insert: [2, 2, 3] },
  edges: { at: 0, remove: 0, insert: [["a", 0], ["p", 17]] },
  markers: { p: "•" },
  tables: {
    t: {
      ...about,
      lines: { at: 0, remove: 0, insert: [["a", 1, "1", "Aims", ["1"], [], []], ["b", 2, "1.1", "Scope", ["1"], [], []], ["x", 1, "2", "Old", ["2"], [], []]] },
      differences: {
        at: 0,
        remove: 0,
        insert: [
          [["gone"], "x", ["x", 1, "2", "Old", ["2"], [], []], null, ["Tobias Okonjo", "2026-11-20T09:00:00Z"], null],
          [["new"], "c", null, ["c", 1, "2", "Site", ["2"], [], []], null, "b"],
        ],
      },
    },
  },
};
const entered = () => applyChanges(EMPTY_VIEW, ENTERED);
const pagesOf = (view: View) => view.headings.map(({ text, page, label }) => `${text} ${page} ${label}`);

test("on entering, all of it is there", () => {
  const view = entered();
  expect(pagesOf(view)).toEqual(["Aims 2 1", "Scope 2 1", "Site 3 2"]);
  expect(view.edges).toEqual([{ block: "a", offset: 0, label: "1", page: 2, empty: false }, { block: "p", offset: 17, label: "2", page: 3, empty: false }]);
  expect(view.markers.get("p")).toBe("•");
  expect(linesBehind(view)).toBe(2);
});

describe("a change", () => {
  test("of a heading's words leaves the others the same objects, so that they are not drawn again", () => {
    const before = entered();
    const after = applyChanges(before, { headings: { at: 1, remove: 1, insert: [["b", 2, "1.1", "Limits", "", null]] } });
    expect(pagesOf(after)).toEqual(["Aims 2 1", "Limits 2 1", "Site 3 2"]);
    expect(after.headings[0]).toBe(before.headings[0]);
    expect(after.headings[2]).toBe(before.headings[2]);
    expect(after.tables).toBe(before.tables);
    expect(after.edges).toBe(before.edges);
  });

  test("of pages alone moves headings and edges", () => {
    const after = applyChanges(entered(), {
      labels: { at: 3, remove: 0, insert: ["3"] },
      headings_on: { at: 2, remove: 1, insert: [4] },
      edges: { at: 1, remove: 1, insert: [["p", 9], ["c", 0]] },
    });
    expect(pagesOf(after)).toEqual(["Aims 2 1", "Scope 2 1", "Site 4 3"]);
    expect(after.edges.map(({ offset, label }) => [offset, label])).toEqual([[0, "1"], [9, "2"], [0, "3"]]);
  });

  test("of page labels alone renames all pages", () => {
    const after = applyChanges(entered(), { labels: { at: 0, remove: 3, insert: ["1", "2", "3"] } });
    expect(pagesOf(after)).toEqual(["Aims 2 2", "Scope 2 2", "Site 3 3"]);
    expect(after.edges.map(({ label }) => label)).toEqual(["2", "3"]);
  });

  test("takes a heading and its page out together", () => {
    const after = applyChanges(entered(), { headings: { at: 1, remove: 1, insert: [] }, headings_on: { at: 1, remove: 1, insert: [] } });
    expect(pagesOf(after)).toEqual(["Aims 2 1", "Site 3 2"]);
  });

  test("of markers sets some and takes others away", () => {
    const after = applyChanges(entered(), { markers: { p: null, q: "2." } });
    expect([...after.markers]).toEqual([["q", "2."]]);
  });

  test("of a table leaves what it does not name", () => {
    const after = applyChanges(entered(), { tables: { t: { differences: { at: 0, remove: 2, insert: [] } } } });
    expect(linesBehind(after)).toBe(0);
    expect(after.tables.get("t")).toMatchObject({ recipe: { title: "Contents" }, lines: { length: 3 } });
  });

  test("of what is known about a table leaves what it does not name", () => {
    const set: Measures = { column: 451, pages: 27, number_widths: [0], indents: [0, 16], hangs: [0, 0], figures: [5], leaders: [2] };
    const after = applyChanges(entered(), { tables: { t: { pages: [3], set: [set], own: { at: 0, remove: 0, insert: [["a", null, "Aims", "Aims"]] } } } });
    expect(after.tables.get("t")).toMatchObject({ pages: 3, page: "1", recipe: { title: "Contents" }, set: { column: 451, indents: [0, 16] }, own: [{ source: "a", words: null }] });
  });

  test("takes a table away and brings another", () => {
    const after = applyChanges(entered(), { tables: { t: null, u: { recipe: [{ ...RECIPE, title: "Short" }] } } });
    expect([...after.tables.keys()]).toEqual(["u"]);
    expect(after.tables.get("u")).toMatchObject({ recipe: { title: "Short" }, lines: [], differences: [] });
  });
});

test("looks, findings and what is set aside come and go", () => {
  const face: FaceRow = ["Carlito", 14, true, false, false, false, "#000000", "left"];
  const first = applyChanges(entered(), {
    looks: { at: 0, remove: 0, insert: [["look-p", "bold, 14 pt", "heading-1", ["p", "q"], "bold", face, false, [], ""], ["rule-0", "mine", null, ["r"], "", null, false, [["bold", 2]], ""]] },
    leftovers: [[[], ["e"]]],
    findings: { at: 0, remove: 0, insert: [["full-stop a", "full-stop", "a", "“Aims.” ends in a full stop."]] },
    checks: { "full-stop": ["Full stops", "They stand in every table.", "Take them out"] },
    set_aside: { "full-stop a": ["the law wants it", "Ines Varga", "2026-11-20T09:00:00Z"] },
  });
  expect(unmarked(first.looks)).toBe(2);
  expect(first.looks[0]?.face).toEqual({ font: "Carlito", size: 14, bold: true, italic: false, underline: false, capitals: false, colour: "#000000", align: "left" });
  expect(first.leftovers).toEqual({ contents: [], rows: ["e"] });
  expect(first.checks.get("full-stop")?.label).toBe("Take them out");
  expect(first.set_aside.get("full-stop a")?.reason).toBe("the law wants it");
  const then = applyChanges(first, { looks: { at: 0, remove: 1, insert: [] }, leftovers: [[[], []]], findings: { at: 0, remove: 1, insert: [] }, set_aside: { "full-stop a": null } });
  expect([unmarked(then.looks), then.looks.length, then.leftovers.rows.length, then.findings.length, then.set_aside.size]).toEqual([0, 1, 0, 0, 0]);
});

test("each heading stands level with the table, behind it, or outside", () => {
  const standing = standings(entered().tables.get("t"));
  expect(["a", "b", "c", "x", "z"].map(standing)).toEqual(["level", "level", "behind", "behind", "unlisted"]);
  expect(standings(undefined)("a")).toBe("unlisted");
});

test("the table at hand is the chosen one as long as it is in the text", () => {
  const view = applyChanges(entered(), { tables: { u: about } });
  expect(tableAtHand(view, null)).toBe("t");
  expect(tableAtHand(view, "u")).toBe("u");
  expect(tableAtHand(view, "gone")).toBe("t");
  expect(tableAtHand(EMPTY_VIEW, "u")).toBeNull();
});

test("a recipe with other settings is a recipe of its own, and the levels that are not named stay the same", () => {
  const look: LevelLook = { indent: 0, hang: 0, font: "Carlito", size: 10, bold: false, italic: false, colour: "#000000", capitals: false, page_number: true, space_before: 0, space_after: 0, line_spacing: 1.3 };
  const recipe = { ...RECIPE, looks: [look, look] };
  const other = withSettings(recipe, [[["leader"], "-"], [["looks", "2", "size"], 9], [["looks", "7", "size"], 9]]);
  expect([other.leader, other.looks[1]?.size, other.looks.length, recipe.looks[1]?.size]).toEqual(["-", 9, 2, 10]);
  expect(other.looks[0]).toBe(look);
});
