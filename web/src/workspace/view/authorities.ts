/** What is cited in a report, as the panels show it. */
import type { Authority, ReportShown } from "../../api/client";
import type { Cited, View } from ".";

/** The category of what has none. */
const OTHER = "other";

/** An authority by its id; one that is not known goes by the words that cite it, as in the core. */
export const authorityOf = ({ authorities }: ReportShown, id: string, cited: readonly Cited[]): Authority =>
  authorities.find((one) => one.id === id) ?? { id, category: OTHER, long: cited.find(({ of }) => of === id)?.words.replace(/\s+/g, " ") ?? id, short: "" };

export type Category = ReportShown["categories"][number];

/** Citations of each category that there are any of, in the order of the text. */
export function byCategory({ cited }: View, report: ReportShown): [Category, [Authority, Cited][]][] {
  const known = new Map(report.authorities.map((one) => [one.id, one]));
  const found = new Map<string, [Authority, Cited][]>();
  for (const one of cited) {
    let authority = known.get(one.of);
    if (!authority) known.set(one.of, (authority = authorityOf(report, one.of, [one])));
    const category = report.categories.some(({ id }) => id === authority.category) ? authority.category : OTHER;
    const list = found.get(category);
    if (list) list.push([authority, one]);
    else found.set(category, [[authority, one]]);
  }
  return report.categories.flatMap((category) => {
    const list = found.get(category.id);
    return list ? [[category, list] as [Category, [Authority, Cited][]]] : [];
  });
}
