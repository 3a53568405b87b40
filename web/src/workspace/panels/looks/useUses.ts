/** Which paragraphs of the text have which style, for the panels that show it. */
import type { Editor } from "@tiptap/core";
import { useEffect, useState } from "react";

export interface Use {
  ids: readonly string[];
  /** The words of the first of them that has any. */
  words: string;
}

const PAUSE = 400;

export function usesIn(editor: Editor): ReadonlyMap<string, Use> {
  const found = new Map<string, { ids: string[]; words: string }>();
  editor.state.doc.descendants((node) => {
    if (node.type.name !== "paragraph") return true;
    const style = node.attrs.style as string;
    const use = found.get(style) ?? { ids: [], words: "" };
    use.ids.push(node.attrs.id as string);
    use.words ||= node.textContent.trim();
    found.set(style, use);
    return false;
  });
  return found;
}

/** Kept level with the text, a moment behind whoever types. */
export function useUses(editor: Editor | null): ReadonlyMap<string, Use> {
  const [uses, setUses] = useState<ReadonlyMap<string, Use>>(new Map());
  useEffect(() => {
    if (!editor) return;
    let timer = 0;
    const later = (pause: number) => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => setUses(usesIn(editor)), pause);
    };
    const changed = () => later(PAUSE);
    later(0);
    editor.on("update", changed);
    return () => {
      window.clearTimeout(timer);
      editor.off("update", changed);
    };
  }, [editor]);
  return uses;
}
