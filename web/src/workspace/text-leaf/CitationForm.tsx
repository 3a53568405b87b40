/** Marking what is cited: how the authority is called, in which category it is, and where else in the text it stands. */
import { Box, Flex, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useId, useState } from "react";
import { focusWhenItAppears } from "../../theme/focus";
import { api, type Authority, type ReportShown } from "../../api/client";
import { counted } from "../../words";
import { Choice } from "../controls/Figure";
import type { Room } from "../room/room";
import { Tick } from "../controls/parts";
import { cite, wordsOfStretches, selected } from "./citing";
import { BareButton } from "../controls/BareButton";
import { FoundList, useChosen } from "./FoundList";

interface Props {
  editor: Editor;
  report: ReportShown;
  room: Room;
  /** What is marked, if it is not what is selected: an authority whose further places are looked for, or words. */
  given?: Authority | { long: string; category: string };
  goTo: (id: string) => void;
  notify: (notice: string) => void;
  done: () => void;
}

const plain = (words: string) => words.replace(/\s+/g, " ").trim();

export function CitationForm({ editor, report, room, given, goTo, notify, done }: Props) {
  const { authorities, categories } = report;
  const [words] = useState(() => (given ? "" : wordsOfStretches(selected(editor))));
  const [known] = useState(() => (given && "id" in given ? given : authorities.find(({ long, short }) => words && [long, short].includes(words))));
  const [long, setLong] = useState(known?.long ?? given?.long ?? words);
  const [short, setShort] = useState(known?.short ?? "");
  const [chosen, setCategory] = useState(known?.category ?? given?.category ?? null);
  const likely = useLikelyCategory(report.key, chosen === null ? words : "");
  const category = chosen ?? likely;
  const [ids, setIds] = useState(false);
  const [busy, setBusy] = useState(false);
  const { found, left, leave, count, now } = useChosen(report.key, room, { long, short, ids, terms: null }, () => (given ? [] : selected(editor)), notify);
  const list = useId();

  const named = (typed: string) => {
    setLong(typed);
    const one = authorities.find(({ long }) => long === plain(typed));
    if (one) {
      setShort(one.short);
      setCategory(one.category);
    }
  };
  const mark = async () => {
    if (!plain(long)) return notify("An authority needs the words by which it is cited in full; write some.");
    setBusy(true);
    try {
      const values = { category, long: plain(long), short: plain(short) };
      const there = known ?? authorities.find(({ long }) => long === values.long);
      const of = there?.id ?? (await api.makeAuthorities(report.key, [values]))[0]?.id ?? "";
      const differs = there ? Object.fromEntries(Object.entries(values).filter(([name, value]) => there[name as keyof typeof values] !== value)) : {};
      if (Object.keys(differs).length > 0) await api.changeAuthority(report.key, of, differs);
      const { here, others, count: marked } = await now();
      if (marked > 0 && !cite(editor, of, here, others)) notify("These words have changed since; select them again.");
      else if (marked > 0) notify(`${counted(marked, "place")} cited. Undo (Ctrl+Z) takes the ${marked === 1 ? "mark" : "marks"} off.`);
      done();
    } catch (error) {
      notify((error as Error).message);
      setBusy(false);
    }
  };

  return (
    <form
      aria-label="What is cited"
      onSubmit={(event) => {
        event.preventDefault();
        void mark();
      }}
    >
      <Flex gap="2" mt="1" wrap="wrap" align="center">
        <Input
          size="xs"
          flex="2 1 220px"
          aria-label="Cited in full"
          placeholder="As it is cited in full"
          list={list}
          maxLength={500}
          ref={focusWhenItAppears}
          value={long}
          onChange={(event) => named(event.target.value)}
        />
        <datalist id={list}>
          {authorities.map(({ id, long }) => (
            <option key={id} value={long} />
          ))}
        </datalist>
        <Input size="xs" flex="1 1 130px" aria-label="Cited in short" placeholder="In short, if so" maxLength={500} value={short} onChange={(event) => setShort(event.target.value)} />
        <Choice name="Category" value={category} choices={categories.map(({ id, name }) => [id, name] as const)} set={setCategory} />
        <BareButton type="submit" px="3" rounded="sm" bg="iris" color="leaf" fontSize="13px" disabled={busy || (found !== null && count === 0 && !known)}>
          {found === null ? "Mark it wherever it stands" : count === 0 ? "Keep it so" : `Mark ${counted(count, "place")}`}
        </BareButton>
      </Flex>
      <Box mt="1">
        <Tick ticked={ids} set={setIds}>
          “id.” and “ibid.” behind it as well
        </Tick>
      </Box>
      <FoundList found={found} left={left} leave={leave} goTo={goTo} />
    </form>
  );
}

/** The category that some words have most likely, once the server has said it. */
function useLikelyCategory(report: string, words: string): string {
  const found = useQuery({ queryKey: ["likely category", report, words], queryFn: () => api.likelyCategory(report, words), enabled: words !== "", staleTime: Infinity });
  return found.data?.category ?? "other";
}
