/** Find and replace in the whole report, by section; what would stand there, and which lines of tables change by it, is shown first. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { api, type FoundInText, type HitInText, type ReportShown, type ReplacementPlan, type ToSearch } from "../../../api/client";
import { focusWhenItAppears, focusWhereItIs } from "../../../theme/focus";
import { LongList } from "../../../theme/LongList";
import { counted } from "../../../words";
import { BareButton } from "../../controls/BareButton";
import { Choice } from "../../controls/Figure";
import type { Notify } from "../../controls/Notice";
import { PanelTitle, Press, Row, Tick } from "../../controls/parts";
import type { Room } from "../../room/room";
import { carryOut } from "../../text-leaf/plan";
import { offered } from "../../text-leaf/styles";
import type { Panel, PanelProps } from "../panel";
import { useSearch } from "./useSearch";
import "./searching.css";

const LONGEST = 500;
const EVERYWHERE = "the whole text";
const HEADINGS = "headings alone";

const FORMATTINGS = [
  ["", "in any formatting"],
  ["bold", "in bold"],
  ["italic", "in italic"],
  ["underline", "underlined"],
  ["link", "in links"],
] as const;

const placeOf = ({ paragraph, start }: HitInText): string => `${paragraph} ${start}`;

function Search({ report, room, writer, goTo, notify, scroller }: PanelProps) {
  const [wanted, setWanted] = useState<ToSearch>(NEW);
  const [instead, setInstead] = useState("");
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const change = (values: Partial<ToSearch>) => {
    setWanted({ ...wanted, ...values });
    setLeft(new Set());
  };
  const search = { ...wanted, instead: writer && instead ? instead : null };
  const { found, trouble } = useSearch(report.key, room, search);
  return (
    <Box px="5" py="4" fontSize="14px">
      <PanelTitle>Find and replace</PanelTitle>
      <Input data-first ref={focusWhenItAppears} size="sm" bg="raised" aria-label="Find" placeholder="Find" maxLength={LONGEST} value={wanted.words} onChange={(event) => change({ words: event.target.value })} />
      <How report={report} wanted={wanted} change={change} />
      {writer && (
        <Input size="sm" mt="2" bg="raised" aria-label="Put in its place" placeholder={wanted.pattern ? "Put in its place; \\1 is the first group" : "Put in its place"} maxLength={LONGEST} value={instead} onChange={(event) => setInstead(event.target.value)} />
      )}
      {trouble && (
        <Text mt="2" role="alert" color="gone">
          {trouble}
        </Text>
      )}
      {found && (
        <Places found={found} left={left} leave={setLeft} goTo={goTo} scroller={scroller} replaces={writer !== null}>
          {writer && found.count > 0 && (
            <Replace key={JSON.stringify(search)} report={report.key} room={room} writer={writer} wanted={{ ...wanted, instead }} found={found} left={left} notify={notify} />
          )}
        </Places>
      )}
    </Box>
  );
}

const NEW: ToSearch = { words: "", capitals: false, whole: false, accents: false, pattern: false, headings: false, style: "", formatting: "" };

interface HowProps {
  report: ReportShown;
  wanted: ToSearch;
  change: (values: Partial<ToSearch>) => void;
}

/** How and where it is looked for. */
function How({ report, wanted, change }: HowProps) {
  const where = wanted.headings ? HEADINGS : wanted.style || EVERYWHERE;
  const places = [[EVERYWHERE, EVERYWHERE], [HEADINGS, HEADINGS], ...offered(report.styles, wanted.style || null)] as const;
  return (
    <>
      <Flex wrap="wrap" mt="1" columnGap="1">
        <Tick ticked={wanted.capitals} set={(capitals) => change({ capitals })}>
          capitals as typed
        </Tick>
        <Tick ticked={wanted.whole} set={(whole) => change({ whole })}>
          whole words
        </Tick>
        <Tick ticked={wanted.accents} set={(accents) => change({ accents })}>
          any accents
        </Tick>
        <Tick ticked={wanted.pattern} set={(pattern) => change({ pattern })}>
          a pattern
        </Tick>
      </Flex>
      <Row label="Look in">
        <Choice
          name="Where to look"
          value={where}
          choices={places}
          set={(chosen) => change({ headings: chosen === HEADINGS, style: chosen === HEADINGS || chosen === EVERYWHERE ? "" : chosen })}
        />
        <Choice name="Formatting to look for" value={wanted.formatting} choices={FORMATTINGS} set={(chosen) => change({ formatting: chosen as ToSearch["formatting"] })} />
      </Row>
    </>
  );
}

