/**
 * Quick hands: every key, and whatever arrives, finds the cursor where its writer put it.
 *
 * Browsers tell of a moved selection with the next frame, and the editor puts its own back a moment after it is come to by
 * Tab. Keys can be quicker than either; so both are done before a key is heard. What arrives from elsewhere can be as quick,
 * and what is drawn anew for it would put the cursor back: a press would be lost, and the words typed next would stand elsewhere.
 */
import { Extension, type Editor } from "@tiptap/core";
import { Plugin, type Transaction } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";

/** Has the editor read where the cursor is. */
const tell = (view: EditorView) => view.dom.ownerDocument.dispatchEvent(new Event("selectionchange"));

/** Has a transaction go on from where the cursor was put last. */
function goOn(editor: Editor, transaction: Transaction): void {
  const before = editor.state.selection;
  tell(editor.view);
  const { selection } = editor.state;
  if (selection !== before) transaction.setSelection(selection.map(transaction.doc, transaction.mapping));
}

interface Hands {
  pressing: boolean;
  /** Come to by the keyboard: the browser has put the cursor at the start. */
  returned: boolean;
}

export const Cursor = Extension.create<object, Hands>({
  name: "cursor",
  addStorage: () => ({ pressing: false, returned: false }),
  addProseMirrorPlugins() {
    const hands = this.storage;
    return [
      new Plugin({
        props: {
          handleDOMEvents: {
            pointerdown: () => {
              hands.pressing = true;
              hands.returned = false;
            },
            focus: () => void (hands.returned = !hands.pressing),
            blur: () => void (hands.pressing = false),
            keydown: (view) => {
              if (hands.returned) view.focus();
              else tell(view);
              hands.pressing = hands.returned = false;
            },
          },
        },
      }),
    ];
  },
  dispatchTransaction({ transaction, next }) {
    const byItself = transaction.docChanged ? transaction.getMeta("addToHistory") === false : !transaction.selectionSet;
    if (byItself && !this.storage.returned) goOn(this.editor, transaction);
    next(transaction);
  },
});
