/** What can be done to the note with the cursor. */
import { Box, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useCallback } from "react";
import { BareButton } from "../controls/BareButton";
import { Choice } from "../controls/Figure";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import { noteSign } from "../view";
import { leaveNote, NOTE_KINDS, noteAt, removeNote, setNoteKind, type NoteKind } from "./notes";
import { useRead } from "./useRead";

function noteAtHand(editor: Editor): { id: string; kind: NoteKind } | null {
  const note = noteAt(editor);
  return note && { id: note.node.attrs.id as string, kind: note.node.attrs.note as NoteKind };
}

export function NoteTools({ editor, room }: { editor: Editor; room: Room }) {
  const at = useRead(editor, useCallback(() => noteAtHand(editor), [editor]));
  const view = useRoom(room, "view");
  if (!at) return null;
  const sign = noteSign(view, at.id);
  return (
    <Flex role="group" aria-label="Note" align="center" wrap="wrap" columnGap="1">
      <Box as="span" color={sign ? "quiet" : "gone"}>
        {sign ? `Note ${sign}, printed` : "Nothing refers to this note; it is printed where it stands"}
      </Box>
      {sign && <Choice name="Where the note is printed" value={at.kind} choices={NOTE_KINDS} set={(kind) => setNoteKind(editor, kind as NoteKind)} />}
      {sign && (
        <BareButton type="button" className="word" color="iris" onClick={() => leaveNote(editor)}>
          Back to where it is referred to
        </BareButton>
      )}
      <BareButton type="button" className="word" color="iris" onClick={() => removeNote(editor)}>
        Take the note out
      </BareButton>
    </Flex>
  );
}
