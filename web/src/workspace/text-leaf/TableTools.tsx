/** What can be done to the data table with the cursor in it: rows and columns in and out, cells joined and split. */
import { Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import type { Command, EditorState } from "@tiptap/pm/state";
import { useCallback, useRef, useState, useSyncExternalStore } from "react";
import { addColumnAfter, addRowAfter, cellAround, CellSelection, deleteColumn, deleteRow, deleteTable, findTable, mergeCells, splitCell } from "@tiptap/pm/tables";
import { FileInput } from "../../theme/FileInput";
import { BareButton } from "../controls/BareButton";
import { Figure } from "../controls/Figure";
import { CellLookTools } from "./CellLookTools";
import { columnAtHand, LEAST_COLUMN, MOST_COLUMN } from "./columns";
import { onGrid, widthsByWords } from "./grids";
import { blockOf } from "./insert";
import { PICTURES } from "./kinds/picture";
import type { Styles } from "./styles";

const TOOLS: [string, Command][] = [
  ["Row below", addRowAfter],
  ["Column right", addColumnAfter],
  ["Take row out", deleteRow],
  ["Take column out", deleteColumn],
  ["Take data table out", deleteTable],
];

/** What is offered only where it can be done: with several cells selected, in one that reaches over others, or where widths are said. */
const AT_TIMES: [string, Command][] = [
  ["Widths by words", widthsByWords],
  ["Join cells", mergeCells],
  ["Split cell", splitCell],
];

/** Which cell is at hand, and what is said of it: all that these tools hang on. */
function atHand({ selection }: EditorState): string {
  const cell = cellAround(selection.$head);
  const said = cell?.nodeAfter?.attrs ?? {};
  const cells = selection instanceof CellSelection ? [selection.$anchorCell.pos, selection.$headCell.pos] : [];
  return JSON.stringify([cell?.pos, said, selection.empty, cells, findTable(selection.$from)?.node.attrs]);
}

/** Draws a component anew whenever something else is at hand in a data table, or it is changed otherwise than by words. */
function useRedrawn(editor: Editor): void {
  const subscribe = useCallback(
    (changed: () => void) => {
      editor.on("transaction", changed);
      return () => void editor.off("transaction", changed);
    },
    [editor],
  );
  useSyncExternalStore(subscribe, () => atHand(editor.state));
}

interface Props {
  editor: Editor;
  styles: Styles;
  /** Puts a picture behind a block. */
  putPictures: (files: readonly File[], after: string) => Promise<void>;
}

export function TableTools({ editor, styles, putPictures }: Props) {
  const file = useRef<HTMLInputElement>(null);
  useRedrawn(editor);
  const [looks, setLooks] = useState(false);
  const column = columnAtHand(editor, styles);
  return (
    <Flex role="group" aria-label="Data table" wrap="wrap" columnGap="1px">
      {[...TOOLS, ...AT_TIMES.filter(([, run]) => run(editor.state))].map(([label, run]) => (
        <BareButton
          key={label}
          type="button"
          className="word"
          color="iris"
          onClick={() => {
            onGrid(run, styles)(editor.view);
            editor.view.focus();
          }}
        >
          {label}
        </BareButton>
      ))}
      {column && (
        <Figure
          name="Width of this column"
          value={column.width}
          least={LEAST_COLUMN}
          most={MOST_COLUMN}
          step={1}
          before="column"
          after="pt wide"
          set={column.set}
        />
      )}
      <BareButton type="button" className="word" color="iris" onClick={() => file.current?.click()}>
        Picture into this cell …
      </BareButton>
      <BareButton type="button" className="word" color="iris" aria-expanded={looks} onClick={() => setLooks(!looks)}>
        {looks ? "Look of the cells ▴" : "Look of the cells ▾"}
      </BareButton>
      {looks && <CellLookTools editor={editor} />}
      <FileInput ref={file} label="Picture for this cell" accept={PICTURES} take={(one) => one && void putPictures([one], blockOf(editor.state, editor.state.selection.from))} />
    </Flex>
  );
}
