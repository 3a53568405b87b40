/** What each key does behind Alt+S, in the workspace. */
import type { Editor } from "@tiptap/core";
import { useMemo, type RefObject } from "react";
import type { Scope, StyleShown } from "../../api/client";
import type { Chord } from "./Chords";
import type { Leaf } from "./LeafChooser";
import { giveStyle, shiftLevel } from "../text-leaf/commands";
import { forRole } from "../text-leaf/styles";
import type { TextLeafHandle } from "../text-leaf/TextLeaf";

/** The heading whose rib has the focus, if one has: keys that mark paragraphs are meant for it then. */
function rib(): string[] | undefined {
  const id = document.activeElement?.closest<HTMLElement>("[data-rib]")?.dataset.rib;
  return id === undefined ? undefined : [id];
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
}

export function useChords({ editor, styles, leaf, filter, tableLeaf, catchUp, toOwnWords, bring, goBack, toPanel }: Given): Chord[] {
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
    [whileWriting, leaf, filter, tableLeaf, bring, goBack, toPanel],
  );
}
