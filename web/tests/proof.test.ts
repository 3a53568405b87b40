/** The proof: pages come in the order in which they are looked at, lie as when bound, and are drawn as the server has them. */
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { api, type ProofShown } from "../src/api/client";
import { drawnPage } from "../src/workspace/proof/drawnPage";
import { paperOf, ProofPages, spreads, usualWidth } from "../src/workspace/proof/pages";

const FACE = { font: "Carlito", bold: true, italic: false, tabular: true };
const page = (number: number, words = `page ${number}`): ProofShown["pages"][number] => ({
  number,
  words: [[72, 100, words, 0, 11, "#000000", 40]],
  rules: [], curves: [],
  pictures: [],
  links: [],
  places: [],
  blocks: [],
  headings: [],
});

let asked: [first: number, last: number][];
let count: number;
let written: string;
let refuse: boolean;

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  count = 50;
  written = "";
  refuse = false;
  vi.spyOn(api, "proof").mockImplementation((_, first, last) => {
    asked.push([first, last]);
    if (refuse) return Promise.reject(new Error("Not now."));
    const pages = Array.from({ length: Math.max(Math.min(last, count) - first + 1, 0) }, (_, at) => page(first + at, written || undefined));
    return Promise.resolve({ count, papers: [{ first: 1, width: 600, height: 800 }], faces: [FACE], pages });
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const words = (pages: ProofPages, number: number) => pages.state.loaded.get(number)?.page.words[0]?.[2];

test("pages in sight come first, then all others", async () => {
  const pages = new ProofPages("r");
  pages.start(30);
  await vi.advanceTimersByTimeAsync(0);
  expect(asked).toEqual([[30, 37]]);
  await vi.advanceTimersByTimeAsync(1000);
  expect(pages.state.loaded.size).toBe(50);
  const before = asked.length;
  await vi.advanceTimersByTimeAsync(60_000);
  expect(asked.length).toBe(before);
  pages.stop();
});

test("what is scrolled to goes before what waits", async () => {
  count = 1000;
  const pages = new ProofPages("r");
  pages.start(1);
  await vi.advanceTimersByTimeAsync(0);
  pages.inSight(500, 503);
  await vi.advanceTimersByTimeAsync(0);
  expect(asked.at(-1)).toEqual([500, 507]);
  pages.stop();
});

test("after a change pages are asked for again, and shown as they were until then", async () => {
  const pages = new ProofPages("r");
  pages.start(1);
  await vi.advanceTimersByTimeAsync(1000);
  written = "anew";
  pages.renew();
  expect(words(pages, 1)).toBe("page 1");
  await vi.advanceTimersByTimeAsync(0);
  expect(words(pages, 1)).toBe("anew");
  count = 10;
  pages.renew();
  await vi.advanceTimersByTimeAsync(1000);
  expect([...pages.state.loaded.keys()].length).toBe(10);
  expect([...pages.state.loaded.values()].every((one) => one.page.words[0]?.[2] === "anew")).toBe(true);
  pages.stop();
});

test("a change while pages are under way leaves none behind", async () => {
  const pages = new ProofPages("r");
  pages.start(1);
  vi.advanceTimersByTime(0);
  written = "anew";
  pages.renew();
  await vi.advanceTimersByTimeAsync(2000);
  expect(pages.state.loaded.size).toBe(50);
  expect([...pages.state.loaded.values()].every((one) => one.page.words[0]?.[2] === "anew")).toBe(true);
  pages.stop();
});

test("where the server does not answer it is said, and tried again", async () => {
  refuse = true;
  const pages = new ProofPages("r");
  pages.start(1);
  await vi.advanceTimersByTimeAsync(0);
  expect(pages.state.trouble).toBe("Not now.");
  refuse = false;
  await vi.advanceTimersByTimeAsync(3500);
  expect(pages.state.trouble).toBe("");
  expect(words(pages, 1)).toBe("page 1");
  pages.stop();
});

test("all pages are waited for before they are printed", async () => {
  const pages = new ProofPages("r");
  pages.start(1);
  let there = 0;
  void pages.all().then(() => (there = pages.state.loaded.size));
  await vi.advanceTimersByTimeAsync(5000);
  expect(there).toBe(50);
  pages.stop();
});

test.each([
  [0, []],
  [1, [[1]]],
  [2, [[1], [2]]],
  [5, [[1], [2, 3], [4, 5]]],
  [6, [[1], [2, 3], [4, 5], [6]]],
])("%i pages lie as when bound", (pages, rows) => {
  expect(spreads(pages, true)).toEqual(rows);
  expect(spreads(pages, false)).toEqual(Array.from({ length: pages }, (_, at) => [at + 1]));
});

test("the paper of a page, and of most", () => {
  const papers = [
    { first: 1, width: 600, height: 800 },
    { first: 4, width: 800, height: 600 },
    { first: 5, width: 600, height: 800 },
  ];
  expect([1, 3, 4, 5, 9].map((one) => paperOf(papers, one).width)).toEqual([600, 600, 800, 600, 600]);
  expect(usualWidth(papers, 9)).toBe(600);
});

test("a page is drawn as text and links", () => {
  const given = page(1, "<b>Gates</b> & tides");
  given.headings = [["h", "1 Gates"]];
  given.blocks = [["h", 72, 90, 400, 20]];
  given.links = [
    [72, 200, 50, 12, "place", "Tides"],
    [72, 220, 50, 12, "https://example.org", ""],
  ];
  given.rules = [
    [0, 10, 100, 0, 1, "#112233", null, 0],
    [0, 20, 100, 30, 1, "#112233", "#ffffff", 0],
  ];
  given.pictures = [[0, 0, 10, 10, "a.png"]];
  const svg = drawnPage({ page: given, faces: [FACE] }, { width: 600, height: 800, picture: (source) => `/pictures/${source}` });
  const text = svg.querySelector("text");
  expect(text?.textContent).toBe("<b>Gates</b> & tides");
  expect(text?.getAttribute("textLength")).toBe("40");
  expect(text?.classList.contains("tabular")).toBe(true);
  expect(svg.querySelectorAll("b").length).toBe(0);
  expect([...svg.querySelectorAll("a")].map((one) => [one.dataset.text, one.dataset.place, one.getAttribute("href"), one.getAttribute("aria-label")])).toEqual([
    ["h", undefined, "#", "“1 Gates” in the text"],
    [undefined, "place", "#", "Tides"],
    [undefined, undefined, "https://example.org", "https://example.org"],
  ]);
  expect([svg.querySelectorAll("line").length, svg.querySelectorAll(":scope > rect").length, svg.querySelector("image")?.getAttribute("href")]).toEqual([1, 1, "/pictures/a.png"]);
});
