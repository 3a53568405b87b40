/** The keys of the text. */
import { Extension, type Editor } from "@tiptap/core";
import { leaveList, splitParagraph, takeListBack, toggle } from "./commands";
import { toCell } from "./grids";
import { insertPageBreak } from "./kinds/pageBreak";
import { backspaceInNote, newLineInNote } from "./notes";
import type { Styles } from "./styles";

const inParagraph = (editor: Editor) => editor.state.selection.$from.parent.isTextblock;

export const Keys = Extension.create<{ styles: () => Styles }>({
  name: "keys",
  priority: 1100,
  addOptions: () => ({ styles: () => [] }),
  addKeyboardShortcuts() {
    const { styles } = this.options;
    return {
      "Mod-b": ({ editor }) => toggle(editor, "bold", styles()),
      "Mod-i": ({ editor }) => toggle(editor, "italic", styles()),
      "Mod-u": ({ editor }) => toggle(editor, "underline", styles()),
      "Mod-z": ({ editor }) => takeListBack(editor),
      Backspace: ({ editor }) => backspaceInNote(editor) || leaveList(editor, styles()),
      Enter: ({ editor }) => newLineInNote(editor) || splitParagraph(editor, styles()),
      "Mod-Enter": ({ editor }) => {
        insertPageBreak(editor);
        return true;
      },
      Tab: ({ editor }) =>
        toCell(1)(editor.state, editor.view.dispatch) || (inParagraph(editor) && editor.commands.insertContent("\t")),
      "Shift-Tab": ({ editor }) => toCell(-1)(editor.state, editor.view.dispatch),
    };
  },
});
