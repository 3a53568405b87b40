/** What the interface says: counts, times, and why the server turned something down. */
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { api } from "../src/api/client";
import { counted, howFarBehind, when } from "../src/words";

test.each([
  [0, "Level with the text"],
  [1, "1 line behind"],
  [12, "12 lines behind"],
  [1234, "1,234 lines behind"],
])("%i lines: %s", (lines, sentence) => expect(howFarBehind(lines)).toBe(sentence));

test("one is singular", () => {
  expect(counted(1, "page")).toBe("1 page");
  expect(counted(2, "page")).toBe("2 pages");
  expect(counted(3, "copy", "copies")).toBe("3 copies");
});

describe("times", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    vi.setSystemTime(new Date(2026, 10, 25, 15, 0));
  });
  afterEach(() => vi.useRealTimers());

  test.each([
    [new Date(2026, 10, 25, 9, 5), "today, 09:05"],
    [new Date(2026, 10, 24, 23, 59), "24 November"],
    [new Date(2025, 10, 25, 9, 5), "25 November 2025"],
  ])("%s is %s", (at, words) => expect(when(at.toISOString())).toBe(words));
});

describe("a request that fails says why, in a sentence", () => {
  afterEach(() => vi.unstubAllGlobals());
  const answer = (status: number, body: string) =>
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(body, { status })));

  test("in the server's words where it has some", async () => {
    answer(400, JSON.stringify({ message: "Give the report a name." }));
    await expect(api.rename("k", "")).rejects.toThrow("Give the report a name.");
  });

  test("in ours where it has none", async () => {
    answer(502, "<html>Bad gateway</html>");
    await expect(api.rename("k", "New")).rejects.toThrow("The server could not do this (502); try again.");
  });

  test("without a connection", async () => {
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("network")));
    await expect(api.rename("k", "New")).rejects.toThrow("The server cannot be reached; check the connection and try again.");
  });

  test("names in addresses stay names", async () => {
    const fetched = vi.fn<(address: string) => Promise<Response>>(() => Promise.resolve(new Response("{}")));
    vi.stubGlobal("fetch", fetched);
    await api.rename("../x?y", "New");
    expect(fetched.mock.calls[0]?.[0]).toBe("/api/reports/..%2Fx%3Fy");
  });
});
