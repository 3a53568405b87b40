/**
 * Changes to a report's rows that the server has not answered yet. They show at once; and in whatever is read meanwhile, which may
 * have been on its way before they were asked for.
 */
import type { ReportShown } from "./client";

type Change = (now: ReportShown) => ReportShown;

const changes = new Map<string, Set<Change>>();

/** A report as it was read, with what is under way. */
export const asWanted = (key: string, report: ReportShown): ReportShown => [...(changes.get(key) ?? [])].reduce((now, change) => change(now), report);

/** Does some work, of which `change` is what it will have changed; a change is under way until its work is done or has failed. */
export async function underWay<T>(key: string, change: Change, work: () => Promise<T>): Promise<T> {
  const own = changes.get(key) ?? new Set();
  changes.set(key, own.add(change));
  try {
    return await work();
  } finally {
    own.delete(change);
  }
}
