/** A browser of either engine, and the places of the report's text in it. Both are driven in the same way. */
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import puppeteer from "puppeteer-core";

const ENGINES = {
  chromium: {
    browser: "chrome",
    executablePath: "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"],
  },
  firefox: {
    browser: "firefox",
    executablePath: "/usr/bin/firefox-esr",
    args: [],
    // Nothing is looked for outside this machine.
    extraPrefsFirefox: { "app.update.enabled": false, "network.captive-portal-service.enabled": false, "network.connectivity-service.enabled": false, "services.settings.server": "data:,#", "datareporting.policy.dataSubmissionEnabled": false },
  },
};

export async function start(engine) {
  return puppeteer.launch({ ...ENGINES[engine], headless: true, userDataDir: mkdtempSync(`${tmpdir()}/mellow-${engine}-`), defaultViewport: { width: 1280, height: 800 } });
}

/** Signs in with one press, as somebody of the demonstration. */
export async function enter(browser, address, name) {
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(address);
  await press(page, "button", name);
  await page.waitForFunction(() => document.querySelector("h1")?.textContent === "Your shelf");
  return page;
}

/** Presses the first element of a kind with these words, once it stands still: what comes in above it moves it away from the pointer. */
export async function press(page, kind, words) {
  const found = await page.waitForFunction(
    (kind, words) => {
      const one = [...document.querySelectorAll(kind)].find((one) => one.textContent.includes(words) || one.getAttribute("aria-label")?.includes(words));
      const box = one && JSON.stringify(one.getBoundingClientRect());
      const stands = box === window.stoodAt;
      window.stoodAt = box;
      return stands ? one : undefined;
    },
    { timeout: 30_000, polling: 100 },
    kind,
    words,
  );
  await found.click();
}

/** To the shelf, once what was written is stored: a browser asks whether to leave what is not, and waits for an answer. */
export async function toShelf(page, address) {
  await page.waitForFunction(() => !document.querySelector("[data-saved='false']"), { timeout: 60_000 });
  await page.goto(address);
}

export async function open(page, title) {
  await press(page, "a", title);
  await opened(page);
}

/** The text is drawn, and the structure beside it. */
export async function opened(page) {
  await page.waitForFunction(() => document.querySelector(".ProseMirror")?.offsetHeight > 0 && document.querySelector("[data-saved='true']"), { timeout: 60_000 });
  await page.evaluate(tools);
}

export const pause = (milliseconds) => new Promise((done) => setTimeout(done, milliseconds));

/** Put into the page: how the text answers questions about places in it. */
function tools() {
  const text = () => document.querySelector(".ProseMirror");
  const scroller = () => text().closest(".text-of-report").parentElement;
  const block = (node) => {
    let at = node?.nodeType === 1 ? node : node?.parentElement;
    while (at && at.parentElement?.parentElement !== text()) at = at.parentElement;
    return at;
  };
  const blocks = () => [...text().querySelectorAll(":scope > .band > [data-id]")];
  window.tools = {
    scrollTo: (share) => {
      scroller().scrollTop = share * (scroller().scrollHeight - scroller().clientHeight);
    },
    box: () => {
      const { left, top, right, bottom } = scroller().getBoundingClientRect();
      return { left, top, right: Math.min(right, left + scroller().clientWidth), bottom };
    },
    /** The ids of the blocks that a height of the window may stand for: the one there, or those on both sides of a gap. */
    at: (y) => {
      // In a band out of sight blocks stand where they would if it were as high as the browser guesses.
      const all = blocks().filter((one) => one.checkVisibility({ contentVisibilityAuto: true }));
      const inside = all.find((one) => one.getBoundingClientRect().top <= y && y < one.getBoundingClientRect().bottom);
      const box = inside?.getBoundingClientRect();
      // So near to the next block, its line may be the nearer one.
      const atEdge = box && Math.min(y - box.top, box.bottom - y) < 4;
      if (inside?.matches("p, table") && !atEdge) return [inside.dataset.id];
      const before = all.filter((one) => one !== inside && one.matches("p, table") && one.getBoundingClientRect().bottom <= y).at(-1);
      const after = all.find((one) => one.matches("p, table") && one.getBoundingClientRect().top > y);
      return [before, inside, after].filter(Boolean).map((one) => one.dataset.id);
    },
    /** Whether something lies over the text there that is no text: a tag, a handle. */
    covered: (x, y) => {
      const there = document.elementFromPoint(x, y);
      return !there || !text().contains(there) || there.closest("button, a.printed, a.lead") !== null;
    },
    selection: () => {
      const { anchorNode, focusNode, isCollapsed } = getSelection();
      const ends = [anchorNode, focusNode].map((node) => (node === text() || node?.className === "band" ? "the whole" : (block(node)?.dataset.id ?? null)));
      return { ends, isCollapsed, words: getSelection().toString(), inside: text().contains(anchorNode), focused: document.activeElement === text() };
    },
    words: () => Object.fromEntries(blocks().map((one) => [one.dataset.id, one.textContent])),
    /** Puts away what is selected, and moves nothing. */
    collapse: (id) => {
      const there = blocks().find((one) => one.dataset.id === id);
      if (there?.matches("p")) getSelection().collapse(there.firstChild ?? there, 0);
    },
    scrolled: () => scroller().scrollTop,
    /** Two paragraphs in sight, and a place in a word of each. */
    inSight: () => {
      const { top, bottom } = scroller().getBoundingClientRect();
      return blocks()
        .filter((one) => one.matches("p") && one.textContent.length > 60 && one.querySelector("*") === null)
        .filter((one) => one.getBoundingClientRect().top > top + 40 && one.getBoundingClientRect().bottom < bottom - 80)
        .slice(0, 2)
        .map((one) => {
          const range = document.createRange();
          const inWord = one.textContent.search(/[a-z]{4}/) + 1;
          range.setStart(one.firstChild, inWord);
          range.setEnd(one.firstChild, inWord + 1);
          const box = range.getBoundingClientRect();
          return { id: one.dataset.id, words: one.textContent, x: Math.round(box.left + 1), y: Math.round(box.top + box.height / 2) };
        });
    },
    isTakenAlong: (ids) => blocks().some((one) => ids.includes(one.dataset.id) && !one.matches("p, table")),
    isOverTables: (first, last) => blocks().slice(first, last + 1).some((one) => !one.matches("p")),
    order: () => blocks().map((one) => one.dataset.id),
  };
}
