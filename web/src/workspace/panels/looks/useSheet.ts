/** What can be changed about the sheet of a report: each change is everybody's at once, and can be taken back. */
import { useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useMemo } from "react";
import { api, type LabelShown, type NumberingChange, type PageShown, type PartChange, type Plan, type ReportShown, type StyleShown } from "../../../api/client";
import { underWay } from "../../../api/underWay";
import { counted } from "../../../words";
import type { Room } from "../../room/room";
import { partOf } from "../../controls/partsOf";
import { carryOut } from "../../text-leaf/plan";

export interface Sheet {
  changeStyle: (id: string, values: Partial<StyleShown>, asBase?: readonly string[]) => Promise<boolean>;
  /** The id of the new style; null if there is none. */
  makeStyle: (name: string, like: string) => Promise<string | null>;
  /** Deletes a style; its paragraphs get another one first. */
  deleteStyle: (id: string, instead: string) => Promise<boolean>;
  renumber: (change: NumberingChange) => Promise<boolean>;
  changeLabel: (id: string, values: Partial<LabelShown>) => Promise<boolean>;
  makeLabel: (name: string) => Promise<boolean>;
  changePage: (values: Partial<PageShown>) => Promise<boolean>;
  changePart: (id: string, change: PartChange) => Promise<boolean>;
  moveLevel: (level: number, to: number) => Promise<boolean>;
  giveHouseSheet: (key: string, paths: readonly (readonly string[])[] | null) => Promise<boolean>;
  takeBack: () => Promise<boolean>;
}

/** `editor` is there for whoever may write. */
export function useSheet(report: ReportShown, room: Room, editor: Editor | null, notify: (notice: string) => void): Sheet {
  const queries = useQueryClient();
  const { key } = report;
  return useMemo(() => {
    const done = async (work: () => Promise<unknown>): Promise<boolean> => {
      try {
        await work();
        return true;
      } catch (error) {
        notify((error as Error).message);
        return false;
      } finally {
        await queries.invalidateQueries({ queryKey: ["report", key] });
      }
    };
    // What was given shows at once; the answer brings what follows from it.
    const shown = (change: (now: ReportShown) => ReportShown, work: () => Promise<unknown>): Promise<boolean> => {
      queries.setQueryData(["report", key], (now: ReportShown | undefined) => now && change(now));
      return done(() => underWay(key, change, work));
    };
    const carried = async (plan: () => Promise<Plan>) => {
      await room.caughtUp();
      const steps = await plan();
      if (editor && carryOut(editor, steps)) notify(`${counted(steps.length, "paragraph")} changed. Undo (Ctrl+Z) takes it back.`);
    };
    return {
      changeStyle: (id, values, asBase = []) =>
        shown(
          (now) => ({ ...now, styles: now.styles.map((style) => (style.id === id ? { ...style, ...values } : style)) }),
          () => api.changeStyle(key, id, values, asBase),
        ),
      makeStyle: async (name, like) => {
        let made: string | null = null;
        await done(async () => (made = (await api.makeStyle(key, name, like)).id));
        return made;
      },
      deleteStyle: (id, instead) =>
        done(async () => {
          await api.deleteStyle(key, id, instead, true); // before anything happens to the text
          await carried(() => api.planToGiveStyle(key, id, instead));
          await api.deleteStyle(key, id, instead);
        }),
      renumber: (change) => done(() => api.renumber(key, change)),
      changeLabel: (id, values) => done(() => api.changeLabel(key, id, values)),
      makeLabel: (name) => done(() => api.makeLabel(key, name)),
      changePage: (values) => shown((now) => ({ ...now, page: { ...now.page, ...values } }), () => api.changePage(key, values)),
      changePart: (id, change) =>
        shown(
          (now) => {
            const part = partOf(now, id);
            const page = Object.entries({ ...part.page, ...change.page }).filter(([name]) => !change.as_report?.includes(name));
            return { ...now, parts: { ...now.parts, [id]: { ...part, ...change.values, page: Object.fromEntries(page) } } };
          },
          () => api.changePart(key, id, change),
        ),
      moveLevel: (level, to) => done(() => carried(() => api.planToMoveLevel(key, level, to))),
      giveHouseSheet: (house, paths) => done(() => api.giveHouseSheet(key, house, paths)),
      takeBack: () =>
        done(async () => {
          const { what, left } = await api.takeBack(key);
          const rest = left ? ` What was changed since stays: ${counted(left, "setting")}.` : "";
          notify(`Taken back: ${what}.${rest}`);
        }),
    };
  }, [key, room, editor, notify, queries]);
}
