/** A file that is put into the text: read, shown with the levels at which its headings would stand, and brought in. */
import { Box, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useEffect, useRef, useState } from "react";
import { api, type ReadToInsert } from "../../api/client";
import { useJob } from "../../api/useJob";
import { NotedList } from "../../theme/NotedList";
import { counted } from "../../words";
import { BareButton } from "../controls/BareButton";
import { Choice } from "../controls/Figure";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import { carryOut } from "./plan";
import type { Styles } from "./styles";

/** A file, and the block behind which it is to stand. */
export interface FileToInsert {
  file: File;
  after: string;
}

interface Props {
  given: FileToInsert;
  editor: Editor;
  report: string;
  styles: Styles;
  room: Room;
  goTo: (id: string) => void;
  notify: Notify;
  done: () => void;
}

const DEEPEST = 9;

export function InsertFileForm({ given, editor, report, styles, room, goTo, notify, done }: Props) {
  const { file, after } = given;
  const [read, setRead] = useState<ReadToInsert | null>(null);
  const [level, setLevel] = useState<number | null>(null);
  const [trouble, setTrouble] = useState("");
  const reading = useJob((job) => {
    api.lookAtInsertion(report, job.key, after).then(
      (found) => {
        setRead(found);
        setLevel(found.level);
      },
      (error: unknown) => setTrouble((error as Error).message),
    );
  });
  const { begin } = reading;
  const begun = useRef<File>(null);
  useEffect(() => {
    if (begun.current === file) return;
    begun.current = file;
    void begin(() => api.readToInsert(report, file));
  }, [begin, report, file]);

  const bringIn = async () => {
    try {
      await room.caughtUp();
      const { plan, first } = await api.planInsertion(report, reading.job?.key ?? "", after, level);
      if (!carryOut(editor, plan)) throw new Error("The place where it was to stand is gone; choose another one, and bring it in there.");
      done();
      goTo(first);
      notify(`“${file.name}” is in the text. Undo (Ctrl+Z) takes it out again.`);
    } catch (error) {
      setTrouble((error as Error).message);
    }
  };

  const said = trouble || reading.trouble;
  return (
    <Box role="group" aria-label={`Put “${file.name}” in`}>
      <Flex align="center" columnGap="2" wrap="wrap">
        <Box as="span" fontWeight="600" maxW="24em" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap" title={file.name}>
          {file.name}
        </Box>
        {reading.running && (
          <Box as="span" color="quiet" role="status">
            Reading … {reading.job && reading.job.total > 1 ? `${Math.round((100 * reading.job.done) / reading.job.total)} %` : ""}
          </Box>
        )}
        {read && <Box as="span">{inWords(read)}</Box>}
        {said && (
          <Box as="span" color="gone" role="alert">
            {said}
          </Box>
        )}
        <Box flex="1" />
        {read && (
          <BareButton type="button" className="word" color="iris" fontWeight="600" onClick={() => void bringIn()}>
            Bring it in here
          </BareButton>
        )}
        <BareButton
          type="button"
          className="word"
          onClick={() => {
            reading.cancel();
            done();
          }}
        >
          Leave it
        </BareButton>
      </Flex>
      {read && level !== null && (
        <Flex align="center" columnGap="1">
          <Box as="span" color="quiet">
            Its highest headings become
          </Box>
          <Choice name="Level of its highest headings" value={String(level)} choices={levels(styles)} set={(chosen) => setLevel(Number(chosen))} />
        </Flex>
      )}
      {read && <Inside read={read} level={level} />}
    </Box>
  );
}

const levels = (styles: Styles) =>
  Array.from({ length: DEEPEST }, (_, index) => [String(index + 1), styles.find((style) => style.outline_level === index + 1)?.name ?? `Level ${index + 1}`] as const);

const inWords = ({ paragraphs, headings, pictures, data_tables: tables }: ReadToInsert) =>
  [counted(paragraphs, "paragraph"), headings && counted(headings, "heading"), pictures && counted(pictures, "picture"), tables && counted(tables, "data table")]
    .filter(Boolean)
    .join(" · ");

/** Its headings as they would stand, and what was left out of it. */
function Inside({ read: { outline, notes }, level }: { read: ReadToInsert; level: number | null }) {
  const highest = Math.min(...outline.map((one) => one.level));
  if (outline.length === 0 && notes.length === 0) return null;
  return (
    <Box maxH="22vh" overflowY="auto" tabIndex={0} role="region" aria-label="What is in it" borderTopWidth="1px" borderColor="edge" mt="1" pt="1">
      {outline.map((one, index) => {
        const stands = Math.min(one.level - highest + (level ?? one.level), DEEPEST);
        return (
          <Flex key={index} ps={`${(stands - 1) * 12}px`} columnGap="2">
            <Box as="span" color="quiet" flexShrink="0" minW="1.6em">
              {stands}
            </Box>
            <Box as="span" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
              {one.text}
            </Box>
          </Flex>
        );
      })}
      {notes.length > 0 && (
        <>
          <Box mt="1">Not everything came along as it is in the file.</Box>
          <NotedList notes={notes} />
        </>
      )}
    </Box>
  );
}
