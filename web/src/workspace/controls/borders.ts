/** Lines around paragraphs and cells, as they are kept: `top 1 #000000, left 0.5 #b9b3bf dashed` (core, `report/borders.py`). */

/** A line at one side of a paragraph or a cell, as it is kept (core, `report/borders.py`). */
export interface Border {
  side: Side;
  width: number;
  colour: string;
  kind: "solid" | "double" | "dashed" | "dotted";
}

export const SIDES = ["top", "right", "bottom", "left"] as const;
export type Side = (typeof SIDES)[number];

/** Points that a line is wide at least. */
const THINNEST = 0.1;

const FORM = /^(top|right|bottom|left) (\d{1,2}(?:\.\d{1,2})?) (#[0-9a-f]{6})(?: (double|dashed|dotted))?$/;

/** Lines as they are kept: none of what cannot be read. */
export function bordersOf(text: unknown): Border[] {
  if (typeof text !== "string") return [];
  return text.split(", ").flatMap((one) => {
    const [, side, width, colour, kind = "solid"] = FORM.exec(one) ?? [];
    return side && colour && Number(width) >= THINNEST ? [{ side: side as Side, width: Number(width), colour, kind: kind as Border["kind"] }] : [];
  });
}

export const bordersAsText = (borders: readonly Border[]): string =>
  SIDES.flatMap((side) => borders.filter((one) => one.side === side).slice(-1))
    .map(({ side, width, colour, kind }) => [side, Math.round(width * 100) / 100, colour, ...(kind === "solid" ? [] : [kind])].join(" "))
    .join(", ") || "none";

export const LINE_KINDS = [
  ["solid", "a single line"],
  ["double", "a double line"],
  ["dashed", "dashes"],
  ["dotted", "dots"],
] as const;

/** At which sides lines are, and what that is called. */
export const WHERE: readonly (readonly [value: string, name: string])[] = [
  ["", "no lines around"],
  ["top", "a line above"],
  ["bottom", "a line below"],
  ["top bottom", "lines above and below"],
  ["left", "a line at the left"],
  ["right", "a line at the right"],
  ["left right", "lines at both sides"],
  ["top right bottom left", "a box around"],
];

/** The sides that have lines, as in `WHERE`. */
export const sidesOf = (borders: readonly Border[]): string => SIDES.filter((side) => borders.some((one) => one.side === side)).join(" ");

export const whereInWords = (sides: string): string => WHERE.find(([one]) => one === sides)?.[1] ?? `lines at ${sides.replaceAll(" ", ", ")}`;

/** "a box around, 1 pt". */
export function linesInWords(text: string): string {
  const borders = bordersOf(text);
  const first = borders[0];
  if (!first) return whereInWords("");
  const kind = first.kind === "solid" ? "" : `, ${LINE_KINDS.find(([one]) => one === first.kind)?.[1] ?? ""}`;
  return `${whereInWords(sidesOf(borders))}, ${first.width} pt${kind}`;
}
