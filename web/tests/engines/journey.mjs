/**
 * A person's first steps: sign in, write, mark, place the contents, fall behind, catch up: `node journey.mjs ENGINE ADDRESS`.
 * Prints what was seen on the way as JSON.
 */
import { enter, opened, pause, press, start } from "./engine.mjs";

const [engine, address] = process.argv.slice(2);
const browser = await start(engine);
const seen = { faults: [] };
const page = await enter(browser, address, "Ines Varga");
page.on("pageerror", (error) => seen.faults.push(String(error)));
const state = () => page.$eval("[data-testid='how-far-behind']", (one) => one.textContent);
const says = (words) => page.waitForFunction((words) => document.querySelector("[data-testid='how-far-behind']")?.textContent.includes(words), { timeout: 60_000 }, words);
const chord = async (key) => {
  await page.keyboard.down("Alt");
  await page.keyboard.press("s");
  await page.keyboard.up("Alt");
  await page.keyboard.press(key);
};

await press(page, "button", "Start a report");
await page.waitForSelector("input[aria-label='Name of the report']");
await page.keyboard.type(`First steps in ${engine}`);
await page.keyboard.press("Enter");
await page.waitForFunction(() => location.pathname.startsWith("/reports/"));
await opened(page);
await page.keyboard.type("Opening");
await page.keyboard.press("Enter");
await page.keyboard.type("Some words about it.");
await page.keyboard.press("Enter");
await page.keyboard.type("Closing");
await chord("2");
await page.waitForFunction(() => document.querySelectorAll("[data-rib]").length === 2);
seen.marked = await page.$$eval("[data-rib]", (ribs) => ribs.map((rib) => rib.textContent));
await press(page, "button", "Contents at the cursor");
await press(page, "button", "Done");
await says("Level with the text");
seen.placed = await state();
const heading = await page.waitForSelector(".band > p[data-style='heading-2']");
await heading.click();
await page.keyboard.press("End");
await page.keyboard.type(" words");
await says("1 line behind");
seen.behind = await state();
await press(page, "button", "Catch up everything");
await says("Level with the text");
seen.level = await state();
const words = await page.waitForSelector(".band > p[data-style='body']");
await words.click();
await page.keyboard.press("End");
await page.keyboard.type(" See ");
await chord("l");
await page.waitForSelector("[data-place]");
await page.keyboard.press("Enter");
await page.waitForSelector(".ProseMirror [data-reference]");
await page.keyboard.type(" there");
for (let step = 0; step < " there".length + 1; step++) await page.keyboard.press("ArrowLeft");
await page.keyboard.type("what of ");
await pause(600); // what is taken back below is what comes now
await page.keyboard.press("ArrowRight");
await page.keyboard.press("Backspace");
await page.waitForFunction(() => !document.querySelector(".ProseMirror [data-reference]"));
await page.keyboard.down("Control");
await page.keyboard.press("z");
await page.keyboard.up("Control");
await page.waitForSelector(".ProseMirror [data-reference]");
await pause(200);
// Words are cited and indexed, from the keyboard alone.
for (const [key, skipped, taken, mark] of [["m", 0, 4, "citation"], ["d", 5, 5, "indexed"]]) {
  await words.click();
  await page.keyboard.press("Home");
  for (let step = 0; step < skipped; step++) await page.keyboard.press("ArrowRight");
  await page.keyboard.down("Shift");
  for (let step = 0; step < taken; step++) await page.keyboard.press("ArrowRight");
  await page.keyboard.up("Shift");
  await chord(key);
  await page.waitForSelector("form [maxlength='500']:focus");
  await page.keyboard.press("Enter");
  await page.waitForSelector(`.ProseMirror .${mark}`);
}
await page.waitForSelector("[data-saved='true']");
await page.reload();
await opened(page);
seen.kept = await page.$$eval(".band > p", (all) => all.map((one) => one.textContent).filter(Boolean));
seen.marks = await page.$$eval(".citation, .indexed", (all) => all.map((one) => [one.className, one.textContent]));
console.log(JSON.stringify(seen));
await browser.close();
