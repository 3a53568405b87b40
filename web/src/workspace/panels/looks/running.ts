/** What stands at the head and foot of pages: words with fields, as the core keeps them (`core/report/page.py`). */
import type { PageShown } from "../../../api/client";

/** All pages or right-hand ones, left-hand ones, the first one. */
export type Which = "" | "left_" | "first_";
export const EDGES = ["head", "foot"] as const;
export const PLACES = ["left", "middle", "right"] as const;

export interface Slot {
  edge: (typeof EDGES)[number];
  place: (typeof PLACES)[number];
}

export type SlotName = Extract<keyof PageShown, `${Which}${Slot["edge"]}_${Slot["place"]}`>;

export const slotName = (which: Which, { edge, place }: Slot): SlotName => `${which}${edge}_${place}`;

/** "At the foot, in the middle". */
export const slotWords = ({ edge, place }: Slot): string => `At the ${edge}, ${place === "middle" ? "in the middle" : place}`;

export type Piece = { readonly field: string } | { readonly words: string };

const FIELD = /\{([a-z]+(?: [1-9])?)\}/;

export const piecesOf = (said: string): readonly Piece[] =>
  said
    .split(FIELD)
    .map((part, at): Piece => (at % 2 ? { field: part } : { words: part }))
    .filter((piece) => "field" in piece || piece.words !== "");

/** Braces stand around fields alone. */
export const saidBy = (pieces: readonly Piece[]): string => pieces.map((piece) => ("field" in piece ? `{${piece.field}}` : piece.words.replace(/[{}]/g, ""))).join("");

/** What is filled in, by name, in the order in which it is offered. */
export const FIELDS: readonly (readonly [field: string, name: string])[] = [
  ["page", "page number"],
  ["last", "last page number"],
  ["pages", "how many pages"],
  ["title", "title of the report"],
  ["section 1", "main section"],
  ["number 1", "its number"],
  ["section 2", "section of level 2"],
  ["number 2", "number of level 2"],
  ["section 3", "section of level 3"],
  ["number 3", "number of level 3"],
  ["part", "name of the part"],
  ["version", "version"],
  ["date", "date"],
  ["picture", "picture"],
];

export const fieldName = (field: string): string => FIELDS.find(([one]) => one === field)?.[1] ?? field.replace(" ", " of level ");

/** Ways to print the number of a page. */
export const NUMBERS = ["{page}", "Page {page}", "Page {page} of {last}"] as const;

const isNumber = (said: string): boolean => NUMBERS.some((one) => one === said);

/** The page with something at a place; a number that stands alone elsewhere on the same pages moves there. */
export function withSaid(page: PageShown, which: Which, slot: Slot, said: string): Partial<PageShown> {
  const here = slotName(which, slot);
  const change: Partial<PageShown> = { [here]: said };
  if (isNumber(said) && !isNumber(page[here])) {
    for (const edge of EDGES) {
      for (const place of PLACES) {
        const other = slotName(which, { edge, place });
        if (other !== here && isNumber(page[other])) change[other] = "";
      }
    }
  }
  return change;
}

/** What stands on some page, for instance. */
export type Samples = Readonly<Record<string, string>>;

export const sample = (said: string, samples: Samples): string =>
  piecesOf(said)
    .map((piece) => ("field" in piece ? (samples[piece.field] ?? "…") : piece.words))
    .join("");
