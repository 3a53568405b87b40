import { expect, test } from "vitest";
import { LEAST_COLUMN, moved } from "../src/workspace/text-leaf/columns";

test("an edge between two columns gives one what it takes from the other", () => {
  expect(moved([100, 80, 60], 0, 30, 400)).toEqual([130, 50, 60]);
  expect(moved([100, 80, 60], 1, -30, 400)).toEqual([100, 50, 90]);
});

test("no column becomes too narrow, and a table no wider than lines are", () => {
  expect(moved([100, 80], 0, 500, 400)).toEqual([160, LEAST_COLUMN]);
  expect(moved([100, 80], 0, -500, 400)).toEqual([LEAST_COLUMN, 160]);
  expect(moved([100, 80], 1, 500, 400)).toEqual([100, 300]);
  expect(moved([100, 80], 1, -500, 400)).toEqual([100, LEAST_COLUMN]);
  expect(moved([300, 200], 1, 40, 400)).toEqual([300, 200]);
});

test("one that is too narrow already is not made narrower, nor wider by itself", () => {
  expect(moved([10, 80], 0, -5, 400)).toEqual([10, 80]);
  expect(moved([10, 80], 0, 5, 400)).toEqual([15, 75]);
});
