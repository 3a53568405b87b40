/** How the cells at hand look, in words that are pressed to change it. */
import { Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { BareButton } from "../controls/BareButton";
import { Choice, Figure } from "../controls/Figure";
import { FORMS } from "../controls/look";
import { Lines } from "../controls/Lines";
import { Word } from "../controls/LookWords";
import { areCellsLooked, cellLook, clearCells, setOnCells, setTableAlign, tableAlign } from "./cellLooks";

const VERTICAL = [
  ["top", "words at the top"],
  ["middle", "in the middle"],
  ["bottom", "at the foot"],
] as const;

const PLACES = [
  ["left", "table at the left"],
  ["center", "table in the middle"],
  ["right", "table at the right"],
] as const;

/** What cells have that say nothing of it (core, `kinds/data_table.py`). */
const USUAL_ROOM = 4;
const USUAL_LINES = "top 0.5 #b9b3bf, right 0.5 #b9b3bf, bottom 0.5 #b9b3bf, left 0.5 #b9b3bf";

const orUsual = <T,>(value: T | null | undefined, usual: T): T | undefined => (value === null ? usual : value);

export function CellLookTools({ editor }: { editor: Editor }) {
  const look = cellLook(editor.state);
  if (!look) return null;
  const room = look.padding === undefined || (look.padding && new Set(look.padding).size > 1) ? undefined : (look.padding?.[0] ?? USUAL_ROOM);
  return (
    <Flex role="group" aria-label="Look of the cells" wrap="wrap" columnGap="1px" w="100%">
      <Word
        form={{ ...FORMS.background, name: "Colour behind the cells" }}
        value={orUsual(look.background, "none")}
        set={(background) => setOnCells(editor, { background: background as string })}
      />
      <Lines name="Lines around the cells" value={orUsual(look.borders, USUAL_LINES)} set={(borders) => setOnCells(editor, { borders })} />
      <Choice name="Words in the cells" value={orUsual(look.vertical, "top")} choices={VERTICAL} set={(vertical) => setOnCells(editor, { vertical: vertical === "top" ? null : vertical })} />
      <Figure
        name="Room around the words in the cells"
        value={room}
        least={0}
        most={200}
        step={1}
        before="room"
        after="pt"
        set={(one) => setOnCells(editor, { padding: one === USUAL_ROOM ? null : [one, one, one, one] })}
      />
      <Figure
        name="Height of the row at least"
        value={orUsual(look.height, 0)}
        least={0}
        most={2000}
        step={1}
        before="row"
        after="pt high at least"
        set={(height) => setOnCells(editor, { height: height || null })}
      />
      <Choice name="Place of the data table" value={tableAlign(editor.state)} choices={PLACES} set={(align) => setTableAlign(editor, align)} />
      {areCellsLooked(editor.state) && (
        <BareButton type="button" className="word" color="iris" onClick={() => {
            clearCells(editor);
            editor.view.focus(); // where it was is nothing any more
          }}
        >
          As data tables look
        </BareButton>
      )}
    </Flex>
  );
}
