/** What looks like a citation and is not marked: marked one by one, or all that are ticked at once; and the ways to cite by which it is found. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { api, type Candidate, type CitationRule, type ReportShown } from "../../../api/client";
import { counted } from "../../../words";
import { Choice } from "../../controls/Figure";
import type { Notify } from "../../controls/Notice";
import { PanelTitle, Press, Tick } from "../../controls/parts";
import { notifyError, withUndo } from "../../controls/withUndo";
import type { Room } from "../../room/room";
import { CitationForm } from "../../text-leaf/CitationForm";
import { citeSeveral, uncite } from "../../text-leaf/citing";

interface Props {
  report: ReportShown;
  room: Room;
  writer: Editor;
  goTo: (id: string) => void;
  notify: Notify;
}

const categoriesOf = (report: ReportShown) => report.categories.map(({ id, name }) => [id, name] as const);

const placesIn = (found: readonly Candidate[]) => found.reduce((sum, { places }) => sum + places.length, 0);

export function Unmarked({ report, room, writer, goTo, notify }: Props) {
  const [found, setFound] = useState<readonly Candidate[] | null>(null);
  const [left, leave] = useState<ReadonlySet<string>>(new Set());
  const [chosen, choose] = useState<ReadonlyMap<string, string>>(new Map());
  const [open, setOpen] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const categoryOf = ({ words, category }: Candidate) => chosen.get(words) ?? category;
  const ticked = found?.filter(({ words }) => !left.has(words)) ?? [];
  const look = async () => {
    await room.caughtUp();
    setFound(await api.unmarkedCitations(report.key));
  };
  const whileBusy = async (work: () => Promise<void>) => {
    setBusy(true);
    await work().catch(notifyError(notify));
    setBusy(false);
  };
  const mark = async () => {
    await room.caughtUp();
    const known = new Set(report.authorities.map(({ id }) => id));
    const made = await api.makeAuthorities(report.key, ticked.map((one) => ({ long: one.words, short: "", category: categoryOf(one) })));
    const several = ticked.map(({ places }, at) => ({ of: made[at]?.id ?? "", places }));
    const citations = citeSeveral(writer, several);
    const fresh = new Set(several.map(({ of }) => of).filter((id) => !known.has(id)));
    const back = async () => {
      uncite(writer, citations);
      for (const id of fresh) await api.forgetAuthority(report.key, id);
      await look();
    };
    notify(`${counted(several.length, "authority", "authorities")} cited in ${counted(citations.size, "place")}.`, { name: "Take it back", run: () => void back().then(() => notify("Taken back."), notifyError(notify)) });
    await look();
  };
  const tick = (words: readonly string[], on: boolean) => leave(new Set([...left, ...words].filter((one) => !on || !words.includes(one))));
  return (
    <Box mt="4">
      <PanelTitle>Not marked yet</PanelTitle>
      <Press type="button" disabled={busy} onClick={() => void whileBusy(look)}>
        {busy ? "Looking through the text …" : "Find what looks like a citation"}
      </Press>
      {found && (
        <Text color="quiet" mt="1" role="status">
          {found.length === 0 ? "Nothing more looks like a citation." : `${counted(found.length, "citation")} in ${counted(placesIn(found), "place")}`}
        </Text>
      )}
      {found && found.length > 1 && (
        <Flex gap="2" mt="1" align="center" wrap="wrap">
          <Tick ticked={ticked.length === found.length} set={(on) => tick(found.map(({ words }) => words), on)}>
            All of them
          </Tick>
          <Press type="button" disabled={busy || ticked.length === 0} onClick={() => void whileBusy(mark)}>
            Mark the {ticked.length} ticked, each in its category
          </Press>
        </Flex>
      )}
      <Box as="ul" listStyleType="none" mt="1" aria-label="What looks like a citation">
        {found?.map((one) => {
          const { words, places } = one;
          return (
            <Box as="li" key={words} py="1" borderTopWidth="1px" borderColor="edge">
              <Flex align="baseline" overflowWrap="anywhere">
                <Tick ticked={!left.has(words)} set={(on) => tick([words], on)}>
                  <span>
                    {words}{" "}
                    <Box as="span" color="quiet">
                      {counted(places.length, "place")}
                    </Box>
                  </span>
                </Tick>
              </Flex>
              <Flex columnGap="1" rowGap="2" align="center" wrap="wrap" ps="6" pb="1">
                <Choice name={`Category of ${words}`} value={categoryOf(one)} choices={categoriesOf(report)} set={(category) => choose(new Map(chosen).set(words, category))} />
                <Press type="button" aria-label={`Go there: ${words}`} onClick={() => places[0] && goTo(places[0].paragraph)}>
                  Go there
                </Press>
                <Press type="button" aria-expanded={open === words} aria-label={`Mark: ${words}`} onClick={() => setOpen(open === words ? null : words)}>
                  Mark …
                </Press>
              </Flex>
              {open === words && (
                <CitationForm
                  editor={writer}
                  report={report}
                  room={room}
                  given={{ long: words, category: categoryOf(one) }}
                  goTo={goTo}
                  notify={notify}
                  done={() => {
                    setOpen(null);
                    void whileBusy(look);
                  }}
                />
              )}
            </Box>
          );
        })}
      </Box>
      <Rules report={report} notify={notify} />
    </Box>
  );
}

function Rules({ report, notify }: Pick<Props, "report" | "notify">) {
  const [words, setWords] = useState("");
  const [category, setCategory] = useState("other");
  const before = report.citation_rules;
  const save = (rules: readonly CitationRule[]) =>
    withUndo(
      notify,
      rules.length > before.length ? "This way to cite is found from now on." : "This way to cite is out.",
      () => api.saveCitationRules(report.key, rules),
      () => api.saveCitationRules(report.key, before),
    );
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void save([...report.citation_rules, { words, category }]).then((done) => done && setWords(""));
      }}
    >
      <Text color="quiet" mt="3" mb="1">
        Ways to cite of your own are found as well. Write one with # for a number and * for any word, such as “Minute #/#” or “Keeper’s Log of *”.
      </Text>
      {report.citation_rules.map((rule, at) => (
        <Flex key={rule.words} gap="2" align="baseline" py="0.5">
          <Box flex="1" minW="0" overflowWrap="anywhere">
            {rule.words} <Box as="span" color="quiet">{report.categories.find(({ id }) => id === rule.category)?.name}</Box>
          </Box>
          <Press type="button" aria-label={`Take out “${rule.words}”`} onClick={() => void save(report.citation_rules.filter((_, index) => index !== at))}>
            Take out
          </Press>
        </Flex>
      ))}
      <Flex gap="1" align="center" wrap="wrap">
        <Input size="xs" bg="raised" flex="1 1 120px" maxLength={200} aria-label="A way to cite" placeholder="Minute #/#" value={words} onChange={(event) => setWords(event.target.value)} />
        <Choice name="Its category" value={category} choices={categoriesOf(report)} set={setCategory} />
        <Press type="submit">Add</Press>
      </Flex>
    </form>
  );
}
