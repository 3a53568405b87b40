/** What the server computed, in the text: page edges, heading numbers, list markers. */
import type { Editor } from "@tiptap/core";
import { useEffect, useRef } from "react";
import type { ReportShown } from "../../api/client";
import type { Room } from "../room/room";
import type { View } from "../view";
import { MarkerRules } from "./markerRules";
import { computed } from "./pageEdges";

/** Keeps it level with the room, once the text is there; says when it stands in the text. */
export function useComputed(editor: Editor, room: Room, report: ReportShown, textIsThere: boolean, drawn: () => void): void {
  const markers = useRef<MarkerRules>(null);
  const latest = useRef(report);
  useEffect(() => {
    latest.current = report;
    markers.current?.show(room.state.view, report);
  }, [room, report]);
  useEffect(() => {
    if (!textIsThere) return;
    const rules = (markers.current = new MarkerRules());
    let shown: View | null = null;
    const show = () => {
      const { view } = room.state;
      if (view.edges !== shown?.edges || view.backs !== shown.backs) {
        editor.view.dispatch(editor.state.tr.setMeta(computed, view).setMeta("addToHistory", false));
      }
      rules.show(view, latest.current);
      shown = view;
    };
    show();
    drawn();
    const stop = room.subscribe(show);
    return () => {
      stop();
      rules.remove();
      markers.current = null;
    };
  }, [editor, room, textIsThere, drawn]);
}
