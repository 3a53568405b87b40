/** What can be done to the data table with the cursor in it: rows and columns in and out. */
import { Box, chakra, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import type { Command } from "@tiptap/pm/state";
import { addColumnAfter, addRowAfter, deleteColumn, deleteRow, deleteTable } from "@tiptap/pm/tables";
import { useEffect, useState } from "react";

const Press = chakra("button");

const TOOLS: [string, Command][] = [
  ["Row below", addRowAfter],
  ["Column right", addColumnAfter],
  ["Take row out", deleteRow],
  ["Take column out", deleteColumn],
  ["Take data table out", deleteTable],
];

export function TableTools({ editor }: { editor: Editor }) {
  const [top, setTop] = useState<number | null>(null);
  useEffect(() => {
    const look = () => {
      const { $from } = editor.state.selection;
      if ($from.depth < 1 || $from.node(1).type.name !== "dataTable") return setTop(null);
      const dom = editor.view.nodeDOM($from.before(1));
      const frame = editor.view.dom.closest(".text-of-report")?.getBoundingClientRect();
      if (dom instanceof HTMLElement && frame) setTop(dom.getBoundingClientRect().bottom - frame.top + 4);
    };
    editor.on("transaction", look);
    return () => {
      editor.off("transaction", look);
    };
  }, [editor]);
  if (top === null) return null;
  return (
    <Box position="absolute" right="28px" zIndex="docked" style={{ top }} contentEditable={false}>
      <Flex role="toolbar" aria-label="Data table" bg="raised" borderWidth="1px" borderColor="edge" rounded="md" shadow="md" p="1" gap="1">
        {TOOLS.map(([label, run]) => (
          <Press
            key={label}
            type="button"
            px="2"
            py="1"
            fontSize="13px"
            rounded="sm"
            _hover={{ bg: "irisWash" }}
            onClick={() => {
              run(editor.state, editor.view.dispatch);
              editor.view.focus();
            }}
          >
            {label}
          </Press>
        ))}
      </Flex>
    </Box>
  );
}
