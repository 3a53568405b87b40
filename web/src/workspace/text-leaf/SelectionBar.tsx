/** The small bar at a selection: weight, slant, underline, typeface, colour, alignment, spacing, link. */
import { Box, chakra, Flex, Input } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import type { Transaction } from "@tiptap/pm/state";
import { forwardRef, useCallback, useEffect, useImperativeHandle, useRef, useState, type Ref, type RefObject } from "react";
import type { StyleShown } from "../../api/client";
import { changeTypeface, isOn, setOnParagraphs, toggle, type Emphasis } from "./commands";
import { typefaces } from "./marks";

const Press = chakra("button");
const Select = chakra("select");

export interface SelectionBarHandle {
  openLink: () => void;
}

const SIZES = [8, 9, 10, 11, 12, 14, 16, 18, 20, 24, 28, 36, 48];
const COLOURS = [
  ["", "Colour"],
  ["#26222b", "Ink"],
  ["#5b4aa0", "Iris"],
  ["#2f7d6b", "Verdigris"],
  ["#a63b27", "Brick"],
  ["#845600", "Marigold"],
  ["#1f5f8b", "Harbour blue"],
  ["#6b6570", "Grey"],
] as const;
const ALIGNS = [
  ["left", "Left"],
  ["center", "Centred"],
  ["right", "Right"],
  ["justify", "Both edges"],
] as const;
const SPACES = [
  ["", "Space"],
  ["0", "No space after"],
  ["6", "6 pt after"],
  ["12", "12 pt after"],
  ["24", "24 pt after"],
] as const;

interface Props {
  editor: Editor;
  styles: readonly StyleShown[];
  scroller: RefObject<HTMLDivElement | null>;
}

