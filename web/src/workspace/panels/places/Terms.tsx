/** The terms of the index: where they stand in the text, renamed and taken off, and where to look instead. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useMemo, useState } from "react";
import { LongList } from "../../../theme/LongList";
import { api, type ReportShown, type See } from "../../../api/client";
import type { Notify } from "../../controls/Notice";
import { PanelTitle, Press, Tick } from "../../controls/parts";
import { useTyped } from "../../controls/useTyped";
import { indexInstead } from "../../text-leaf/citing";
import { useRoom } from "../../room/useRoom";
import type { Panel, PanelProps } from "../panel";
import { PlacesPanel } from "./PlacesPanel";
import { useMarksShown } from "./useMarksShown";
import { withUndo } from "../../controls/withUndo";
import type { Termed, View } from "../../view";

interface Props {
  report: ReportShown;
  view: View;
  writer: Editor | null;
  goTo: (id: string) => void;
  notify: Notify;
  scroller: HTMLElement | null;
}

interface Term {
  terms: readonly string[];
  places: { at: Termed; main: boolean }[];
}

/** A term is written with this between it and those beneath it, since there are commas in terms. */
const BENEATH = " › ";
const joined = (terms: readonly string[]): string => terms.join(BENEATH);
const read = (typed: string): string[] =>
  typed
    .split(/[›>]/)
    .map((one) => one.replace(/\s+/g, " ").trim())
    .filter(Boolean)
    .slice(0, 3);

function termsOf(marked: View["terms"]): Term[] {
  const found = new Map<string, Term>();
  for (const at of marked) {
    for (const { terms, main } of at.entries) {
      const key = terms.join("\n");
      const one = found.get(key);
      if (one) one.places.push({ at, main });
      else found.set(key, { terms, places: [{ at, main }] });
    }
  }
  return [...found.values()].sort((one, other) => joined(one.terms).localeCompare(joined(other.terms)));
}

function Terms({ report, view, writer, goTo, notify, scroller }: Props) {
  const [words, setWords] = useState("");
  const [shown, show] = useMarksShown();
  const all = useMemo(() => termsOf(view.terms), [view.terms]);
  const wanted = words.trim().toLowerCase();
  const listed = all.filter(({ terms }) => joined(terms).toLowerCase().includes(wanted));
  return (
    <Box>
      <PanelTitle>Index</PanelTitle>
      <Text color="quiet" mb="2">
        Words that the index leads to, by term. {writer && "Select some in the text and press “index …” beneath it, or Alt+S and d."}
      </Text>
      <Tick ticked={shown} set={show}>
        Marks are shown in the text
      </Tick>
      {all.length > 0 && <Input size="xs" bg="raised" type="search" aria-label="Search terms" placeholder="Search terms" my="2" value={words} onChange={(event) => setWords(event.target.value)} />}
      <LongList
        count={listed.length}
        scroller={scroller}
        estimate={64}
        label="Terms of the index"
        keyOf={(index) => listed[index]?.terms.join("\n") ?? ""}
        row={(index) => listed[index] && <One term={listed[index]} view={view} writer={writer} goTo={goTo} notify={notify} />}
      />
      {listed.length === 0 && <Text color="quiet">{wanted ? "No term reads so." : "There are none yet."}</Text>}
      <Sees report={report} writer={writer} notify={notify} />
    </Box>
  );
}

function One({ term, view, writer, goTo, notify }: Omit<Props, "report" | "scroller"> & { term: Term }) {
  const { terms, places } = term;
  const field = useTyped(joined(terms), (typed) => {
    const now = read(typed);
    if (writer && now.length > 0) indexInstead(writer, terms, (main) => [now, main]);
    return Promise.resolve();
  });
  const takeOff = () => {
    if (writer) indexInstead(writer, terms, null);
    notify(`“${joined(terms)}” is out of the index; the words in the text stay. Undo (Ctrl+Z) takes that back.`);
  };
  return (
    <Box py="1" borderTopWidth="1px" borderColor="edge">
      <Flex gap="2" align="center">
        <Box flex="1" minW="0">
          {writer ? <Input size="xs" bg="raised" maxLength={1500} aria-label={`Term “${joined(terms)}”`} {...field} /> : joined(terms)}
        </Box>
        {writer && (
          <Press type="button" color="gone" aria-label={`Take off “${joined(terms)}”`} onClick={takeOff}>
            Take off
          </Press>
        )}
      </Flex>
      <Flex gap="1" wrap="wrap" align="baseline" color="quiet" mt="1">
        {places.slice(0, 40).map(({ at, main }, index) => (
          <Press key={index} type="button" px="1.5" minH="24px" minW="26px" justifyContent="center" fontSize="12px" fontWeight={main ? "700" : undefined} aria-label={`${joined(terms)}, page ${view.labels[at.page - 1] ?? ""}`} onClick={() => goTo(at.id)}>
            {view.labels[at.page - 1] ?? ""}
          </Press>
        ))}
        {places.length > 40 && <span>and {places.length - 40} more</span>}
      </Flex>
    </Box>
  );
}

/** Where the index says to look instead, or as well. */
function Sees({ report, writer, notify }: Pick<Props, "report" | "writer" | "notify">) {
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const [also, setAlso] = useState(false);
  const save = (see: See) => api.saveSee(report.key, see);
  const forget = (see: See) => api.forgetSee(report.key, see);
  return (
    <Box mt="4">
      <PanelTitle>Where to look instead</PanelTitle>
      <Box as="ul" listStyleType="none" aria-label="Where to look instead">
        {report.sees.map((see: See) => (
          <Flex as="li" key={`${joined(see.terms)} ${joined(see.to)}`} gap="2" align="baseline" py="0.5">
            <Box flex="1" minW="0" overflowWrap="anywhere">
              {joined(see.terms)}, <i>{see.also ? "see also" : "see"}</i> {joined(see.to)}
            </Box>
            {writer && (
              <Press type="button" aria-label={`Take out: ${joined(see.terms)}, see ${joined(see.to)}`} onClick={() => void withUndo(notify, `“${joined(see.terms)}, see ${joined(see.to)}” is out.`, () => forget(see), () => save(see))}>
                Take out
              </Press>
            )}
          </Flex>
        ))}
      </Box>
      {writer && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            const see = { terms: read(from), to: read(to), also };
            void withUndo(notify, `The index says “${joined(see.terms)}, see ${joined(see.to)}” now.`, () => save(see), () => forget(see)).then((done) => {
              if (!done) return;
              setFrom("");
              setTo("");
            });
          }}
        >
          <Flex gap="1" wrap="wrap" align="center">
            <Input size="xs" bg="raised" flex="1 1 90px" aria-label="Term to look under" placeholder="swell" value={from} onChange={(event) => setFrom(event.target.value)} />
            <span>see</span>
            <Input size="xs" bg="raised" flex="1 1 90px" aria-label="Term to see" placeholder="waves › height of" value={to} onChange={(event) => setTo(event.target.value)} />
            <Tick ticked={also} set={setAlso}>
              also
            </Tick>
            <Press type="submit">Add</Press>
          </Flex>
        </form>
      )}
    </Box>
  );
}

const Show = (given: PanelProps) => (
  <PlacesPanel>
    <Terms {...given} view={useRoom(given.room, "view")} />
  </PlacesPanel>
);

export const terms: Panel = { key: "index", group: "Tables", name: "Index", Show };