interface PlacesProps {
  found: FoundInText;
  /** Those that are left, by `placeOf`. */
  left: ReadonlySet<string>;
  leave: (left: ReadonlySet<string>) => void;
  goTo: (id: string) => void;
  scroller: HTMLElement | null;
  /** Whether they can be replaced, and so be chosen. */
  replaces: boolean;
  children: React.ReactNode;
}

type Line = { section: FoundInText["sections"][number] } | { hit: HitInText };

/** What was found: each section with its places. */
function Places({ found, left, leave, goTo, scroller, replaces, children }: PlacesProps) {
  const hits = Map.groupBy(found.hits, ({ section }) => section);
  const lines: Line[] = found.sections.flatMap((section) => {
    const here = hits.get(section.id) ?? [];
    return here.length > 0 ? [{ section }, ...here.map((hit) => ({ hit }))] : [];
  });
  const toggle = (hit: HitInText) => {
    const now = new Set(left);
    if (!now.delete(placeOf(hit))) now.add(placeOf(hit));
    leave(now);
  };
  return (
    <>
      <Flex mt="2" align="center" columnGap="2" color="quiet" wrap="wrap">
        <Box as="span" role="status">
          {found.count === 0 ? "Nowhere in the text." : `${counted(found.count, "place")} in ${counted(found.sections.length, "section")}`}
          {found.count > found.hits.length && `; the first ${found.hits.length.toLocaleString("en-GB")} are shown`}
        </Box>
        {replaces && found.count > 0 && (
          <>
            <BareButton type="button" className="word" onClick={() => leave(new Set())}>
              all
            </BareButton>
            <BareButton type="button" className="word" onClick={() => leave(new Set(found.hits.map(placeOf)))}>
              none
            </BareButton>
          </>
        )}
      </Flex>
      {children}
      <LongList
        count={lines.length}
        scroller={scroller}
        estimate={44}
        label="Places that were found"
        keyOf={(index) => {
          const line = lines[index];
          return !line ? String(index) : "hit" in line ? placeOf(line.hit) : `section ${line.section.id}`;
        }}
        row={(index, tabbable) => {
          const line = lines[index];
          if (!line) return null;
          if ("section" in line) return <SectionRow {...line.section} tabbable={tabbable} goTo={goTo} />;
          return <HitRow hit={line.hit} chosen={!left.has(placeOf(line.hit))} toggle={replaces ? () => toggle(line.hit) : null} tabbable={tabbable} goTo={goTo} />;
        }}
      />
    </>
  );
}

interface SectionRowProps {
  id: string;
  number: string;
  text: string;
  count: number;
  tabbable: boolean;
  goTo: (id: string) => void;
}

const SectionRow = ({ id, number, text, count, tabbable, goTo }: SectionRowProps) => (
  <BareButton type="button" className="searched-section" tabIndex={tabbable ? 0 : -1} onClick={() => id && goTo(id)}>
    <span className="name">{`${number} ${text}`.trim() || "Before the first heading"}</span>
    <span className="count">{count.toLocaleString("en-GB")}</span>
  </BareButton>
);

interface HitRowProps {
  hit: HitInText;
  chosen: boolean;
  toggle: (() => void) | null;
  tabbable: boolean;
  goTo: (id: string) => void;
}

