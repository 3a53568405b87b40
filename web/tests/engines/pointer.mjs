/**
 * Presses, drags and types at random places of a long and of a short text, and holds selection and words against the blocks
 * under the pointer: `node pointer.mjs ENGINE ADDRESS PRESSES`. Prints what it found as JSON.
 */
import { dice } from "../dice.mjs";
import { enter, open, opened, pause, press, start, toShelf } from "./engine.mjs";

const [engine, address, count] = process.argv.slice(2);
const random = dice(7);
const found = { presses: 0, drags: 0, faults: [] };
const fault = (what, detail) => found.faults.push({ what, ...detail });

/** Does something that may find faults; a second time where it did, since a busy machine is slow, not wrong. */
async function twice(work) {
  const before = found.faults.length;
  await work();
  if (found.faults.length === before) return;
  found.faults.length = before;
  await pause(1000);
  await work();
}
const browser = await start(engine);

const tools = (page, name, ...given) => page.evaluate((name, ...given) => window.tools[name](...given), name, ...given);

/** Until the text stands still: what comes into view after a leap was as high as the browser had guessed. */
async function atRest(page, box) {
  let before = "";
  for (let same = 0; same < 3; ) {
    await pause(100);
    const now = String(await Promise.all([0.1, 0.5, 0.9].map((share) => tools(page, "at", box.top + share * (box.bottom - box.top)))));
    same = now === before ? same + 1 : 0;
    before = now;
  }
}

/** A place of the leaf that no tool lies over. */
async function place(page, box) {
  for (let attempt = 0; attempt < 20; attempt += 1) {
    // Whole pixels, as a mouse has them: between two of them Chromium loses the start of a drag, in any text.
    // To the right of where the gutter tag and the handle come up under the pointer.
    const x = Math.round(box.left + 60 + random() * (box.right - box.left - 78));
    const y = Math.round(box.top + 8 + random() * (box.bottom - box.top - 60));
    if (!(await tools(page, "covered", x, y))) return { x, y, blocks: await tools(page, "at", y) };
  }
  return null;
}

/** What differs between two states of the text, but for blocks that are the same. */
const changed = (before, now) => [...new Set([...Object.keys(before), ...Object.keys(now)])].filter((id) => before[id] !== now[id]);

async function pressing(page, box) {
  const there = await place(page, box);
  if (there) await twice(() => pressAt(page, there));
}

async function pressAt(page, there) {
  // Puts away what is selected: a press on it is the start of a drag until the button is let go.
  await tools(page, "collapse", there.blocks[0]);
  await pause(60);
  const before = await tools(page, "words");
  await page.mouse.click(there.x, there.y);
  await pause(60);
  const selection = await tools(page, "selection");
  await page.keyboard.type("q");
  await pause(60);
  const now = await tools(page, "words");
  const where = changed(before, now);
  found.presses += 1;
  const grown = where.reduce((sum, id) => sum + (now[id]?.length ?? 0) - (before[id]?.length ?? 0), 0);
  // Where a table or a picture was pressed, the words stand in a paragraph of their own behind it.
  const isNew = !(where[0] in before) && selection.ends[0] === "the whole";
  if (where.length !== 1 || grown !== 1 || !(there.blocks.includes(where[0]) || isNew)) fault("press", { there, where, grown, selection });
  if (where.length > 0) {
    await page.keyboard.down("Control");
    await page.keyboard.press("z");
    await page.keyboard.up("Control");
    await pause(60);
    if (changed(before, await tools(page, "words")).length > 0) fault("undo", { there });
  }
}

async function dragging(page, box) {
  const from = await place(page, box);
  const to = await place(page, box);
  if (!from || !to || Math.hypot(from.x - to.x, from.y - to.y) < 30) return;
  // A table in the text, or a picture, is taken along by such a drag.
  if (!(await tools(page, "isTakenAlong", from.blocks))) await twice(() => drag(page, from, to));
}

async function drag(page, from, to) {
  await tools(page, "collapse", from.blocks[0]);
  await pause(60);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
  await page.mouse.up();
  await pause(80);
  const { ends, words, inside, focused } = await tools(page, "selection");
  found.drags += 1;
  // A drag out of or into a data table, or over a table in the text, may take less than was drawn over; never anything else.
  const order = await tools(page, "order");
  const drawn = [...from.blocks, ...to.blocks].map((id) => order.indexOf(id));
  const selected = ends.map((id) => order.indexOf(id));
  const within = selected.every((at) => at >= Math.min(...drawn) && at <= Math.max(...drawn));
  const overTables = await tools(page, "isOverTables", Math.min(...drawn), Math.max(...drawn));
  const right = overTables ? within || ends[0] === "the whole" : from.blocks.includes(ends[0]) && to.blocks.includes(ends[1]);
  if (!right || !inside || !focused) fault("drag", { from, to, ends, focused, length: words.length });
}

