/** Where the bar at a selection stands: above the selected words, or below them where there is no room. */
import type { Editor } from "@tiptap/core";
import type { Transaction } from "@tiptap/pm/state";
import { useCallback, useEffect, useRef, useState, type RefObject } from "react";

interface Place {
  left: number;
  top: number;
}

/** Height of the bar with the gap below it, gap above it where it stands below, and its width, in pixels. */
const [ABOVE, BELOW, WIDTH] = [60, 12, 590];

/** Null while no words are selected. It is a new place after each change of the text, so that the bar is drawn anew. */
export function useSelectionPlace(
  editor: Editor,
  scroller: RefObject<HTMLElement | null>,
  bar: RefObject<HTMLElement | null>,
): Place | null {
  const [place, setPlace] = useState<Place | null>(null);
  /** While the mouse button is down in the text, the selection is still being made. */
  const held = useRef(false);

  const look = useCallback(() => {
    if (held.current || bar.current?.contains(document.activeElement)) return;
    const { from, to, empty } = editor.state.selection;
    const hasText = !empty && editor.state.doc.textBetween(from, to, " ").trim() !== "";
    const frame = hasText && scroller.current?.querySelector(".text-of-report")?.getBoundingClientRect();
    if (!frame || !editor.view.hasFocus()) {
      setPlace(null);
      return;
    }
    const start = editor.view.coordsAtPos(from);
    const leaf = scroller.current?.getBoundingClientRect();
    const above = start.top - ABOVE;
    const top = leaf && above < leaf.top ? editor.view.coordsAtPos(to).bottom + BELOW : above;
    const left = Math.min(Math.max(start.left - frame.left - 60, 8), Math.max(frame.width - WIDTH, 8));
    setPlace({ left, top: top - frame.top });
  }, [editor, scroller, bar]);

  useEffect(() => {
    const down = (event: MouseEvent) => {
      held.current = editor.view.dom.contains(event.target as globalThis.Node);
    };
    const up = () => {
      held.current = false;
      requestAnimationFrame(look);
    };
    // Going from the text into the bar is no leaving.
    const left = ({ event }: { event: FocusEvent }) => {
      if (!bar.current?.contains(event.relatedTarget as globalThis.Node | null)) look();
    };
    // Losing the focus is a transaction as well; at that moment nothing has it yet.
    const changed = ({ transaction }: { transaction: Transaction }) => {
      if (!transaction.getMeta("blur")) look();
    };
    editor.on("transaction", changed);
    editor.on("focus", look);
    editor.on("blur", left);
    window.addEventListener("mousedown", down);
    window.addEventListener("mouseup", up);
    return () => {
      editor.off("transaction", changed);
      editor.off("focus", look);
      editor.off("blur", left);
      window.removeEventListener("mousedown", down);
      window.removeEventListener("mouseup", up);
    };
  }, [editor, look, bar]);
  return place;
}
