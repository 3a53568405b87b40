import type { Editor } from "@tiptap/core";
import { perform } from "../insert";

/** What takes a block without words away where it stands. Keys select it, and press Delete. */
export function takeAway(called: string, editor: Editor, getPos: () => number | undefined): HTMLElement {
  const button = document.createElement("button");
  button.type = "button";
  button.tabIndex = -1;
  button.contentEditable = "false";
  button.title = button.ariaLabel = `Take the ${called} away`;
  button.className = "take-away";
  button.addEventListener("mousedown", (event) => event.preventDefault());
  button.addEventListener("click", () => {
    const pos = getPos();
    if (pos !== undefined) perform(editor, editor.state.tr.delete(pos, pos + 1));
  });
  return button;
}
