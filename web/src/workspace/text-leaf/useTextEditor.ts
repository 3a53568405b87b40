/** The editor over a report's text. */
import type { Editor } from "@tiptap/core";
import { useEditor } from "@tiptap/react";
import type { Slice } from "@tiptap/pm/model";
import { useEffect, useMemo, useRef, useState } from "react";
import type { ReportShown } from "../../api/client";
import type { Room } from "../room/room";
import { Bounds } from "./bounds";
import { pressBox } from "./boxes";
import { Carets } from "./carets";
import { beginList, pasteAddress, pasteInFront, typeAfter } from "./commands";
import { CopyNames, Copying } from "./copying";
import { Cursor } from "./cursor";
import { CORE, textExtensions } from "./extensions";
import { HeldSelection } from "./heldSelection";
import { Hint } from "./hint";
import { Keys } from "./keys";
import { roleOf } from "./kinds/paragraph";
import { INNER_LINK, isOuterLink } from "./links";
import { isTooMuch, Pasting, TOO_MUCH } from "./pasting";
import { pressAboveTable } from "./places";
import type { Styles } from "./styles";
import { Tabs } from "./tabs";

interface Given {
  report: ReportShown;
  room: Room;
  mayWrite: boolean;
  goTo: (id: string) => void;
  notify: (notice: string) => void;
}

/** A value for what is made once and asks for it again and again. */
class Current<T> {
  constructor(private value: T) {}
  readonly get = (): T => this.value;
  set(value: T): void {
    this.value = value;
  }
}

/** Leads to the first table in the text. */
function goToContents(editor: Editor, goTo: (id: string) => void): void {
  let first: string | null = null;
  editor.state.doc.forEach((node) => {
    if (node.type.name === "placedTable") first ??= node.attrs.id as string;
  });
  if (first !== null) goTo(first);
}

const rolesOf = (styles: Styles): string => JSON.stringify(styles.map((style) => [style.id, roleOf(style)]));

const MODIFIERS = new Set(["Alt", "Control", "Meta", "Shift"]);

export function useTextEditor({ report, room, mayWrite, goTo, notify }: Given): { editor: Editor; pasting: Pasting } {
  const writes = useRef(mayWrite);
  const [styles] = useState(() => new Current<Styles>(report.styles));
  const [language] = useState(() => new Current(report.page.language));
  const copying = useMemo(() => new Copying(report.key), [report.key]);
  const pasting = useMemo(() => new Pasting(room, report.key, notify, copying), [room, report.key, notify, copying]);
  const tooMuch = (slice: Slice) => {
    if (isTooMuch(slice)) notify(TOO_MUCH);
    return isTooMuch(slice);
  };
  const editor: Editor = useEditor(
    {
      editable: mayWrite,
      immediatelyRender: true,
      shouldRerenderOnTransaction: false,
      // What is typed or pasted means itself: asterisks stay asterisks. Only lists begin as one types, see `beginList`.
      enableInputRules: false,
      enablePasteRules: false,
      ...CORE,
      editorProps: {
        attributes: () => ({
          role: "textbox",
          "aria-multiline": "true",
          "aria-label": `Text of ${report.title}`,
          "aria-readonly": String(!writes.current),
          spellcheck: "true",
          lang: language.get(),
        }),
        // A table or a picture that is selected stays when somebody types: the words go behind it.
        handleTextInput: (view, _from, _to, text) => typeAfter(view, text, styles.get()) || beginList(editor, text, styles.get()),
        handlePaste: (view, _event, slice) => tooMuch(slice) || pasteAddress(view, slice) || pasteInFront(view, slice),
        handleDrop: (_view, _event, slice, moved) => !moved && tooMuch(slice),
        handleDOMEvents: {
          copy: (view) => copying.copy(view),
          cut: (view) => copying.copy(view),
          paste: (view, event) => pasting.paste(view, event),
          drop: (view, event) => pasting.drop(view, event),
          keydown: (_view, { key, altKey }) => {
            if (!MODIFIERS.has(key) && !altKey) pasting.settle();
          },
        },
        handleClick: (view, pos, event) => {
          const target = event.target as HTMLElement;
          if (pressAboveTable(view, target, event.clientY) || pressBox(editor, view, pos, event.clientX)) return true;
          const link = target.closest("a")?.getAttribute("href") ?? "";
          const place = target.closest<HTMLElement>(".reference")?.dataset.reference ?? INNER_LINK.exec(link)?.[1];
          if ((!place && !isOuterLink(link)) || (writes.current && !event.ctrlKey && !event.metaKey)) return false;
          if (place) goTo(place);
          else window.open(link, "_blank", "noopener,noreferrer");
          return true;
        },
      },
      onTransaction: pasting.follow,
      extensions: [
        CopyNames.configure({ copying }),
        ...textExtensions(room.document, { report: report.key, styles: styles.get, room, goTo, toContents: () => goToContents(editor, goTo) }),
        Carets.configure({ awareness: room.awareness }),
        Bounds.configure({ notify }),
        Tabs.configure({ styles: styles.get, language: language.get }),
        Cursor,
        HeldSelection,
        ...(mayWrite ? [Hint] : []),
        Keys.configure({ styles: styles.get }),
      ],
    },
    [room],
  );
  useEffect(() => {
    const before = styles.get();
    if (before === report.styles) return;
    styles.set(report.styles);
    // What paragraphs are to those who hear them is written with them: all are drawn anew where that is something else.
    if (rolesOf(before) !== rolesOf(report.styles)) editor.view.setProps({ nodeViews: { ...editor.extensionManager.nodeViews } });
    // Where spaces between paragraphs collapse hangs on their styles, and on that how they stand in bands. Before the text
    // is there nothing may happen to the editor: what it holds until then would be written into the text.
    if (room.state.ready) editor.view.dispatch(editor.state.tr.setMeta("addToHistory", false));
  }, [editor, room, styles, report.styles]);
  useEffect(() => {
    if (language.get() === report.page.language) return;
    language.set(report.page.language);
    if (room.state.ready) editor.view.dispatch(editor.state.tr.setMeta("addToHistory", false));
  }, [editor, room, language, report.page.language]);
  useEffect(() => {
    writes.current = mayWrite;
    editor.setEditable(mayWrite);
  }, [editor, mayWrite]);
  useEffect(() => pasting.attach(editor), [pasting, editor]);
  return { editor, pasting };
}
