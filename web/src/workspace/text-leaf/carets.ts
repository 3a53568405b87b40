/** The carets and selections of the others, from the room's awareness. */
import { Extension } from "@tiptap/core";
import { Plugin, type StateField } from "@tiptap/pm/state";
import type { DecorationSet } from "@tiptap/pm/view";
import { yCursorPlugin, yCursorPluginKey } from "@tiptap/y-tiptap";
import type { Awareness } from "y-protocols/awareness";

export interface Presence {
  id: number;
  name: string;
  colour: string;
}

const COLOUR = /^#[0-9a-f]{6}$/i;
const colourOf = (user: Partial<Presence>) => (COLOUR.test(user.colour ?? "") ? (user.colour ?? "") : "#635c6b");

export const Carets = Extension.create<{ awareness: Awareness | null }>({
  name: "carets",
  priority: 999,
  addOptions: () => ({ awareness: null }),
  addProseMirrorPlugins() {
    const { awareness } = this.options;
    if (!awareness) return [];
    // The plugin asks for a redraw at every move of any caret, this person's own included, which it does not draw.
    let othersMoved = false;
    awareness.on("change", (change: Record<"added" | "updated" | "removed", number[]>) => {
      othersMoved ||= Object.values(change).flat().some((client) => client !== awareness.clientID);
    });
    const onlyOthers = new Plugin({
      filterTransaction: (transaction) => {
        if (!transaction.getMeta(yCursorPluginKey)) return true;
        const wanted = othersMoved;
        othersMoved = false;
        return wanted;
      },
    });
    const carets = yCursorPlugin(awareness, {
      cursorBuilder: (user: Partial<Presence>) => {
        const caret = document.createElement("span");
        const label = document.createElement("span");
        caret.className = "caret-of-other";
        caret.style.borderColor = label.style.background = colourOf(user);
        label.textContent = user.name ?? "";
        caret.append(label);
        return caret;
      },
      selectionBuilder: (user: Partial<Presence>) => ({
        style: `background: ${colourOf(user)}40`,
      }),
    });
    const state = carets.spec.state as StateField<DecorationSet>;
    const { apply } = state;
    // Where another is must not keep anybody from writing, whatever was said of it.
    state.apply = (transaction, before, ...states) => {
      try {
        return apply.call(carets, transaction, before, ...states);
      } catch (error) {
        console.error("The carets of others could not be drawn", error);
        return before.map(transaction.mapping, transaction.doc);
      }
    };
    return [onlyOthers, carets];
  },
});
