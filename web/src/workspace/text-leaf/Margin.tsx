/** What stands in the margin of the paragraph at hand: the gutter tag that names its style. */
import { Box } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { forwardRef, useCallback, useEffect, useImperativeHandle, useRef, useState, type Ref, type RefObject } from "react";
import { flushSync } from "react-dom";
import { GutterTag, type GutterTagHandle } from "./GutterTag";
import type { AtHand, InMargin } from "./inMargin";

export interface MarginHandle {
  openTag: () => void;
}

interface Props extends Pick<InMargin, "editor" | "report" | "room" | "notify"> {
  scroller: RefObject<HTMLDivElement | null>;
}

/** The paragraph of the text that an element belongs to, if it stands directly in the text. */
const paragraphOf = (editor: Editor, element: Element | null): HTMLElement | null => {
  const found = element?.closest<HTMLElement>("p[data-id]");
  return found && found.parentElement?.parentElement === editor.view.dom ? found : null;
};

export const Margin = forwardRef(function Margin({ editor, report, room, scroller, notify }: Props, ref: Ref<MarginHandle>) {
  const [at, setAt] = useState<AtHand | null>(null);
  const tag = useRef<GutterTagHandle>(null);
  /** While a menu is open, its paragraph stays the one at hand. */
  const held = useRef(false);
  const hold = useCallback((open: boolean) => {
    held.current = open;
  }, []);

  const place = useCallback(
    (paragraph: HTMLElement | null) => {
      const frame = editor.view.dom.closest(".text-of-report")?.getBoundingClientRect();
      if (!paragraph || !frame) return setAt(null);
      const box = paragraph.getBoundingClientRect();
      const { lineHeight, borderTopWidth } = getComputedStyle(paragraph);
      const first = parseFloat(lineHeight) || 20;
      const now: AtHand = {
        id: paragraph.dataset.id ?? "",
        style: paragraph.dataset.style ?? "body",
        listed: paragraph.dataset.listed === undefined ? null : Number(paragraph.dataset.listed),
        // Behind a page edge the room that this takes is a border of the paragraph.
        top: box.top + parseFloat(borderTopWidth) - frame.top + (Math.min(first, box.height) - 24) / 2,
      };
      setAt((before) =>
        before?.id === now.id && before.style === now.style && before.listed === now.listed && before.top === now.top
          ? before
          : now,
      );
    },
    [editor],
  );

  const atCaret = useCallback(() => {
    const { $from } = editor.state.selection;
    if ($from.depth < 1) return null;
    const dom = editor.view.nodeDOM($from.before(1));
    return dom instanceof Element ? paragraphOf(editor, dom) : null;
  }, [editor]);

  useEffect(() => {
    const element = scroller.current;
    let frame = 0;
    const later = (find: () => HTMLElement | null) => {
      if (held.current) return;
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => place(find()));
    };
    const caret = () => later(atCaret);
    const hover = (event: MouseEvent) => {
      const target = event.target as Element;
      if (target.closest("[data-margin]")) return;
      const paragraph = paragraphOf(editor, target);
      if (paragraph) later(() => paragraph);
    };
    editor.on("transaction", caret);
    element?.addEventListener("mousemove", hover, { passive: true });
    element?.addEventListener("mouseleave", caret);
    caret();
    return () => {
      cancelAnimationFrame(frame);
      editor.off("transaction", caret);
      element?.removeEventListener("mousemove", hover);
      element?.removeEventListener("mouseleave", caret);
    };
  }, [editor, scroller, place, atCaret]);

  useImperativeHandle(
    ref,
    () => ({
      openTag: () => {
        flushSync(() => place(atCaret()));
        tag.current?.openForAll();
      },
    }),
    [place, atCaret],
  );

  if (!at) return null;
  return (
    <Box data-margin contentEditable={false}>
      <GutterTag ref={tag} editor={editor} report={report} room={room} at={at} opened={hold} notify={notify} />
    </Box>
  );
});