const page = await enter(browser, address, "Ines Varga");
await open(page, "Tide Gate Manual");
const box = await tools(page, "box");
for (let turn = 0; turn < Number(count); turn += 1) {
  if (turn % 4 === 0) {
    await tools(page, "scrollTo", random());
    await atRest(page, box);
  }
  await (turn % 2 ? dragging : pressing)(page, box);
}

/** What hands and the browser's own search know of any text. */
async function habits(page) {
  let [one, other] = [];
  for (let share = 0.4; !other; share += 0.005) {
    await tools(page, "scrollTo", share);
    await atRest(page, await tools(page, "box"));
    [one, other] = await tools(page, "inSight");
  }
  const expect = async (what, right) => (await right(await tools(page, "selection"))) || fault(what, { one, other, selection: await tools(page, "selection") });
  await page.mouse.click(one.x, one.y, { clickCount: 2, count: 2 });
  await pause(100);
  await expect("double press", ({ words }) => words.trim() !== "" && !words.trim().includes(" ") && one.words.includes(words.trim()));
  await pause(600);
  await page.mouse.click(one.x, one.y, { clickCount: 3, count: 3 });
  await pause(100);
  await expect("triple press", ({ words }) => words.replace(/\s+/g, " ").trim() === one.words.replace(/\s+/g, " ").trim());
  await pause(600);
  await page.mouse.click(one.x, one.y);
  await page.keyboard.down("Shift");
  await page.mouse.click(other.x, other.y);
  await page.keyboard.up("Shift");
  await pause(100);
  await expect("Shift and press", ({ ends }) => ends[0] === one.id && ends[1] === other.id);
  await page.mouse.click(one.x, one.y);
  await page.keyboard.down("Shift");
  for (let turn = 0; turn < 3; turn += 1) await page.keyboard.press("ArrowRight");
  await page.keyboard.up("Shift");
  await pause(100);
  await expect("Shift and arrows", ({ words }) => words.length === 3);
  const before = await tools(page, "scrolled");
  await page.keyboard.press("PageDown");
  await pause(400);
  if ((await tools(page, "scrolled")) <= before) fault("PageDown", { before });
  await page.keyboard.down("Control");
  await page.keyboard.press("a");
  await page.keyboard.up("Control");
  await pause(400);
  const order = await tools(page, "order");
  await expect("everything", ({ ends }) => ends.includes("the whole") || (ends[0] === order[0] && ends[1] === order.at(-1)));
  const last = Object.values(await tools(page, "words")).filter((words) => words.length > 40).at(-1).slice(0, 40);
  await page.evaluate(() => getSelection().collapse(document.body, 0));
  if (!(await page.evaluate((words) => window.find(words), last))) fault("search", { last });
}
await twice(() => habits(page));

// A report of one line: the blank sheet below it takes typing, and so does what is beside and above it.
await toShelf(page, address);
await press(page, "button", "Start a report");
await page.waitForSelector("input[aria-label='Name of the report']");
await page.keyboard.type(`One line in ${engine}`);
await page.keyboard.press("Enter");
await page.waitForFunction(() => location.pathname.startsWith("/reports/") && document.querySelector(".ProseMirror p"), { timeout: 30_000 });
await opened(page);
await page.keyboard.type("Only");
const leaf = await tools(page, "box");
const spots = [[0.5, 0.9], [0.02, 0.5], [0.97, 0.97], [0.9, 0.1], [0.5, 0.02], [0.1, 0.3]];
for (let turn = 0; turn < 20; turn += 1) spots.push([0.02 + 0.95 * random(), 0.02 + 0.95 * random()]);
for (const [across, down] of spots) {
  const x = Math.round(leaf.left + across * (leaf.right - leaf.left));
  const y = Math.round(leaf.top + down * (leaf.bottom - leaf.top));
  if (await tools(page, "covered", x, y)) continue;
  const before = Object.values(await tools(page, "words")).join("").length;
  await page.mouse.click(x, y);
  await pause(40);
  await page.keyboard.type("ab");
  await pause(150);
  found.presses += 1;
  const after = Object.values(await tools(page, "words")).join("");
  if (after.length !== before + 2) fault("blank sheet", { across, down, words: after });
}
console.log(JSON.stringify(found));
await browser.close();
