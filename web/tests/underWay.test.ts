/** Changes to a report's rows that are not answered yet. */
import { QueryClient } from "@tanstack/react-query";
import { expect, test } from "vitest";
import type { ReportShown } from "../src/api/client";
import { asWanted, underWay } from "../src/api/underWay";

const report = (title: string, part = "") => ({ title, part }) as unknown as ReportShown;

/** Something that is answered when somebody says so. */
function later<T>() {
  let answer: (value: T) => void = () => undefined;
  let refuse: (error: Error) => void = () => undefined;
  const promise = new Promise<T>((done, failed) => ([answer, refuse] = [done, failed]));
  return { promise, answer, refuse };
}

test("what was on its way before somebody changed something does not take it back", async () => {
  const queries = new QueryClient();
  const reading = later<ReportShown>();
  const read = queries.fetchQuery({ queryKey: ["report", "k"], queryFn: async () => asWanted("k", await reading.promise) });
  const work = later<null>();
  const change = (now: ReportShown) => ({ ...now, title: "Locks" });
  const changed = underWay("k", change, () => work.promise);
  reading.answer(report("Gates"));
  await read;
  expect(queries.getQueryData(["report", "k"])).toEqual(report("Locks"));
  expect(asWanted("other", report("Gates"))).toEqual(report("Gates"));
  work.answer(null);
  await changed;
  expect(asWanted("k", report("As stored"))).toEqual(report("As stored"));
});

test("of several each shows until it is answered, and what is refused is gone", async () => {
  const [first, second] = [later<null>(), later<null>()];
  const one = underWay("k", (now) => ({ ...now, title: "Locks" }), () => first.promise);
  const other = underWay("k", (now) => ({ ...now, part: "Water" }) as ReportShown, () => second.promise);
  expect(asWanted("k", report("Gates"))).toEqual(report("Locks", "Water"));
  first.refuse(new Error("no"));
  await expect(one).rejects.toThrow("no");
  expect(asWanted("k", report("Gates"))).toEqual(report("Gates", "Water"));
  second.answer(null);
  await other;
  expect(asWanted("k", report("Gates"))).toEqual(report("Gates"));
});
