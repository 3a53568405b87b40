/** What stands in the margin of a paragraph: the gutter tag that names its style, and the handle to put things in. */
import { Box, Button, chakra, Menu, Portal } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import { forwardRef, useCallback, useEffect, useImperativeHandle, useRef, useState, type ComponentProps, type Ref, type RefObject } from "react";
import { api, type ReportShown } from "../../api/client";
import { counted } from "../../words";
import { giveStyle, insertContents, insertDataTable, insertPageBreak, insertPicture } from "./commands";
import { tagOf } from "./styleRules";

const Tag = chakra("button");

/** The menu item that is no style: whether to change all paragraphs that look alike. */
const ALL = "/all";

export interface MarginHandle {
  openTag: () => void;
  openInsert: () => void;
}

interface Props {
  editor: Editor;
  report: ReportShown;
  scroller: RefObject<HTMLDivElement | null>;
  say: (notice: string) => void;
}

/** What a menu offers. It has the focus from its first moment: keys that follow at once are not meant for the text. */
function Choices(props: ComponentProps<typeof Menu.Content>) {
  const menu = useRef<HTMLDivElement>(null);
  useEffect(() => menu.current?.focus({ preventScroll: true }), []);
  return <Menu.Content ref={menu} bg="raised" {...props} />;
}

interface At {
  id: string;
  style: string;
  top: number;
  bottom: number;
}

/** The paragraph of the text that an element belongs to, if it stands directly in the text. */
const paragraphOf = (editor: Editor, element: Element | null): HTMLElement | null => {
  const found = element?.closest<HTMLElement>("p[data-id]");
  return found && found.parentElement === editor.view.dom ? found : null;
};

