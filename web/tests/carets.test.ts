/** Carets of others: whatever is said of where they are, the text can be read and written. */
import { Editor } from "@tiptap/core";
import { expect, test, vi } from "vitest";
import { Awareness } from "y-protocols/awareness";
import * as Y from "yjs";
import { Carets } from "../src/workspace/text-leaf/carets";
import { CORE, textExtensions } from "../src/workspace/text-leaf/extensions";
import { STYLES } from "./writing";

const PLACE = { type: { client: 1, clock: 2 }, tname: null, item: null, assoc: 0 };

test("odd places of others keep nobody from writing", async () => {
  vi.spyOn(console, "error").mockImplementation(() => undefined);
  const document = new Y.Doc();
  const awareness = new Awareness(document);
  const around = { report: "r", styles: () => STYLES, room: null, goTo: () => undefined, toContents: () => undefined };
  const editor = new Editor({ ...CORE, extensions: [...textExtensions(document, around), Carets.configure({ awareness })] });
  editor.commands.insertContent("Words");
  const odd = [5, "x", {}, { anchor: null, head: null }, { anchor: 5, head: 5 }, { anchor: PLACE, head: PLACE }, { anchor: { ...PLACE, type: 7 }, head: PLACE }, { anchor: PLACE }];
  for (const [clock, cursor] of odd.entries()) {
    awareness.states.set(77, { cursor, user: { name: "Ines" } });
    awareness.emit("change", [{ added: clock ? [] : [77], updated: clock ? [77] : [], removed: [] }, "other"]);
    await new Promise((resolve) => setTimeout(resolve, 5));
    editor.commands.insertContentAt(editor.state.doc.content.size - 1, String(clock));
  }
  expect(editor.getText()).toBe("Words01234567");
  editor.destroy();
  awareness.destroy();
});
