/**
 * Rearranging sections: the server makes the plan, and it is carried out here. One at a time, each from what the one before
 * left: keys may come faster than answers.
 */
import type { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import { useMemo } from "react";
import { api, type Landing, type SectionsPlan, type ToRearrange } from "../../api/client";
import { counted } from "../../words";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import type { Heading } from "../view";
import { setOnParagraphs } from "./commands";
import { carryOut, findOuter } from "./plan";
import type { Styles } from "./styles";
import { headingAt } from "./useWhereabouts";
import { headingStyles } from "./whereabouts";

/** What can be done to a section where it stands. */
export type Does = Exclude<ToRearrange["do"], "move">;

export interface Sections {
  /** The section with the cursor; null in front of all of them. */
  atCursor: () => string | null;
  /** Where sections would stand, in front of another one or at the end. */
  look: (sections: readonly string[], before: string | null, level: number) => Promise<SectionsPlan>;
  moveTo: (sections: readonly string[], before: string | null, level: number) => Promise<void>;
  rearrange: (sections: readonly string[], does: Does) => Promise<void>;
  /** Has a section begin a new page, or go on on the page, whatever its level does. */
  turnPage: (section: string, begins: boolean) => void;
  /** Puts a section in once more, behind itself. */
  duplicate: (section: string) => Promise<void>;
  /** Splits the section at the cursor, and leaves the cursor in the heading of its second part. */
  split: () => Promise<void>;
}

export function useSections(report: string, styles: Styles, room: Room, editor: Editor | null, goTo: (id: string) => void, notify: Notify): Sections | null {
  return useMemo(() => {
    if (!editor) return null;
    let last: Promise<unknown> = Promise.resolve();
    const inTurn = (work: () => Promise<void>): Promise<void> => {
      const turn = last.then(async () => {
        try {
          await room.caughtUp();
          await work();
        } catch (error) {
          notify((error as Error).message);
        }
      });
      last = turn;
      return turn;
    };
    const done = (words: string) => notify(`${words} Undo (Ctrl+Z) takes it back.`);
    const carry = async (wanted: ToRearrange) => {
      const under = wanted.do === "remove" || wanted.do === "join" ? room.state.view.headings : [];
      const { plan, landings } = await api.planSections(report, wanted);
      if (!carryOut(editor, plan)) notify("It stands there already.");
      else done(wanted.do === "remove" ? gone(under, wanted.sections) : wanted.do === "join" ? joined(under, wanted.sections) : landed(landings));
    };
    return {
      atCursor: () => headingAt(editor, headingStyles(styles)),
      look: (sections, before, level) => api.planSections(report, { sections: [...sections], do: "move", before, level }),
      moveTo: (sections, before, level) => inTurn(() => carry({ sections: [...sections], do: "move", before, level })),
      rearrange: (sections, does) => inTurn(() => carry({ sections: [...sections], do: does })),
      turnPage: (section, begins) => {
        const byStyle = styles.find(({ id }) => id === findOuter(editor.state.doc, section)?.node.attrs.style)?.new_page ?? false;
        setOnParagraphs(editor, "newPage", begins === byStyle ? null : begins, [section]);
        done(begins ? "The section begins a new page." : "The section goes on on the page.");
      },
      duplicate: (section) =>
        inTurn(async () => {
          const { plan, first } = await api.planDuplicate(report, section);
          if (!carryOut(editor, plan)) return notify("The section is in the text no more.");
          goTo(first);
          done("The section stands there twice; this is the copy.");
        }),
      split: () =>
        inTurn(async () => {
          const { $head } = editor.state.selection;
          const block = $head.depth > 0 ? (editor.state.doc.child($head.index(0)).attrs.id as string) : "";
          const { plan, first } = await api.planSplit(report, block, $head.depth === 1 ? $head.parentOffset : 0);
          if (!carryOut(editor, plan)) return notify("The paragraph reads otherwise by now; split it once more.");
          selectWords(editor, first);
          done("The section is split here; give its second part a name.");
        }),
    };
  }, [report, styles, room, editor, goTo, notify]);
}

/** Selects all words of a block. */
function selectWords(editor: Editor, id: string): void {
  const { doc, tr } = editor.state;
  const found = findOuter(doc, id);
  if (found) editor.view.dispatch(tr.setSelection(TextSelection.create(doc, found.pos + 1, found.pos + found.node.nodeSize - 1)).scrollIntoView());
  editor.view.focus();
}

const named = (headings: readonly Heading[], ids: readonly string[]) => `“${headings.find(({ id }) => id === ids[0])?.text ?? "The section"}”`;

function landed([first, ...others]: readonly Landing[]): string {
  if (!first) return "The sections are moved.";
  const where = `${first.number ? `now ${first.number}` : `now at level ${first.level}`}${first.page ? `, on page ${first.page}` : ""}`;
  return others.length > 0 ? `${others.length + 1} sections are moved; the first of them is ${where}.` : `“${first.text}” is ${where}.`;
}

/** How many sections stand beneath one. */
function countUnder(headings: readonly Heading[], id: string): number {
  const at = headings.findIndex((one) => one.id === id);
  const level = headings[at]?.level ?? 0;
  const end = headings.findIndex((one, index) => index > at && one.by_hand !== "put in" && one.level <= level);
  return (end < 0 ? headings.length : end) - at - 1;
}

function gone(headings: readonly Heading[], ids: readonly string[]): string {
  if (ids.length > 1) return `${ids.length} sections are taken out.`;
  const under = countUnder(headings, ids[0] ?? "");
  return `${named(headings, ids)} is taken out${under > 0 ? `, with ${counted(under, "section")} under it` : ""}.`;
}

const joined = (headings: readonly Heading[], ids: readonly string[]) => `${named(headings, ids)} is joined with the section before it.`;
