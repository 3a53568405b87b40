/** The handle between paragraphs: puts a contents table, a picture, a data table or a page break behind the one at hand. */
import { Button, Menu } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { TextSelection } from "@tiptap/pm/state";
import { forwardRef, useRef, type Ref } from "react";
import { api } from "../../api/client";
import { FileInput } from "../../theme/FileInput";
import { insertContents, insertDataTable, insertPageBreak, insertPicture } from "./commands";
import type { InMargin } from "./Margin";
import { MarginMenu, type MarginMenuHandle } from "./MarginMenu";

/** Puts the cursor to the end of the paragraph with this id, unless it is in it already. */
function putCursorInto(editor: Editor, id: string): void {
  const { doc, selection, tr } = editor.state;
  if (selection.$from.depth > 0 && selection.$from.node(1).attrs.id === id) return;
  doc.forEach((node, pos) => {
    if (node.attrs.id === id) editor.view.dispatch(tr.setSelection(TextSelection.create(doc, pos + 1 + node.content.size)));
  });
}

export const InsertHandle = forwardRef(function InsertHandle({ editor, report, at, opened, say }: InMargin, ref: Ref<MarginMenuHandle>) {
  const file = useRef<HTMLInputElement>(null);
  /** The paragraph at hand when a picture was asked for: by the time that it has come, another may be. */
  const asked = useRef(at.id);

  const insert = (what: string) => {
    putCursorInto(editor, at.id);
    if (what === "contents") insertContents(editor, false);
    else if (what === "contents-page") insertContents(editor, true);
    else if (what === "break") insertPageBreak(editor);
    else if (what === "data") insertDataTable(editor);
    else {
      asked.current = at.id;
      file.current?.click();
    }
    return true;
  };

  const addPicture = async (picture: File | undefined) => {
    if (!picture) return;
    try {
      insertPicture(editor, asked.current, await api.addPicture(report.key, picture));
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
        <Menu.Item value="contents-page">Contents table on a page of its own</Menu.Item>
        <Menu.Item value="contents">Contents table here</Menu.Item>
        <Menu.Separator />
        <Menu.Item value="picture">Picture …</Menu.Item>
        <Menu.Item value="data">Data table</Menu.Item>
        <Menu.Item value="break">Page break (Ctrl+Enter)</Menu.Item>
      </MarginMenu>
      <FileInput ref={file} label="Picture to put in" accept="image/png,image/jpeg,image/gif,image/webp" take={(chosen) => void addPicture(chosen)} />
    </>
  );
});
