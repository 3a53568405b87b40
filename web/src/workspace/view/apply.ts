/** The view: what the server sends, with what browsers put together of it. */
import { PAGES, PARTS, type Changes, type Edge as SentEdge, type Heading as SentHeading, type Values } from "./described";
import { parts } from "./wire";

type OnPage<T> = T & { readonly page: number };
/** With the printed number of its page. */
type Labelled<T> = T & { readonly label: string };

export type Heading = Labelled<OnPage<SentHeading>>;
/** `empty` for a page on which nothing stands, so that the next part begins on the hand that it wants. */
export type Edge = Labelled<OnPage<SentEdge>> & { readonly empty: boolean };
export type Place = OnPage<Values["places"][number]>;
export type CrossReference = OnPage<Values["leads"][number]>;
export type Cited = OnPage<Values["cited"][number]>;
export type Termed = OnPage<Values["terms"][number]>;

type Paged = { readonly [List in keyof typeof PAGES]: readonly OnPage<Values[List][number]>[] };

export interface View extends Omit<Values, keyof Paged | "edges">, Omit<Paged, "headings"> {
  readonly headings: readonly Heading[];
  readonly edges: readonly Edge[];
  /** Whether there is a place with this id that a link can lead to. */
  readonly reaches: (id: string) => boolean;
}

const WHOLE = parts(PARTS);

export const EMPTY_VIEW: View = { ...(WHOLE.empty as unknown as Omit<View, "reaches">), reaches: () => false };

export function applyChanges(view: View, changes: Changes): View {
  // What is put together below stands in these lists already where they have not changed, and is kept by them.
  const values = WHOLE.apply(view, changes);
  const paged = Object.fromEntries(
    entriesOf(PAGES).map(([list, on]) => [list, changes[list] || changes[on] ? onPages<object>(values[list], values[on]) : values[list]]),
  ) as unknown as Paged;
  const headings =
    changes.headings || changes.headings_on || changes.labels ? labelled(paged.headings, ({ page }) => values.labels[page - 1]) : view.headings;
  return {
    ...values,
    ...paged,
    headings,
    edges: changes.edges || changes.labels ? edgesOn(values.edges, values.labels) : view.edges,
    reaches: changes.headings || changes.places ? reaching(headings, paged.places) : view.reaches,
  };
}

const entriesOf = <T extends object>(of: T) => Object.entries(of) as [keyof T, T[keyof T]][];

/** A list of things, each with its page. Those whose page is the same stay the very same. */
const onPages = <T extends object>(list: readonly (T & { page?: number })[], pages: readonly number[]): readonly OnPage<T>[] =>
  list.map((one, index) => (one.page !== undefined && one.page === pages[index] ? (one as OnPage<T>) : { ...one, page: pages[index] ?? 1 }));

const labelled = <T extends object>(
  list: readonly (T & { label?: string })[],
  labelOf: (one: T, index: number) => string | undefined,
): readonly Labelled<T>[] =>
  list.map((one, index) => {
    const label = labelOf(one, index) ?? "";
    return one.label === label ? (one as Labelled<T>) : { ...one, label };
  });

/** The edges with the page that begins there. Where two are at one place, the first of the pages is empty. */
const edgesOn = (edges: readonly (SentEdge & Partial<Edge>)[], labels: readonly string[]): readonly Edge[] =>
  edges.map((edge, index) => {
    const page = index + 2;
    const label = labels[page - 1] ?? "";
    const next = edges[index + 1];
    const empty = next !== undefined && next.block === edge.block && next.offset === edge.offset;
    return edge.page === page && edge.label === label && edge.empty === empty ? (edge as Edge) : { ...edge, page, label, empty };
  });

function reaching(headings: readonly Heading[], places: readonly Place[]): (id: string) => boolean {
  const ids = new Set([...headings, ...places].map(({ id }) => id));
  return (id) => ids.has(id);
}
