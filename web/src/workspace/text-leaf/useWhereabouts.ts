/** What others are to know of where somebody is in the text. */
import type { Editor } from "@tiptap/core";
import { useEffect, type RefObject } from "react";
import type { Person } from "../../api/client";
import type { Room } from "../room/room";
import { whereabouts, type Whereabouts } from "./whereabouts";

/** Tells everybody in the room at which heading somebody's cursor is. */
export function useShareCursor(editor: Editor, room: Room, person: Person, headings: ReadonlySet<string>): void {
  useEffect(() => {
    room.awareness.setLocalStateField("user", { id: person.id, name: person.name, colour: person.colour });
    let timer: number | undefined;
    const share = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => {
        const heading = headingAt(editor, headings);
        if (room.awareness.getLocalState()?.heading !== heading) room.awareness.setLocalStateField("heading", heading);
      }, 120);
    };
    editor.on("selectionUpdate", share);
    share();
    return () => {
      window.clearTimeout(timer);
      editor.off("selectionUpdate", share);
    };
  }, [editor, room, person, headings]);
}

/** The heading above the cursor, or with it in it; those without words are none. */
export function headingAt(editor: Editor, headings: ReadonlySet<string>): string | null {
  const { doc, selection } = editor.state;
  for (let index = Math.min(selection.$from.index(0), doc.childCount - 1); index >= 0; index -= 1) {
    const node = doc.child(index);
    if (headings.has(node.attrs.style as string) && node.textContent.trim()) return node.attrs.id as string;
  }
  return null;
}

/** Says which heading and page are in view, whenever that may have changed. */
export function useView(
  scroller: RefObject<HTMLDivElement | null>,
  room: Room,
  drawn: boolean,
  headings: ReadonlySet<string>,
  moved: (here: Whereabouts) => void,
): void {
  useEffect(() => {
    const element = scroller.current;
    if (!element || !drawn) return;
    let frame = 0;
    const look = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        if (element.clientHeight > 0) moved(whereabouts(element, headings));
      });
    };
    element.addEventListener("scroll", look, { passive: true });
    const sized = new ResizeObserver(look);
    for (const text of element.children) sized.observe(text);
    const stop = room.subscribe(look);
    look();
    return () => {
      cancelAnimationFrame(frame);
      element.removeEventListener("scroll", look);
      sized.disconnect();
      stop();
    };
  }, [scroller, headings, moved, room, drawn]);
}
