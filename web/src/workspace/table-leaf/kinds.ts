/** What the interface calls each kind of table. To add one, add its words here. */

interface TableWords {
  name: string;
  /** What is offered where something can be put in; `{where}` is "here" or "on a page of its own". */
  put: (where: string) => string;
  /** What stands in the text where it lists nothing. */
  nothing: string;
}

const CONTENTS: TableWords = {
  name: "Contents",
  put: (where) => `Contents table ${where}`,
  nothing: "No headings yet.",
};

export const TABLE_KINDS: Readonly<Record<string, TableWords>> = { contents: CONTENTS };

export const tableWords = (kind: string): TableWords => TABLE_KINDS[kind] ?? CONTENTS;
