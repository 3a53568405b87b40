/** What brings back removed sections and kept words: plans of the server, carried out here, each one step of undo. */
import type { Editor } from "@tiptap/core";
import { useMemo } from "react";
import { api, type BackPlan } from "../../../api/client";
import type { Notify } from "../../controls/Notice";
import { notifyError, withUndo } from "../../controls/withUndo";
import type { Room } from "../../room/room";
import { carryOut } from "../../text-leaf/plan";
import type { Kept } from "../../view";

export interface Returning {
  /** Puts kept words back with what they were written in. */
  putBack: (kept: Kept) => Promise<void>;
  /** Puts them in behind the paragraph with the cursor. */
  putHere: (kept: Kept) => Promise<void>;
  letGo: (kept: Kept) => Promise<void>;
  /** Puts a removed section back where it was. */
  sectionBack: (section: string) => Promise<void>;
  sectionHere: (section: string) => Promise<void>;
}

export function useReturning(report: string, room: Room, editor: Editor | null, goTo: (id: string) => void, notify: Notify): Returning {
  return useMemo(() => {
    const carry = async (ask: () => Promise<BackPlan>, done: string): Promise<boolean> => {
      try {
        await room.caughtUp();
        const { plan, first } = await ask();
        if (!editor || !carryOut(editor, plan)) {
          notify("What stood in front of it is in the text no more; put it in at the cursor.");
          return false;
        }
        goTo(first);
        notify(`${done} Undo (Ctrl+Z) takes it back.`);
        return true;
      } catch (error) {
        notifyError(notify)(error);
        return false;
      }
    };
    const here = () => blockAtCursor(editor);
    return {
      putBack: async ({ rows }) => void (await carry(() => api.planKept(report, rows, null), "It stands where it was, with all that was written in it.")),
      putHere: async ({ rows }) => {
        if (await carry(() => api.planKept(report, rows, here()), "The words stand behind the paragraph with the cursor.")) {
          await api.settleKept(report, rows, true).catch(notifyError(notify));
        }
      },
      letGo: async ({ rows }) =>
        void (await withUndo(
          notify,
          "The words are let go.",
          () => api.settleKept(report, rows, true),
          () => api.settleKept(report, rows, false),
        )),
      sectionBack: async (section) => void (await carry(() => api.planBack(report, section, null), "The section stands where it was.")),
      sectionHere: async (section) => void (await carry(() => api.planBack(report, section, here()), "The section stands behind the paragraph with the cursor.")),
    };
  }, [report, room, editor, goTo, notify]);
}

/** The block of the text with the cursor. */
function blockAtCursor(editor: Editor | null): string {
  if (!editor) return "";
  const { doc, selection } = editor.state;
  return doc.child(Math.min(selection.$head.index(0), doc.childCount - 1)).attrs.id as string;
}
