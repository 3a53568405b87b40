/** What each key does behind Alt+S, in the workspace. */
import type { Editor } from "@tiptap/core";
import { useMemo, type RefObject } from "react";
import type { Scope, StyleShown } from "../../api/client";
import type { Chord } from "./Chords";
import type { Leaf } from "./LeafChooser";
import type { Notify } from "../controls/Notice";
import { tickBoxes } from "../text-leaf/boxes";
import { giveStyle, shiftLevel } from "../text-leaf/commands";
import type { Does, Sections } from "../text-leaf/sections";
import { forRole } from "../text-leaf/styles";
import type { TextLeafHandle } from "../text-leaf/TextLeaf";

/** The heading whose rib has the focus, if one has: keys that mark paragraphs are meant for it then. */
function rib(): string[] | undefined {
  const id = document.activeElement?.closest<HTMLElement>("[data-rib]")?.dataset.rib;
  return id === undefined ? undefined : [id];
}

/** What is done to the section at hand: that of the rib with the focus, with the others that are chosen, or that with the cursor. */
function rearrange(sections: Sections, chosen: RefObject<readonly string[]>, notify: Notify): Chord[] {
  const atHand = (work: (ids: readonly string[]) => Promise<void>) => () => {
    const [focused] = rib() ?? [];
    const section = focused ?? sections.atCursor();
    if (section === null) return notify("The cursor stands in front of all sections; put it into one, or go to its rib.");
    const ids = focused !== undefined && chosen.current.includes(section) ? chosen.current : [section];
    void work(ids).then(() => focused !== undefined && focusRib(focused));
  };
  const does = (what: Does) => atHand((ids) => sections.rearrange(ids, what));
  return [
    { key: "arrowup", does: "Move the section up", run: does("up"), goesOn: true },
    { key: "arrowdown", does: "Move the section down", run: does("down"), goesOn: true },
    { key: "arrowleft", does: "Section and all under it a level up", run: does("promote"), goesOn: true },
    { key: "arrowright", does: "Section and all under it a level down", run: does("demote"), goesOn: true },
    { key: "y", does: "The section once more", run: atHand(([first = ""]) => sections.duplicate(first)) },
    { key: "s", does: "Split the section here", run: () => void sections.split() },
    { key: "j", does: "Join it with the section before", run: does("join") },
    { key: "delete", does: "Take the section out", run: does("remove") },
  ];
}

/** Frames in which a rib is looked for that has been moved. */
const TRIES = 60;

/** Has the focus stay on a rib that has come to stand elsewhere. */
function focusRib(id: string, tries = TRIES): void {
  const found = document.querySelector<HTMLElement>(`[data-rib="${CSS.escape(id)}"]`);
  if (found && document.activeElement === document.body) found.focus({ preventScroll: true });
  if (tries > 0 && (!document.activeElement || document.activeElement === document.body || document.activeElement === found)) requestAnimationFrame(() => focusRib(id, tries - 1));
}

interface Given {
  /** The text's editor, for somebody who may write. */
  editor: Editor | null;
  styles: readonly StyleShown[];
  leaf: RefObject<TextLeafHandle | null>;
  filter: RefObject<HTMLInputElement | null>;
  tableLeaf: HTMLElement | null;
  catchUp: (scope: Scope) => Promise<void>;
  toOwnWords: () => void;
  bring: (leaf: Leaf) => void;
  goBack: () => void;
  toPanel: (panel: string) => void;
  toProof: () => void;
  sections: Sections | null;
  /** The sections whose ribs are chosen. */
  chosen: RefObject<readonly string[]>;
  notify: Notify;
}

export function useChords({ editor, styles, leaf, filter, tableLeaf, catchUp, toOwnWords, bring, goBack, toPanel, toProof, sections, chosen, notify }: Given): Chord[] {
  const rearranging = useMemo(() => (sections ? rearrange(sections, chosen, notify) : []), [sections, chosen, notify]);
  const whileWriting = useMemo<Chord[]>(() => {
    if (!editor) return [];
    const levels = styles.filter((style, at) => style.outline_level && styles.findIndex((one) => one.outline_level === style.outline_level) === at);
    levels.sort((one, other) => (one.outline_level ?? 0) - (other.outline_level ?? 0));
    return [
      ...levels.map((style) => ({
        key: String(style.outline_level),
        does: style.name,
        run: () => void giveStyle(editor, style.id, rib()),
      })),
      { key: "0", does: "Body text", run: () => void giveStyle(editor, forRole(styles, "body"), rib()) },
      { key: ".", does: "One level deeper", run: () => shiftLevel(editor, 1, styles, rib()) },
      { key: ",", does: "One level up", run: () => shiftLevel(editor, -1, styles, rib()) },
      { key: "a", does: "Style for all that look alike", run: () => leaf.current?.openTag() },
      { key: "i", does: "Put something in here", run: () => leaf.current?.openInsert() },
      { key: "l", does: "Link or reference", run: () => leaf.current?.openLink() },
      { key: "b", does: "Name this place: a bookmark", run: () => leaf.current?.openBookmark() },
      { key: "m", does: "Mark what is cited", run: () => leaf.current?.openCitation() },
      { key: "d", does: "Mark words for the index", run: () => leaf.current?.openTerm() },
      { key: "u", does: "A note under the text, referred to here", run: () => leaf.current?.putNote() },
      { key: "x", does: "Tick the box here, or put one in front", run: () => tickBoxes(editor) },
      { key: "e", does: "How the selection looks", run: () => leaf.current?.toLookLine() },
      { key: "g", does: "Give this look to all of the style", run: () => leaf.current?.giveLook() },
      { key: "c", does: "Catch up everything", run: () => void catchUp("everything") },
      { key: "n", does: "Catch up page numbers", run: () => void catchUp("pages") },
      { key: "o", does: "Own words for a line", run: toOwnWords },
    ];
  }, [editor, styles, leaf, catchUp, toOwnWords]);
  return useMemo(
    () => [
      ...whileWriting,
      ...rearranging,
      {
        key: "t",
        does: "To the table leaf",
        run: () => {
          bring("table");
          tableLeaf?.focus();
        },
      },
      { key: "h", does: "The ladder", run: () => toPanel("ladder") },
      { key: "k", does: "The check-up", run: () => toPanel("check-up") },
      { key: "p", does: "The proof, or back to the text", run: toProof },
      { key: "/", does: "Find and replace", run: () => toPanel("find") },
      {
        key: "f",
        does: "Filter the spine",
        run: () => {
          if (!filter.current?.checkVisibility()) bring("spine");
          filter.current?.focus();
        },
      },
      {
        key: "w",
        does: "To the text",
        run: () => {
          bring("text");
          leaf.current?.focus();
        },
      },
      { key: "r", does: "Return to where you were", run: goBack },
    ],
    [whileWriting, rearranging, leaf, filter, tableLeaf, bring, goBack, toPanel, toProof],
  );
}
