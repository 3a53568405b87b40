/** What can be done to the data table with the cursor in it: rows and columns in and out, cells joined and split. */
import { Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import type { Command } from "@tiptap/pm/state";
import { addColumnAfter, addRowAfter, deleteColumn, deleteRow, deleteTable, mergeCells, splitCell } from "@tiptap/pm/tables";
import { BareButton } from "../controls/BareButton";
import { onGrid, widthsByWords } from "./grids";
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

export const TableTools = ({ editor, styles }: { editor: Editor; styles: Styles }) => (
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
  </Flex>
);