export const SelectionBar = forwardRef(function SelectionBar({ editor, styles, scroller }: Props, ref: Ref<SelectionBarHandle>) {
  const [place, setPlace] = useState<{ left: number; top: number } | null>(null);
  const [, redraw] = useState(0);
  const [address, setAddress] = useState<string | null>(null);
  const bar = useRef<HTMLDivElement>(null);
  const held = useRef(false);

  const look = useCallback(() => {
    if (held.current || bar.current?.contains(document.activeElement)) return;
    const { from, to, empty } = editor.state.selection;
    const hasText = !empty && editor.state.doc.textBetween(from, to, " ").trim() !== "";
    const frame = hasText && scroller.current?.querySelector(".text-of-report")?.getBoundingClientRect();
    if (!frame || !editor.view.hasFocus()) {
      setPlace(null);
      setAddress(null);
      return;
    }
    const start = editor.view.coordsAtPos(from);
    const leaf = scroller.current?.getBoundingClientRect();
    const above = start.top - 60;
    const top = leaf && above < leaf.top ? editor.view.coordsAtPos(to).bottom + 12 : above;
    redraw((count) => count + 1);
    setPlace({ left: Math.min(Math.max(start.left - frame.left - 60, 8), Math.max(frame.width - 590, 8)), top: top - frame.top });
  }, [editor, scroller]);

  useEffect(() => {
    const down = (event: MouseEvent) => {
      held.current = editor.view.dom.contains(event.target as globalThis.Node);
    };
    const up = () => {
      held.current = false;
      requestAnimationFrame(look);
    };
    // Going from the text into the bar is no leaving.
    const left = ({ event }: { event: FocusEvent }) => {
      if (!bar.current?.contains(event.relatedTarget as globalThis.Node | null)) look();
    };
    // Losing the focus is a transaction as well; at that moment nothing has it yet.
    const changed = ({ transaction }: { transaction: Transaction }) => {
      if (!transaction.getMeta("blur")) look();
    };
    editor.on("transaction", changed);
    editor.on("focus", look);
    editor.on("blur", left);
    window.addEventListener("mousedown", down);
    window.addEventListener("mouseup", up);
    return () => {
      editor.off("transaction", changed);
      editor.off("focus", look);
      editor.off("blur", left);
      window.removeEventListener("mousedown", down);
      window.removeEventListener("mouseup", up);
    };
  }, [editor, look]);

  useImperativeHandle(ref, () => ({
    openLink: () => setAddress((editor.getAttributes("link").href as string | undefined) ?? ""),
  }));

  if (!place) return null;
  const now = editor.getAttributes("typeface") as { font?: string; size?: number; colour?: string };
  const paragraph = editor.getAttributes("paragraph") as { align?: string; after?: number };
  const link = () => {
    const given = (address ?? "").trim();
    const chain = editor.chain().focus().extendMarkRange("link");
    if (!given) chain.unsetLink().run();
    else chain.setLink({ href: /^[a-z]+:/i.test(given) ? given : given.includes("@") ? `mailto:${given}` : `https://${given}` }).run();
    setAddress(null);
  };
  const press = (mark: Emphasis, label: string, sign: string) => (
    <Press
      type="button"
      aria-label={label}
      title={label}
      aria-pressed={isOn(editor, mark, styles)}
      w="28px"
      h="28px"
      rounded="sm"
      fontFamily="Gelasio, serif"
      fontSize="16px"
      fontWeight={mark === "bold" ? "700" : "400"}
      fontStyle={mark === "italic" ? "italic" : undefined}
      textDecoration={mark === "underline" ? "underline" : undefined}
      _pressed={{ bg: "irisWash", color: "iris" }}
      _hover={{ bg: "irisWash" }}
      onClick={() => toggle(editor, mark, styles)}
    >
      {sign}
    </Press>
  );
  const choice = (
    label: string,
    value: string,
    width: string,
    options: readonly (readonly [string, string])[],
    set: (value: string) => void,
  ) => (
    <Select
      aria-label={label}
      title={label}
      h="28px"
      w={width}
      px="1"
      fontSize="13px"
      rounded="sm"
      bg="raised"
      borderWidth="1px"
      borderColor="edge"
      value={value}
      onChange={(event) => set(event.target.value)}
    >
      {options.map(([key, name]) => (
        <option key={key} value={key}>
          {name}
        </option>
      ))}
    </Select>
  );

  return (
    <Box
      ref={bar}
      role="toolbar"
      aria-label="Format the selected words"
      contentEditable={false}
      position="absolute"
      zIndex="docked"
      bg="raised"
      color="ink"
      borderWidth="1px"
      borderColor="edge"
      rounded="md"
      shadow="lg"
      p="1"
      style={place}
      onMouseDown={(event) => {
        // The buttons leave the focus, and with it the selection, in the text.
        if (!(event.target as HTMLElement).closest("select, input")) event.preventDefault();
      }}
      onKeyDown={(event) => {
        if (event.key === "Escape") {
          setAddress(null);
          editor.view.focus();
        }
      }}
    >
      <Flex gap="1" align="center">
        {press("bold", "Bold (Ctrl+B)", "B")}
        {press("italic", "Italic (Ctrl+I)", "I")}
        {press("underline", "Underline (Ctrl+U)", "U")}
        {choice("Font", now.font ?? "", "104px", [["", "Font"], ...typefaces.map((font) => [font, font] as const)], (font) =>
          changeTypeface(editor, { font: font || null }),
        )}
        {choice("Size", now.size ? String(now.size) : "", "62px", [["", "Size"], ...sizes(now.size)], (size) =>
          changeTypeface(editor, { size: size ? Number(size) : null }),
        )}
        {choice("Colour", now.colour ?? "", "88px", known(COLOURS, now.colour, "Own colour"), (colour) =>
          changeTypeface(editor, { colour: colour || null }),
        )}
        {choice("Alignment", paragraph.align ?? "", "78px", [["", "Align"], ...ALIGNS], (align) =>
          setOnParagraphs(editor, "align", align || null),
        )}
        {choice("Space after the paragraph", paragraph.after === undefined || paragraph.after === null ? "" : String(paragraph.after), "92px",
          known(SPACES, paragraph.after === null ? undefined : paragraph.after?.toString(), "Own space"), (after) =>
          setOnParagraphs(editor, "after", after === "" ? null : Number(after)),
        )}
        <Press
          type="button"
          h="28px"
          px="2"
          rounded="sm"
          fontSize="13px"
          aria-expanded={address !== null}
          _hover={{ bg: "irisWash" }}
          onClick={() => setAddress(address === null ? ((editor.getAttributes("link").href as string | undefined) ?? "") : null)}
        >
          Link
        </Press>
      </Flex>
      {address !== null && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            link();
          }}
        >
          <Flex gap="1" mt="1">
            <Input
              size="xs"
              aria-label="Web or mail address; empty takes the link away"
              placeholder="Web or mail address; empty takes the link away"
              ref={(element) => element?.focus()}
              value={address}
              onChange={(event) => setAddress(event.target.value)}
            />
            <Press type="submit" px="3" rounded="sm" bg="iris" color="leaf" fontSize="13px">
              Set
            </Press>
          </Flex>
        </form>
      )}
    </Box>
  );
});

const sizes = (now: number | undefined): [string, string][] =>
  [...new Set([...SIZES, ...(now ? [now] : [])])].sort((a, b) => a - b).map((size) => [String(size), `${size} pt`]);

function known(
  list: readonly (readonly [string, string])[],
  now: string | undefined,
  other: string,
): readonly (readonly [string, string])[] {
  return now && !list.some(([key]) => key === now) ? [...list, [now, other]] : list;
}
