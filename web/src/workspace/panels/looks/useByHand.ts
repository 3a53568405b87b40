/** What somebody chooses to make of paragraphs found by their looks, and the doing of it. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useMemo, useState } from "react";
import { api, type MarkingPlan, type ReportShown } from "../../../api/client";
import { counted } from "../../../words";
import type { Room } from "../../room/room";
import { carryOut } from "../../text-leaf/plan";
import type { FoundLook, Leftovers, View } from "../../view";

/** What else is done with it. */
export interface Options {
  numbers: boolean;
  contents: boolean;
  rows: boolean;
}

export interface ByHand {
  looks: readonly FoundLook[];
  leftovers: Leftovers;
  /** The style that a look is to get; null if its paragraphs stay as they are. */
  styleOf: (look: FoundLook) => string | null;
  choose: (look: FoundLook, style: string | null) => void;
  isIn: (look: FoundLook, id: string) => boolean;
  tick: (look: FoundLook, id: string, ticked: boolean) => void;
  options: Options;
  setOptions: (options: Partial<Options>) => void;
  /** How many paragraphs would be marked. */
  wanted: number;
  /** What would become of typed numbers, if there are any. */
  preview: MarkingPlan | undefined;
  busy: boolean;
  mark: () => Promise<void>;
}

interface Chosen {
  style?: string | null;
  out: ReadonlySet<string>;
}

const NOTHING_CHOSEN: Chosen = { out: new Set() };
const REST: Options = { numbers: true, contents: true, rows: true };

export function useByHand(report: ReportShown, room: Room, view: View, editor: Editor | null, notify: (notice: string) => void): ByHand {
  const { looks, leftovers } = view;
  const { key } = report;
  const [chosen, setChosen] = useState<ReadonlyMap<string, Chosen>>(new Map());
  const [options, setOptions] = useState(REST);
  const [busy, setBusy] = useState(false);
  const queries = useQueryClient();

  const of = (look: FoundLook) => chosen.get(look.key) ?? NOTHING_CHOSEN;
  const styleOf = (look: FoundLook) => {
    const style = of(look).style;
    return style === undefined ? look.style : style;
  };
  const change = (look: FoundLook, values: Partial<Chosen>) =>
    setChosen((before) => new Map(before).set(look.key, { ...(before.get(look.key) ?? NOTHING_CHOSEN), ...values }));

  const given = useMemo(() => {
    const toMark = looks.flatMap((look) => {
      const { style = look.style, out } = chosen.get(look.key) ?? NOTHING_CHOSEN;
      const members = look.members.filter((id) => !out.has(id));
      return style !== null && members.length > 0 ? [{ style, members }] : [];
    });
    return {
      looks: toMark,
      numbers: options.numbers,
      contents: options.contents && leftovers.contents.length > 0,
      rows: options.rows && leftovers.rows.length > 0,
      show: false,
    };
  }, [looks, leftovers, chosen, options]);

  const numbered = looks.some((look) => look.numbered);
  const { data: preview } = useQuery({
    queryKey: ["marking", key, given.looks],
    queryFn: () => api.planToMarkLooks(key, { ...given, numbers: true, contents: false, rows: false, show: true }),
    enabled: numbered && editor !== null,
    staleTime: 2000,
    retry: false,
  });

  const mark = async () => {
    if (!editor || busy) return;
    setBusy(true);
    try {
      await room.caughtUp();
      const made = await api.planToMarkLooks(key, given);
      // First, so that what follows from the marking is counted once.
      if (made.scheme) await api.renumber(key, { scheme: made.scheme as "decimal", appendix: false });
      if (carryOut(editor, made.plan)) notify(done(made, given.contents, given.rows ? leftovers.rows.length : 0));
      setChosen(new Map());
      setOptions(REST);
    } catch (error) {
      notify((error as Error).message);
    } finally {
      setBusy(false);
      void queries.invalidateQueries({ queryKey: ["report", key] });
    }
  };

  return {
    looks,
    leftovers,
    styleOf,
    choose: (look, style) => change(look, { style }),
    isIn: (look, id) => !of(look).out.has(id),
    tick: (look, id, ticked) => {
      const out = new Set(of(look).out);
      if (ticked) out.delete(id);
      else out.add(id);
      change(look, { out });
    },
    options,
    setOptions: (values) => setOptions((before) => ({ ...before, ...values })),
    wanted: given.looks.reduce((sum, look) => sum + look.members.length, 0),
    preview: numbered ? preview : undefined,
    busy,
    mark,
  };
}

/** What was done, in a sentence. */
function done(made: MarkingPlan, contents: boolean, rows: number): string {
  const parts = [
    made.marked > 0 && `${counted(made.marked, "paragraph")} marked`,
    contents && "the typed contents made way for a table",
    rows > 0 && `${counted(rows, "row")} of empty paragraphs taken out`,
  ].filter(Boolean);
  const sentence = parts.join(", ");
  const gone = made.gone ? ` ${counted(made.gone, "paragraph")} had gone from the text meanwhile.` : "";
  return `${sentence.charAt(0).toUpperCase()}${sentence.slice(1)}.${gone} Undo (Ctrl+Z) takes it back.`;
}
