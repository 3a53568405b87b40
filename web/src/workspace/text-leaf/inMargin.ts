/** What the tools in the margin of the text have in common. */
import type { Editor } from "@tiptap/core";
import type { Room } from "../room/room";
import type { ReportShown } from "../../api/client";

/** The paragraph at hand: the one under the pointer, or else with the cursor. Heights in pixels of the text. */
export interface AtHand {
  id: string;
  style: string;
  /** Its place in tables, where somebody made an exception: a level, or 0 for none. */
  listed: number | null;
  top: number;
}

/** What the tools in the margin have in common. */
export interface InMargin {
  editor: Editor;
  report: ReportShown;
  room: Room;
  at: AtHand;
  opened: (open: boolean) => void;
  notify: (notice: string) => void;
}
