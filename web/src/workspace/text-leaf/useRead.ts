import type { Editor } from "@tiptap/core";
import { useEffect, useState } from "react";

/** Something read from the editor, kept level with it. Whoever uses it is drawn anew only when it changes; it is plain data. */
export function useRead<T>(editor: Editor, read: () => T): T | null {
  const [now, setNow] = useState<T | null>(null);
  useEffect(() => {
    let frame = 0;
    const later = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        const found = read();
        setNow((before) => (JSON.stringify(before) === JSON.stringify(found) ? before : found));
      });
    };
    later();
    editor.on("transaction", later);
    return () => {
      cancelAnimationFrame(frame);
      editor.off("transaction", later);
    };
  }, [editor, read]);
  return now;
}
