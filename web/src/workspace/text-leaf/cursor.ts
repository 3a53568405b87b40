/**
 * Quick hands: every key finds the cursor where its writer put it.
 *
 * Browsers tell of a moved selection with the next frame, and the editor puts its own back a moment after it is come to by
 * Tab. Keys can be quicker than either; so both are done before a key is heard.
 */
import { Extension } from "@tiptap/core";
import { Plugin } from "@tiptap/pm/state";

export const Cursor = Extension.create({
  name: "cursor",
  addProseMirrorPlugins: () => {
    let pressing = false;
    /** Come to by the keyboard: the browser has put the cursor at the start. */
    let returned = false;
    return [
      new Plugin({
        props: {
          handleDOMEvents: {
            pointerdown: () => {
              pressing = true;
              returned = false;
            },
            focus: () => void (returned = !pressing),
            keydown: (view) => {
              if (returned) view.focus();
              else view.dom.ownerDocument.dispatchEvent(new Event("selectionchange"));
              pressing = returned = false;
            },
          },
        },
      }),
    ];
  },
});
