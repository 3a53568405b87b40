/**
 * What comes from elsewhere: a page of the web pasted, had as words alone and undone; a chapter dropped at a seam; a section copied
 * into another report: `node clipboard.mjs ENGINE ADDRESS`. Prints what was seen on the way as JSON.
 *
 * The clipboard of this machine is nobody's to write: what is on it comes with the event, as browsers give it.
 */
import { enter, open, opened, pause, press, start, toShelf } from "./engine.mjs";

const PAGE =
  "<h2>Access</h2><ol><li>First<ul><li>Under it</ul><li>Second</ol><table><tr><td rowspan=2>May<td>1<tr><td>2</table>" +
  "<p>Large <span style='font-size: 18pt'>words</span> <img src='data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==' alt='A point'></p>";
const CHAPTER = "# Sea level\n\nSee [Weir](#weir).\n\n## Weir\n\n1. One\n";

const [engine, address] = process.argv.slice(2);
const browser = await start(engine);
const seen = { faults: [] };
const page = await enter(browser, address, "Ines Varga");
// Going elsewhere while a face is still loading is no fault, though one of the engines says so.
page.on("pageerror", (error) => String(error).includes("downloadable font") || seen.faults.push(String(error)));

const begin = async (title) => {
  await toShelf(page, address);
  await press(page, "button", "Start a report");
  await page.waitForSelector("input[aria-label='Name of the report']");
  await page.keyboard.type(title);
  await page.keyboard.press("Enter");
  await opened(page);
  await page.click(".ProseMirror");
};
const blocks = () =>
  page.$$eval(".ProseMirror [data-style], .ProseMirror figure", (all) =>
    all.filter((one) => !one.closest("td")).map((one) => `${one.dataset.style ?? one.tagName.toLowerCase()}: ${one.textContent}`),
  );
const paste = (kinds) =>
  page.evaluate((kinds) => {
    const data = new DataTransfer();
    for (const [kind, words] of Object.entries(kinds)) data.setData(kind, words);
    // Firefox does not take it when an event is made.
    const event = new ClipboardEvent("paste", { bubbles: true, cancelable: true });
    Object.defineProperty(event, "clipboardData", { value: data });
    document.querySelector(".ProseMirror").dispatchEvent(event);
  }, kinds);
const says = (words) => page.waitForFunction((words) => document.body.textContent.includes(words), { timeout: 60_000 }, words);
const undo = async () => {
  await page.keyboard.down("Control");
  await page.keyboard.press("z");
  await page.keyboard.up("Control");
  await pause(500);
};

await begin(`Pasted in ${engine}`);
await page.keyboard.type("Before");
await page.keyboard.press("Enter");
await paste({ "text/html": PAGE, "text/plain": "Access\nLarge words" });
await says("Pasted as here");
seen.pasted = await blocks();
seen.cells = await page.$$eval(".ProseMirror td", (all) => all.map((one) => `${one.textContent} ${one.rowSpan}`));
await press(page, "button", "words alone");
await says("Pasted words alone");
seen.words = await blocks();
await page.focus(".ProseMirror");
await undo();
seen.undone = await blocks();

await page.evaluate((words) => {
  const data = new DataTransfer();
  data.items.add(new File([words], "sea-level.md", { type: "text/markdown" }));
  const { left, bottom } = document.querySelector(".ProseMirror p").getBoundingClientRect();
  for (const kind of ["dragenter", "dragover", "drop"])
    document.querySelector(".ProseMirror p").dispatchEvent(new DragEvent(kind, { dataTransfer: data, clientX: left + 40, clientY: bottom - 1, bubbles: true, cancelable: true }));
}, CHAPTER);
await press(page, "button", "Bring it in here");
await says("is in the text");
seen.chapter = await blocks();

await toShelf(page, address);
await open(page, "Quillmere Lido Restoration");
// Until what is computed has come, the editor puts its own selection back.
const isSelected = () => page.evaluate(() => !getSelection().isCollapsed);
for (let tries = 0; tries < 20 && !(await isSelected()); tries += 1) {
  await page.evaluate(() => {
    const head = [...document.querySelectorAll(".ProseMirror [data-style='heading-2']")].find((one) => one.textContent.includes("Before the pool"));
    let last = head;
    while (last.tagName !== "FIGURE") last = last.nextElementSibling ?? last.parentElement.nextElementSibling.firstElementChild;
    getSelection().setBaseAndExtent(head.firstChild, 0, (last.nextElementSibling ?? last).firstChild, 3);
  });
  await pause(500);
}
// What an editor puts on the clipboard is in the event once all have seen it.
const copied = await page.evaluate(() => {
  const data = new DataTransfer();
  const event = new ClipboardEvent("copy", { bubbles: true, cancelable: true });
  Object.defineProperty(event, "clipboardData", { value: data });
  document.querySelector(".ProseMirror").dispatchEvent(event);
  return { "text/html": data.getData("text/html"), "text/plain": data.getData("text/plain") };
});
seen.named = copied["text/html"].includes("data-copy");
await pause(1500);
await begin(`Copied in ${engine}`);
await paste(copied);
await page.waitForFunction(() => document.querySelector(".ProseMirror figure img")?.naturalWidth > 0, { timeout: 60_000 });
seen.section = (await blocks()).map((one) => one.slice(0, 40));
await browser.close();
console.log(JSON.stringify(seen));
