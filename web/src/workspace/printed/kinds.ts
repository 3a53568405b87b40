/** What the interface calls each kind of table. To add one, add its words here. */

interface TableWords {
  name: string;
  /** What is offered where something can be put in. */
  put: string;
  /** Whether it is offered on a page of its own as well. */
  page: boolean;
  /** What stands in the text where it lists nothing. */
  nothing: string;
  /** What its lines are made from: headings, captions with one label, or the paragraphs of some styles. */
  lists: "headings" | "captions" | "styles" | "authorities" | "terms";
  /** Names of levels that are no levels of headings. */
  levels?: readonly string[];
}

const CONTENTS: TableWords = {
  name: "Contents",
  put: "Contents table",
  page: true,
  nothing: "No headings yet.",
  lists: "headings",
};

export const TABLE_KINDS: Readonly<Record<string, TableWords>> = {
  contents: CONTENTS,
  figures: { name: "Figures", put: "List of figures", page: true, nothing: "No captions yet.", lists: "captions" },
  tables: { name: "Tables", put: "List of data tables", page: false, nothing: "No captions yet.", lists: "captions" },
  styles: { name: "List", put: "List from a style", page: false, nothing: "Nothing to list yet.", lists: "styles" },
  authorities: {
    name: "Authorities",
    put: "Table of authorities",
    page: true,
    nothing: "Nothing cited yet.",
    lists: "authorities",
    levels: ["categories", "authorities"],
  },
  index: {
    name: "Index",
    put: "Index",
    page: true,
    nothing: "No terms yet.",
    lists: "terms",
    levels: ["letters", "terms", "terms beneath them", "a step deeper"],
  },
};

export const tableWords = (kind: string): TableWords => TABLE_KINDS[kind] ?? CONTENTS;
