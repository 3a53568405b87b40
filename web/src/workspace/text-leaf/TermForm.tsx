/** Marking words for the index: under which term, how deep, and where else in the text they stand. */
import { Box, Flex, Input } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useId, useState } from "react";
import { focusWhenItAppears } from "../../theme/focus";
import type { ReportShown } from "../../api/client";
import { counted } from "../../words";
import type { Room } from "../room/room";
import { Tick } from "../controls/parts";
import { useRoom } from "../room/useRoom";
import { indexWords, wordsOfStretches, selected } from "./citing";
import { BareButton } from "../controls/BareButton";
import { MOST_ENTRIES } from "./marks";
import { FoundList, useChosen } from "./FoundList";

interface Props {
  editor: Editor;
  report: ReportShown;
  room: Room;
  goTo: (id: string) => void;
  notify: (notice: string) => void;
  done: () => void;
}

const PLACES = ["Term", "Beneath it", "Beneath that"];

export function TermForm({ editor, report, room, goTo, notify, done }: Props) {
  const [words] = useState(() => wordsOfStretches(selected(editor)).slice(0, 500));
  const [terms, setTerms] = useState([words, "", ""]);
  const [main, setMain] = useState(false);
  const [everywhere, setEverywhere] = useState(false);
  const list = useId();
  const view = useRoom(room, "view");
  const known = [...new Set(view.terms.flatMap(({ entries }) => entries.flatMap(({ terms }) => terms)))];
  const given = terms.map((one) => one.replace(/\s+/g, " ").trim());
  const wanted = { long: everywhere ? words : "", short: "", ids: false, terms: given.filter(Boolean) };
  const { found, left, leave, count, now } = useChosen(report.key, room, wanted, () => selected(editor), notify);

  const mark = async () => {
    const depth = given.findIndex((one) => !one);
    const own = depth < 0 ? given : given.slice(0, depth);
    if (own.length === 0) return notify("Words stand in the index under a term; write one.");
    if (given.slice(own.length).some(Boolean)) return notify("A term beneath others needs all of those above it; fill the field in front.");
    try {
      const { here, others, count: marked } = await now();
      if (marked === 0) return notify("Select the words that the index is to lead to.");
      const full = indexWords(editor, [own, main], here, others);
      if (full === null) return notify("These words have changed since; select them again.");
      const left = full > 0 ? ` ${counted(full, "place")} stayed: ${MOST_ENTRIES} terms lead there already; take one off first.` : "";
      notify(`${counted(marked - full, "place")} marked for the index. Undo (Ctrl+Z) takes that back.${left}`);
      done();
    } catch (error) {
      notify((error as Error).message);
    }
  };

  return (
    <form
      aria-label="Term of the index"
      onSubmit={(event) => {
        event.preventDefault();
        void mark();
      }}
    >
      <Flex gap="2" mt="1" wrap="wrap" align="center">
        {PLACES.map((name, at) => (
          <Input
            key={name}
            size="xs"
            flex="1 1 120px"
            aria-label={name}
            placeholder={name}
            list={list}
            maxLength={500}
            ref={at === 0 ? focusWhenItAppears : undefined}
            value={terms[at]}
            onChange={(event) => setTerms(terms.map((one, index) => (index === at ? event.target.value : one)))}
          />
        ))}
        <datalist id={list}>
          {known.map((term) => (
            <option key={term} value={term} />
          ))}
        </datalist>
        <BareButton type="submit" px="3" rounded="sm" bg="iris" color="leaf" fontSize="13px" >
          {found === null ? "Mark it wherever it stands" : `Mark ${counted(Math.max(count, 1), "place")}`}
        </BareButton>
      </Flex>
      <Flex gap="3" mt="1" wrap="wrap">
        <Tick ticked={main} set={setMain}>
          says most about it: its page in bold
        </Tick>
        {words && (
          <Tick ticked={everywhere} set={setEverywhere}>
            everywhere else that “{words.slice(0, 30)}” stands
          </Tick>
        )}
      </Flex>
      <Box>{everywhere && <FoundList found={found} left={left} leave={leave} goTo={goTo} />}</Box>
    </form>
  );
}
