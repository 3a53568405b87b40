/** What the server computed, in the text: page edges, heading numbers, list markers. */
import type { Editor } from "@tiptap/core";
import { useEffect } from "react";
import type { Room } from "../room";
import type { View } from "../view";
import { MarkerRules } from "./markerRules";
import { computed } from "./pageEdges";

/** Keeps it level with the room, once the text is there; says when it stands in the text. */
export function useComputed(editor: Editor, room: Room, textIsThere: boolean, drawn: () => void): void {
  useEffect(() => {
    if (!textIsThere) return;
    const markers = new MarkerRules();
    let shown: View | null = null;
    const show = () => {
      const { view } = room.state;
      if (view.edges !== shown?.edges) {
        editor.view.dispatch(editor.state.tr.setMeta(computed, view).setMeta("addToHistory", false));
      }
      markers.show(view);
      shown = view;
    };
    show();
    drawn();
    const stop = room.subscribe(show);
    return () => {
      stop();
      markers.remove();
    };
  }, [editor, room, textIsThere, drawn]);
}
