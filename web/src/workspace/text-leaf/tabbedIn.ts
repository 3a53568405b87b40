/**
 * Coming into the text with the Tab key. A browser then puts the cursor to the first line that it happens to have laid
 * out; here it stays where it was.
 */
import { Extension } from "@tiptap/core";
import { Plugin } from "@tiptap/pm/state";

export const TabbedIn = Extension.create({
  name: "tabbedIn",
  addProseMirrorPlugins: () => {
    let tabbed = false;
    const note = (event: Event) => {
      tabbed = event instanceof KeyboardEvent && event.key === "Tab";
    };
    return [
      new Plugin({
        view: () => {
          window.addEventListener("keydown", note, true);
          window.addEventListener("pointerdown", note, true);
          return {
            destroy: () => {
              window.removeEventListener("keydown", note, true);
              window.removeEventListener("pointerdown", note, true);
            },
          };
        },
        props: {
          handleDOMEvents: {
            focus: (view) => {
              // Before the browser tells of its own selection, which is after this event.
              if (tabbed) queueMicrotask(() => view.focus());
              return false;
            },
          },
        },
      }),
    ];
  },
});
