/** Parts of the report in words: which pages each has, and what it is called. */
import type { PageShown, PartShown, ReportShown } from "../../api/client";
import type { View } from "../view";

/** The part in front of all that begin in the text, as the core calls it (`report/parts.py`). */
export const FIRST = "first";

const PLAIN: PartShown = { name: "", figures: null, words: "", start: null, begins: "any", page: {} };

export interface PartOnPages {
  id: string;
  part: PartShown;
  /** Its pages, counted from 1. */
  first: number;
  last: number;
  /** "A-1 to A-7", as they are printed. */
  numbers: string;
  name: string;
}

export const partOf = (report: ReportShown, id: string): PartShown => report.parts[id] ?? PLAIN;

function numbers(view: View, first: number, last: number): string {
  const [one, other] = [view.labels[first - 1], view.labels[last - 1]];
  if (!one || !other) return "without numbers";
  return one === other ? `page ${one}` : `pages ${one} to ${other}`;
}

/** The parts that have pages. */
export const partsOf = (report: ReportShown, view: View): readonly PartOnPages[] =>
  view.parts.map(({ id, first, last }) => {
    const part = partOf(report, id);
    const said = numbers(view, first, last);
    return { id, part, first, last, numbers: said, name: part.name || (id === FIRST ? "The beginning" : said.replace(/^./, (sign) => sign.toUpperCase())) };
  });

/** In what the page set-up of a part differs from the report's. */
export const ownOf = (part: PartShown): Partial<PageShown> => part.page;
