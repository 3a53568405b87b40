/** The small bar at a selection: weight, slant, underline, typeface, colour, alignment, spacing, link. */
import { Box, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { forwardRef, useImperativeHandle, useRef, useState, type Ref, type RefObject } from "react";
import type { StyleShown } from "../../api/client";
import { changeTypeface, isOn, setOnParagraphs, toggle, type Emphasis } from "./commands";
import { Choice, Press, type Choices } from "./controls";
import { LinkForm } from "./LinkForm";
import { typefaces } from "./marks";
import { useSelectionPlace } from "./useSelectionPlace";

export interface SelectionBarHandle {
  openLink: () => void;
}

const SIZES = [8, 9, 10, 11, 12, 14, 16, 18, 20, 24, 28, 36, 48];
const COLOURS: Choices = [
  ["", "Colour"],
  ["#26222b", "Ink"],
  ["#5b4aa0", "Iris"],
  ["#2f7d6b", "Verdigris"],
  ["#a63b27", "Brick"],
  ["#845600", "Marigold"],
  ["#1f5f8b", "Harbour blue"],
  ["#6b6570", "Grey"],
];
const ALIGNS: Choices = [
  ["left", "Left"],
  ["center", "Centred"],
  ["right", "Right"],
  ["justify", "Both edges"],
];
const SPACES: Choices = [
  ["", "Space"],
  ["0", "No space after"],
  ["6", "6 pt after"],
  ["12", "12 pt after"],
  ["24", "24 pt after"],
];

interface Props {
  editor: Editor;
  styles: readonly StyleShown[];
  scroller: RefObject<HTMLDivElement | null>;
}

export const SelectionBar = forwardRef(function SelectionBar({ editor, styles, scroller }: Props, ref: Ref<SelectionBarHandle>) {
  const bar = useRef<HTMLDivElement>(null);
  const place = useSelectionPlace(editor, scroller, bar);
  const [linking, setLinking] = useState(false);
  if (!place && linking) setLinking(false);
  useImperativeHandle(ref, () => ({ openLink: () => setLinking(true) }));

  if (!place) return null;
  const now = editor.getAttributes("typeface") as { font?: string; size?: number; colour?: string };
  const paragraph = editor.getAttributes("paragraph") as { align?: string; after?: number | null };
  const after = paragraph.after?.toString();
  const emphasis = (mark: Emphasis, label: string, sign: string) => (
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
          setLinking(false);
          editor.view.focus();
        }
      }}
    >
      <Flex gap="1" align="center">
        {emphasis("bold", "Bold (Ctrl+B)", "B")}
        {emphasis("italic", "Italic (Ctrl+I)", "I")}
        {emphasis("underline", "Underline (Ctrl+U)", "U")}
        <Choice
          label="Font"
          value={now.font ?? ""}
          width="104px"
          choices={[["", "Font"], ...typefaces.map((font) => [font, font] as const)]}
          set={(font) => changeTypeface(editor, { font: font || null })}
        />
        <Choice
          label="Size"
          value={now.size ? String(now.size) : ""}
          width="62px"
          choices={[["", "Size"], ...sizes(now.size)]}
          set={(size) => changeTypeface(editor, { size: size ? Number(size) : null })}
        />
        <Choice
          label="Colour"
          value={now.colour ?? ""}
          width="88px"
          choices={known(COLOURS, now.colour, "Own colour")}
          set={(colour) => changeTypeface(editor, { colour: colour || null })}
        />
        <Choice
          label="Alignment"
          value={paragraph.align ?? ""}
          width="78px"
          choices={[["", "Align"], ...ALIGNS]}
          set={(align) => setOnParagraphs(editor, "align", align || null)}
        />
        <Choice
          label="Space after the paragraph"
          value={after ?? ""}
          width="92px"
          choices={known(SPACES, after, "Own space")}
          set={(points) => setOnParagraphs(editor, "after", points === "" ? null : Number(points))}
        />
        <Press
          type="button"
          h="28px"
          px="2"
          rounded="sm"
          fontSize="13px"
          aria-expanded={linking}
          _hover={{ bg: "irisWash" }}
          onClick={() => setLinking(!linking)}
        >
          Link
        </Press>
      </Flex>
      {linking && <LinkForm editor={editor} done={() => setLinking(false)} />}
    </Box>
  );
});

const sizes = (now: number | undefined): [string, string][] =>
  [...new Set([...SIZES, ...(now ? [now] : [])])].sort((a, b) => a - b).map((size) => [String(size), `${size} pt`]);

const known = (list: Choices, now: string | undefined, other: string): Choices =>
  now && !list.some(([key]) => key === now) ? [...list, [now, other]] : list;
