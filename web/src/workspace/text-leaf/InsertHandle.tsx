/** The handle between paragraphs: puts a contents table, a picture, a data table or a page break behind the one at hand. */
import { Button, Menu } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import { forwardRef, Fragment, useRef, type Ref } from "react";
import { FileInput } from "../../theme/FileInput";
import type { InMargin } from "./inMargin";
import { KINDS } from "./kinds";
import { MarginMenu, type MarginMenuHandle } from "./MarginMenu";

/** Puts the cursor to the end of the paragraph with this id, unless it is in it already. */
function putCursorInto(editor: Editor, id: string): void {
  const { doc, selection, tr } = editor.state;
  if (selection.$from.depth > 0 && selection.$from.node(1).attrs.id === id) return;
  doc.forEach((node, pos) => {
    if (node.attrs.id === id) editor.view.dispatch(tr.setSelection(TextSelection.create(doc, pos + 1 + node.content.size)));
  });
}

/** What can be put in; kinds that give a choice are set apart. */
const GROUPS = [KINDS.filter(({ puts }) => puts && puts.length > 1), KINDS.filter(({ puts }) => puts?.length === 1)].map((kinds) =>
  kinds.flatMap(({ puts }) => puts ?? []),
);

export const InsertHandle = forwardRef(function InsertHandle({ editor, report, at, opened, say }: InMargin, ref: Ref<MarginMenuHandle>) {
  const file = useRef<HTMLInputElement>(null);
  /** What was asked for, and the paragraph at hand then: by the time that a file has come, another may be. */
  const asked = useRef({ key: "", behind: at.id });

  const putOf = (key: string) => GROUPS.flat().find((put) => put.key === key);

  const insert = (key: string) => {
    const put = putOf(key);
    putCursorInto(editor, at.id);
    if (put && "insert" in put) put.insert(editor, report.styles);
    else if (put && file.current) {
      asked.current = { key, behind: at.id };
      file.current.accept = put.accept;
      file.current.click();
    }
    return true;
  };

  const take = async (chosen: File | undefined) => {
    const put = putOf(asked.current.key);
    if (!chosen || !put || !("insertFile" in put)) return;
    try {
      await put.insertFile(editor, asked.current.behind, report.key, chosen);
    } catch (error) {
      say((error as Error).message);
    }
  };

  const handle = (
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
    >
      +
    </Button>
  );
  return (
    <>
      <MarginMenu ref={ref} editor={editor} trigger={handle} opened={opened} choose={insert}>
        {GROUPS.map((puts, number) => (
          <Fragment key={puts[0]?.key}>
            {number > 0 && <Menu.Separator />}
            {puts.map(({ key, label }) => (
              <Menu.Item key={key} value={key}>
                {label}
              </Menu.Item>
            ))}
          </Fragment>
        ))}
      </MarginMenu>
      <FileInput ref={file} label="File to put in" accept="" take={(chosen) => void take(chosen)} />
    </>
  );
});
