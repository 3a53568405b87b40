/** Tab stops, as styles and paragraphs keep them: `72 left, 450 right dots` (the core's `report/tab_stops.py`). */

import { TAB_STOPS } from "../../api/settings";

export const TAB_ALIGNS = [
  ["left", "left"],
  ["center", "centred"],
  ["right", "right"],
  ["decimal", "by the decimal sign"],
] as const;

export const LEADERS = [
  ["", "no leader"],
  ["dots", "with dots"],
  ["dashes", "with dashes"],
  ["line", "with a line"],
] as const;

export interface TabStop {
  /** Points from the left edge of the column. */
  at: number;
  align: (typeof TAB_ALIGNS)[number][0];
  leader: (typeof LEADERS)[number][0];
}

const oneOf = <T extends string>(choices: readonly (readonly [T, string])[], given: string | undefined, otherwise: T): T =>
  choices.find(([one]) => one === given)?.[0] ?? otherwise;

/** In their order on the line; of two at one place the later. */
const inOrder = (stops: readonly TabStop[]): TabStop[] => [...new Map(stops.map((stop) => [stop.at, stop])).values()].sort((one, other) => one.at - other.at);

export const tabStopsOf = (text: string): TabStop[] =>
  inOrder(
    text
      .split(", ")
      .filter(Boolean)
      .map((one) => {
        const [at, align, leader] = one.split(" ");
        return { at: Number(at), align: oneOf(TAB_ALIGNS, align, "left"), leader: oneOf(LEADERS, leader, "") };
      }),
  );

export const tabStopsAsText = (stops: readonly TabStop[]): string =>
  inOrder(stops.map((stop) => ({ ...stop, at: Math.round(stop.at * 100) / 100 })))
    .map(({ at, align, leader }) => [at, align, leader].filter((one) => one !== "").join(" "))
    .join(", ");

/** "tabs at 72 pt, 450 pt right with dots". */
export function stopsInWords(text: string): string {
  const said = tabStopsOf(text).map(({ at, align, leader }) =>
    [`${at} pt`, align !== "left" && oneNamed(TAB_ALIGNS, align), leader && oneNamed(LEADERS, leader)].filter(Boolean).join(" "),
  );
  return said.length > 0 ? `tabs at ${said.join(", ")}` : `tabs every ${TAB_STOPS.usual} pt`;
}

const oneNamed = (choices: readonly (readonly [string, string])[], value: string) => choices.find(([one]) => one === value)?.[1] ?? value;
