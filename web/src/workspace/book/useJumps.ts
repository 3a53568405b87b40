/** Going to places of the text, by a link, a line of a table or the address; and the way back. */
import type { Editor } from "@tiptap/core";
import { useCallback, useEffect, useState, type RefObject } from "react";
import type { Notify } from "../controls/Notice";
import { INNER_LINK } from "../text-leaf/links";
import type { TextLeafHandle } from "../text-leaf/TextLeaf";

/** Frames in which a place is looked for that is not drawn yet. */
const TRIES = 120;

interface Jumps {
  goTo: (id: string) => void;
  goBack: () => void;
  /** Somebody has gone elsewhere in the text by what they did there. */
  jumped: () => void;
  /** How many places there are to go back to. */
  count: number;
}

/** `bring` brings the text into sight; `at` is the heading at which to begin, if the address does not say. */
export function useJumps(leaf: RefObject<TextLeafHandle | null>, editor: Editor | null, at: string | null, bring: () => void, notify: Notify): Jumps {
  const [count, setCount] = useState(0);
  const goTo = useCallback(
    (id: string) => {
      bring();
      if (leaf.current?.goTo(id)) setCount((before) => before + 1);
      else notify("This place is no longer in the text.");
    },
    [leaf, bring, notify],
  );
  const goBack = useCallback(() => {
    setCount((before) => Math.max(0, before - 1));
    leaf.current?.goBack();
  }, [leaf]);
  const jumped = useCallback(() => setCount((before) => before + 1), []);
  // The address of a place leads there, once its text is there: out of sight the text is drawn in a later frame.
  useEffect(() => {
    if (!editor) return;
    let frame = 0;
    const go = (id: string, tries: number) => {
      if (tries > 0 && !leaf.current?.goTo(id)) frame = requestAnimationFrame(() => go(id, tries - 1));
    };
    const toAddress = () => {
      const id = INNER_LINK.exec(window.location.hash)?.[1];
      if (id) frame = requestAnimationFrame(() => go(id, TRIES));
    };
    if (at === null) toAddress();
    else go(at, TRIES);
    window.addEventListener("hashchange", toAddress);
    return () => {
      cancelAnimationFrame(frame);
      window.removeEventListener("hashchange", toAddress);
    };
  }, [editor, at, leaf]);
  return { goTo, goBack, jumped, count };
}
