/**
 * What is selected stays to be seen while somebody types elsewhere, as in a form that is about these very words: browsers show
 * a selection only where the keyboard is. It is painted as a highlight (CSS Custom Highlight API), which leaves the text alone.
 */
import { Extension } from "@tiptap/core";
import { Plugin } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";

const NAME = "held-selection";

/** None in browsers that cannot paint any. */
const highlights = () => (typeof CSS === "undefined" ? undefined : (CSS as Partial<typeof CSS>).highlights);

const letGo = () => void highlights()?.delete(NAME);

function hold(view: EditorView): void {
  if (!highlights()) return;
  const { from, to, empty } = view.state.selection;
  if (empty || view.hasFocus()) return letGo();
  const range = view.dom.ownerDocument.createRange();
  const [start, end] = [view.domAtPos(from, 1), view.domAtPos(to, -1)];
  range.setStart(start.node, start.offset);
  range.setEnd(end.node, end.offset);
  highlights()?.set(NAME, new Highlight(range));
}

export const HeldSelection = Extension.create({
  name: "heldSelection",
  addProseMirrorPlugins: () => [
    new Plugin({
      props: { handleDOMEvents: { blur: hold, focus: letGo } },
      view: () => ({ update: hold, destroy: letGo }),
    }),
  ],
});
