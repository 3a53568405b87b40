/** Tab stops: how they are kept and said, and where a tab leads to. */
import { expect, test } from "vitest";
import { stopsInWords, tabStopsAsText, tabStopsOf } from "../src/workspace/controls/stops";
import { stopAfter } from "../src/workspace/text-leaf/tabs";
import cases from "./tab-stops.json";

test("a tab leads where the core has it lead", () => {
  for (const { stops, indent, width, x, leads } of cases) {
    const found = stopAfter(x, tabStopsOf(stops).map((stop) => ({ ...stop, at: stop.at - indent })), width - indent);
    expect([found.at, found.align, found.leader || null], JSON.stringify({ stops, indent, x })).toEqual(leads);
  }
});

test("stops are kept in their order, of two at one place the later", () => {
  expect(tabStopsAsText([...tabStopsOf("450 right dots, 72 left"), { at: 72, align: "decimal", leader: "" }])).toBe("72 decimal, 450 right dots");
  expect(tabStopsAsText([])).toBe("");
});

test("stops are said in words", () => {
  expect(stopsInWords("72 left, 450.5 right dots")).toBe("tabs at 72 pt, 450.5 pt right with dots");
  expect(stopsInWords("")).toBe("tabs every 36 pt");
});