const HitRow = ({ hit, chosen, toggle, tabbable, goTo }: HitRowProps) => (
  <Flex className="searched" data-left={chosen ? undefined : ""}>
    {toggle && (
      <BareButton type="button" role="checkbox" aria-checked={chosen} aria-label={`${hit.before}${hit.words}${hit.after}`} tabIndex={-1} className="tick" onClick={toggle}>
        {chosen ? "☑" : "☐"}
      </BareButton>
    )}
    <BareButton type="button" className="words" tabIndex={tabbable ? 0 : -1} onClick={() => goTo(hit.paragraph)}>
      <span>{hit.before}</span>
      {hit.instead && chosen ? (
        <>
          <del>{hit.words}</del>
          <ins>{hit.instead}</ins>
        </>
      ) : (
        <mark>{hit.words}</mark>
      )}
      <span>{hit.after}</span>
    </BareButton>
  </Flex>
);

interface ReplaceProps {
  report: string;
  room: Room;
  writer: Editor;
  wanted: ToSearch;
  found: FoundInText;
  left: ReadonlySet<string>;
  notify: Notify;
}

/** Puts other words in the place of what is chosen, after showing what tables say otherwise by it. */
function Replace({ report, room, writer, wanted, found, left, notify }: ReplaceProps) {
  const [plan, setPlan] = useState<ReplacementPlan | null>(null);
  const [busy, setBusy] = useState(false);
  const chosen = found.count - left.size;
  const ask = async () => {
    await room.caughtUp();
    const places = left.size === 0 ? null : found.hits.filter((hit) => !left.has(placeOf(hit))).map(({ paragraph, start }) => [paragraph, start] as [string, number]);
    return api.planReplacement(report, { ...wanted, places });
  };
  const run = async (work: () => Promise<void>) => {
    setBusy(true);
    try {
      await work();
    } catch (error) {
      notify((error as Error).message);
    }
    setBusy(false);
  };
  const doIt = () =>
    run(async () => {
      // Others may have written since it was shown.
      const now = await ask();
      setPlan(null);
      if (carryOut(writer, now.plan)) notify(`${counted(now.count, "place")} ${done}. Undo (Ctrl+Z) takes it back.`);
      else notify("What was found reads otherwise by now; nothing was replaced.");
    });
  const [does, done] = wanted.instead ? (["Replace", `replaced by “${wanted.instead}”`] as const) : (["Take out", "taken out"] as const);
  if (!plan) {
    return (
      <Press type="button" my="2" disabled={chosen === 0 || busy} onClick={() => void run(async () => setPlan(await ask()))}>
        {does} {chosen === found.count && found.count > 1 ? `all ${chosen.toLocaleString("en-GB")}` : counted(chosen, "place")} …
      </Press>
    );
  }
  return (
    <section className="replacing" aria-label="What it would change">
      <Text fontWeight="600">
        {counted(plan.count, "place")} would be {done}.
      </Text>
      <Text>{linesInWords(plan.lines)}</Text>
      {plan.lines.length > 0 && (
        <ul tabIndex={-1}>
          {plan.lines.slice(0, 100).map((line, index) => (
            <li key={index}>
              <span className="title">{line.title || "Table"}: </span>
              {line.is_own ? (
                <>{line.before} (own words: they stay)</>
              ) : (
                <>
                  <del>{line.before}</del> <ins>{line.after}</ins>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
      <Flex gap="2" mt="2">
        <Button size="xs" bg="iris" color="leaf" loading={busy} ref={focusWhereItIs} onClick={() => void doIt()}>
          {does}
        </Button>
        <Press type="button" onClick={() => setPlan(null)}>
          Leave it
        </Press>
      </Flex>
    </section>
  );
}

function linesInWords(lines: ReplacementPlan["lines"]): string {
  const changed = lines.filter(({ is_own }) => !is_own).length;
  const own = lines.length - changed;
  const parts = [changed > 0 ? `${counted(changed, "line")} of tables will be behind by it` : "", own > 0 ? `own words of ${counted(own, "line")} hold it and stay as they are` : ""];
  return parts.some(Boolean) ? `${parts.filter(Boolean).join("; ")}.` : "No line of a table changes by it.";
}

export const searching: Panel = { key: "find", group: "Report", name: "Find", Show: Search };
