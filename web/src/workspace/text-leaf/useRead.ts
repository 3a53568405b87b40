import type { Editor } from "@tiptap/core";
import { useEffect, useState } from "react";

/** Something read from the editor, kept level with it. Whoever uses it is drawn anew only when it changes; it is plain data. */
export function useRead<T>(editor: Editor, read: () => T): T | null {
  const [now, setNow] = useState<T | null>(null);
  useEffect(() => {
    let frame = 0;
    let pressed = false;
    const later = () => {
      cancelAnimationFrame(frame);
      if (pressed) return;
      frame = requestAnimationFrame(() => {
        const found = read();
        setNow((before) => (JSON.stringify(before) === JSON.stringify(found) ? before : found));
      });
    };
    // What is shown must not change its size under somebody who drags.
    const press = () => {
      pressed = true;
    };
    const release = () => {
      if (!pressed) return;
      pressed = false;
      later();
    };
    const text = editor.view.dom;
    text.addEventListener("pointerdown", press);
    window.addEventListener("pointerup", release);
    window.addEventListener("pointercancel", release);
    window.addEventListener("dragend", release);
    later();
    editor.on("transaction", later);
    return () => {
      cancelAnimationFrame(frame);
      text.removeEventListener("pointerdown", press);
      window.removeEventListener("pointerup", release);
      window.removeEventListener("pointercancel", release);
      window.removeEventListener("dragend", release);
      editor.off("transaction", later);
    };
  }, [editor, read]);
  return now;
}