export const Margin = forwardRef(function Margin({ editor, report, scroller, say }: Props, ref: Ref<MarginHandle>) {
  const [at, setAt] = useState<At | null>(null);
  const [open, setOpen] = useState<"tag" | "insert" | null>(null);
  const [alike, setAlike] = useState<readonly string[] | null>(null);
  const [all, setAll] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const isOpen = useRef(false);
  /** Whether whoever has a menu open came from the text, or has changed it: they go on there. */
  const toText = useRef(false);

  const place = useCallback(
    (paragraph: HTMLElement | null) => {
      const frame = editor.view.dom.closest(".text-of-report")?.getBoundingClientRect();
      if (!paragraph || !frame) return setAt(null);
      const box = paragraph.getBoundingClientRect();
      const first = parseFloat(getComputedStyle(paragraph).lineHeight) || 20;
      const now: At = {
        id: paragraph.dataset.id ?? "",
        style: paragraph.dataset.style ?? "body",
        top: box.top - frame.top + (Math.min(first, box.height) - 24) / 2,
        bottom: box.bottom - frame.top,
      };
      setAt((before) =>
        before?.id === now.id && before.style === now.style && before.top === now.top && before.bottom === now.bottom
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
      if (isOpen.current) return;
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

  /** Gives the focus to the text, if it is due there, whatever else a closing menu gives it to. */
  const passOn = () => {
    if (toText.current) editor.view.focus();
  };
  const triggerFocused = () => {
    passOn();
    toText.current = false;
  };

  const change = (which: "tag" | "insert" | null) => {
    isOpen.current = which !== null;
    setOpen(which);
    if (which === null) passOn();
    setAll(false);
    setAlike(null);
    if (which === "tag" && at) {
      void api.alike(report.key, at.id).then(
        ({ ids }) => setAlike(ids),
        () => setAlike([]),
      );
    }
  };

  useImperativeHandle(ref, () => ({
    openTag: () => {
      toText.current = true;
      place(atCaret());
      change("tag");
      setAll(true);
    },
    openInsert: () => {
      toText.current = true;
      place(atCaret());
      change("insert");
    },
  }));

  /** The paragraphs meant: all that look alike, or the whole selection if it holds the paragraph, or that alone. */
  const choose = (style: string) => {
    if (!at) return;
    const { from, to } = editor.state.selection;
    let inside = false;
    editor.state.doc.nodesBetween(from, to, (node) => {
      if (node.attrs.id === at.id) inside = true;
    });
    const ids = all && alike && alike.length > 1 ? alike : inside ? undefined : [at.id];
    const changed = giveStyle(editor, style, ids);
    if (changed > 1) say(`${counted(changed, "paragraph")} changed. Undo (Ctrl+Z) takes it back.`);
    toText.current = true;
  };

  /** Puts the cursor to the paragraph at hand before something is inserted behind it. */
  const insert = (what: string) => {
    const { doc, tr } = editor.state;
    doc.forEach((node, pos) => {
      if (node.attrs.id === at?.id && atCaret()?.dataset.id !== at?.id) {
        editor.view.dispatch(tr.setSelection(TextSelection.create(doc, pos + 1 + node.content.size)));
      }
    });
    if (what === "contents") insertContents(editor, false);
    else if (what === "contents-page") insertContents(editor, true);
    else if (what === "break") insertPageBreak(editor);
    else if (what === "data") insertDataTable(editor);
    else file.current?.click();
    toText.current = true;
  };

  const addPicture = async (picture: File | undefined) => {
    if (!picture) return;
    try {
      insertPicture(editor, await api.addPicture(report.key, picture), "");
    } catch (error) {
      say((error as Error).message);
    }
  };

  if (!at) return null;
  const style = report.styles.find((one) => one.id === at.style) ?? report.styles[0];
  if (!style) return null;
  const others = alike !== null && alike.length > 1;
  return (
    <Box data-margin contentEditable={false}>
      <Menu.Root
        open={open === "tag"}
        onOpenChange={(now) => change(now.open ? "tag" : null)}
        onInteractOutside={() => (toText.current = false)}
        onSelect={(item) => item.value !== ALL && choose(item.value)}
        positioning={{ placement: "right-start", fitViewport: true }}
        lazyMount
        unmountOnExit
      >
        <Menu.Trigger asChild>
          <Tag
            type="button"
            aria-label={`${tagOf(style)}: style ${style.name}. Press to choose another`}
            title={style.name}
            position="absolute"
            left="14px"
            minW="30px"
            h="24px"
            px="5px"
            fontSize="11px"
            fontWeight="600"
            lineHeight="20px"
            rounded="3px 9px 9px 3px"
            borderWidth="1px"
            borderColor="iris"
            bg="raised"
            color="iris"
            cursor="pointer"
            _hover={{ bg: "irisWash" }}
            style={{ top: at.top }}
            onFocus={triggerFocused}
          >
            {tagOf(style)}
          </Tag>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Choices inert={open !== "tag"} maxH="min(480px, 70vh, var(--available-height, 70vh))" overflowY="auto" minW="230px">
              {/* There from the beginning, so that nothing slides away under the pointer when the answer comes. */}
              <Menu.CheckboxItem
                value={ALL}
                disabled={!others}
                checked={all && others}
                onCheckedChange={setAll}
                closeOnSelect={false}
                fontWeight="600"
                ps="2"
              >
                <Box
                  as="span"
                  aria-hidden
                  w="16px"
                  h="16px"
                  mr="4"
                  flexShrink="0"
                  borderWidth="1px"
                  borderColor={all && others ? "iris" : "quiet"}
                  bg={all && others ? "iris" : "raised"}
                  color="leaf"
                  rounded="xs"
                  fontSize="12px"
                  lineHeight="14px"
                  textAlign="center"
                >
                  {all && others && "✓"}
                </Box>
                {others ? `All ${alike.length} that look like this one` : alike ? "No other looks like this one" : "All that look like this one"}
              </Menu.CheckboxItem>
              <Menu.Separator />
              {report.styles.map((one) => (
                <Menu.Item key={one.id} value={one.id} fontWeight={one.id === style.id ? "700" : undefined}>
                  <Box as="span" w="32px" color="quiet" fontSize="12px" aria-hidden>
                    {tagOf(one)}
                  </Box>
                  <Box flex="1">{one.name}</Box>
                  {one.id === style.id && <Box as="span" aria-label="now">✓</Box>}
                </Menu.Item>
              ))}
            </Choices>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
      <Menu.Root
        open={open === "insert"}
        onOpenChange={(now) => change(now.open ? "insert" : null)}
        onInteractOutside={() => (toText.current = false)}
        onSelect={(item) => insert(item.value)}
        positioning={{ placement: "right-start", fitViewport: true }}
        lazyMount
        unmountOnExit
      >
        <Menu.Trigger asChild>
          <Button
            type="button"
            aria-label="Put something in after this paragraph"
            title="Put something in here"
            position="absolute"
            left="17px"
            size="2xs"
            w="24px"
            minW="0"
            h="24px"
            rounded="full"
            variant="outline"
            borderColor="quiet"
            bg="leaf"
            color="quiet"
            _hover={{ borderColor: "iris", color: "iris" }}
            style={{ top: Math.max(at.bottom - 6, at.top + 28) }}
            onFocus={triggerFocused}
          >
            +
          </Button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Choices inert={open !== "insert"}>
              <Menu.Item value="contents-page">Contents table on a page of its own</Menu.Item>
              <Menu.Item value="contents">Contents table here</Menu.Item>
              <Menu.Separator />
              <Menu.Item value="picture">Picture …</Menu.Item>
              <Menu.Item value="data">Data table</Menu.Item>
              <Menu.Item value="break">Page break (Ctrl+Enter)</Menu.Item>
            </Choices>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
      <input
        ref={file}
        type="file"
        aria-label="Picture to put in"
        accept="image/png,image/jpeg,image/gif,image/webp"
        style={{ display: "none" }}
        onChange={(event) => {
          void addPicture(event.target.files?.[0]);
          event.target.value = "";
        }}
      />
    </Box>
  );
});
