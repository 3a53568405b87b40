/** The check-up: structural faults by kind, each with its place, why it matters, and what mends it, shown before it is done. */
import { Box, Button, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { memo, useCallback, useState, type ReactNode } from "react";
import type { RemedyPlan } from "../../../api/client";
import { LongList } from "../../../theme/LongList";
import { counted, when } from "../../../words";
import type { Room } from "../../room/room";
import { PanelTitle, Press } from "../../controls/parts";
import type { Check, Finding, View } from "../../view";
import "./checkup.css";
import { focusWhenItAppears, focusWhereItIs } from "../../../theme/focus";
import { useRoom } from "../../room/useRoom";
import type { Panel, PanelProps } from "../panel";
import { useRemedies, type Remedies } from "./useRemedies";

interface Props {
  report: string;
  room: Room;
  view: View;
  /** There for whoever may write. */
  writer: Editor | null;
  scroller: HTMLElement | null;
  goTo: (id: string) => void;
  notify: (notice: string) => void;
}

/** Findings up to which all kinds are unfolded. */
const FEW = 20;

/** What is being asked about some findings of one kind: what mending them would change, or why they are to stay. */
type Asked = { of: string } & ({ about: "remedy"; plan: RemedyPlan } | { about: "aside" });

/** Whether all findings of a kind are meant, or one: others come and go meanwhile. */
const ofAll = (kind: string) => `all of ${kind}`;

type Row =
  | { row: "kind"; kind: string; findings: readonly Finding[] }
  | { row: "finding"; finding: Finding }
  | { row: "aside"; finding: Finding }
  | { row: "asides"; count: number };

const CheckUp = memo(function CheckUp({ report, room, view, writer, scroller, goTo, notify }: Props) {
  const { findings, checks, set_aside: aside } = view;
  const remedies = useRemedies(report, room, writer, notify);
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const [asked, setAsked] = useState<Asked | null>(null);
  const counting = findings.filter(({ id }) => !aside.has(id));
  const kinds = Map.groupBy(counting, ({ kind }) => kind);
  const isOpen = (kind: string) => counting.length <= FEW !== turned.has(kind);
  const turn = (kind: string) =>
    setTurned((before) => {
      const now = new Set(before);
      if (!now.delete(kind)) now.add(kind);
      return now;
    });
  const rows: Row[] = [...kinds].flatMap(([kind, found]) => [
    { row: "kind" as const, kind, findings: found },
    ...(isOpen(kind) ? found.map((finding) => ({ row: "finding" as const, finding })) : []),
  ]);
  if (aside.size > 0) {
    rows.push({ row: "asides", count: aside.size });
    if (turned.has("aside")) rows.push(...findings.filter(({ id }) => aside.has(id)).map((finding) => ({ row: "aside" as const, finding })));
  }
  const ask = async (of: string, found: readonly Finding[]) => {
    const plan = await remedies.plan(found);
    if (plan) setAsked({ of, about: "remedy", plan });
  };
  const question = (of: string, found: readonly Finding[]) =>
    asked?.of === of && <Question asked={asked} findings={found} remedies={remedies} done={() => setAsked((now) => (now === asked ? null : now))} />; // not one that was asked since
  const common = { ask, question, setAside: (of: string) => setAsked({ of, about: "aside" }), mayWrite: writer !== null, goTo };

  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>Check-up</PanelTitle>
      <Text color="quiet" mb="3">
        What is wrong with the structure, while you write.
      </Text>
      <Text fontWeight="600" fontSize="15px" mb="2" role="status" color={counting.length ? "behindInk" : "level"}>
        {counting.length ? `◇ ${counted(counting.length, "finding")}` : "◆ Nothing found"}
        {aside.size > 0 && `, ${aside.size} set aside`}
      </Text>
      <LongList
        count={rows.length}
        scroller={scroller}
        estimate={48}
        label="Findings"
        keyOf={(index) => keyOf(rows[index])}
        row={(index, tabbable) => {
          const one = rows[index];
          if (!one) return null;
          if (one.row === "kind") {
            return <Kind {...common} check={checks.get(one.kind)} findings={one.findings} open={isOpen(one.kind)} turn={() => turn(one.kind)} tabbable={tabbable} />;
          }
          if (one.row === "finding") return <One {...common} finding={one.finding} check={checks.get(one.finding.kind)} tabbable={tabbable} />;
          if (one.row === "asides") {
            return (
              <button type="button" className="kind aside" aria-expanded={turned.has("aside")} tabIndex={tabbable ? 0 : -1} onClick={() => turn("aside")}>
                <span>{counted(one.count, "finding")} set aside</span>
                <span aria-hidden>{turned.has("aside") ? "▴" : "▾"}</span>
              </button>
            );
          }
          const { reason, who, at } = aside.get(one.finding.id) ?? { reason: "", who: "", at: "" };
          return (
            <Place finding={one.finding} tabbable={tabbable} goTo={goTo}>
              <Text color="quiet">
                “{reason}”{who && ` · ${who}`}
                {at && `, ${when(at)}`}
              </Text>
              {writer && (
                <Press type="button" tabIndex={tabbable ? 0 : -1} onClick={() => void remedies.takeUp(one.finding)}>
                  Take it up again
                </Press>
              )}
            </Place>
          );
        }}
      />
    </Box>
  );
});

function Show({ report, room, writer, scroller, goTo, show, notify }: PanelProps) {
  const view = useRoom(room, "view");
  // Words that stand nowhere in the text are shown where they are kept.
  const toPlace = useCallback((id: string) => (id.startsWith("kept-") ? show("happened") : goTo(id)), [show, goTo]);
  return <CheckUp report={report.key} room={room} view={view} writer={writer} scroller={scroller} goTo={toPlace} notify={notify} />;
}

export const checkUp: Panel = { key: "check-up", group: "Report", name: "Check-up", Show };

function keyOf(row: Row | undefined): string {
  if (!row) return "";
  if (row.row === "kind") return `kind ${row.kind}`;
  return row.row === "asides" ? "asides" : row.finding.id;
}

interface Common {
  /** `of` says which findings are meant: see `ofAll`. */
  ask: (of: string, findings: readonly Finding[]) => Promise<void>;
  setAside: (of: string) => void;
  question: (of: string, findings: readonly Finding[]) => ReactNode;
  mayWrite: boolean;
  goTo: (id: string) => void;
  check: Check | undefined;
  tabbable: boolean;
}

/** A kind: its name, how many, why it matters, and what mends all of them. */
function Kind({ check, findings, open, turn, tabbable, ask, setAside, question, mayWrite }: Common & { findings: readonly Finding[]; open: boolean; turn: () => void }) {
  const tab = tabbable ? 0 : -1;
  const all = ofAll(findings[0]?.kind ?? "");
  return (
    <Box pt="2">
      <button type="button" className="kind" aria-expanded={open} tabIndex={tab} onClick={turn}>
        <span>{check?.name}</span>
        <span className="count">
          {findings.length} <span aria-hidden>{open ? "▴" : "▾"}</span>
        </span>
      </button>
      <Text color="quiet" lineHeight="1.35">
        {check?.why}
      </Text>
      {mayWrite && findings.length > 1 && (
        <Flex gap="1" wrap="wrap" mt="1">
          {check?.label && (
            <Press type="button" tabIndex={tab} onClick={() => void ask(all, findings)}>
              {check.label}: all {findings.length} …
            </Press>
          )}
          <Press type="button" tabIndex={tab} aria-label={`Set all aside …: ${check?.name ?? ""}`} onClick={() => setAside(all)}>
            Set all aside …
          </Press>
        </Flex>
      )}
      {question(all, findings)}
    </Box>
  );
}

function One({ finding, check, tabbable, ask, setAside, question, mayWrite, goTo }: Common & { finding: Finding }) {
  const tab = tabbable ? 0 : -1;
  return (
    <Place finding={finding} tabbable={tabbable} goTo={goTo}>
      {mayWrite && (
        <Flex gap="1" wrap="wrap">
          {check?.label && (
            <Press type="button" tabIndex={tab} aria-label={`${check.label} …: ${finding.text}`} onClick={() => void ask(finding.id, [finding])}>
              {check.label} …
            </Press>
          )}
          <Press type="button" tabIndex={tab} aria-label={`Set aside …: ${finding.text}`} onClick={() => setAside(finding.id)}>
            Set aside …
          </Press>
        </Flex>
      )}
      {question(finding.id, [finding])}
    </Place>
  );
}

/** A finding, pressed to go to its place. */
const Place = ({ finding, tabbable, goTo, children }: { finding: Finding; tabbable: boolean; goTo: (id: string) => void; children: ReactNode }) => (
  <div className="finding">
    <button type="button" className="place" tabIndex={tabbable ? 0 : -1} onClick={() => goTo(finding.place)}>
      {finding.text}
    </button>
    {children}
  </div>
);

interface QuestionProps {
  asked: Asked;
  findings: readonly Finding[];
  remedies: Remedies;
  done: () => void;
}

function Question({ asked, findings, remedies, done }: QuestionProps) {
  const [busy, setBusy] = useState(false);
  const [reason, setReason] = useState("");
  const run = async (work: () => Promise<unknown>) => {
    setBusy(true);
    await work();
    setBusy(false);
    done();
  };
  if (asked.about === "aside") {
    return (
      <form
        className="question"
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim()) void run(() => remedies.setAside(findings, reason));
        }}
      >
        <label>
          Why {findings.length === 1 ? "is it" : "are they"} to stay?
          <Input
            size="xs"
            bg="raised"
            borderColor="quiet"
            mt="1"
            maxLength={300}
            value={reason}
            ref={focusWhenItAppears}
            onChange={(event) => setReason(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && done()}
          />
        </label>
        <Flex gap="2" mt="2">
          <Button type="submit" size="xs" bg="iris" color="leaf" disabled={!reason.trim()} loading={busy}>
            Set aside
          </Button>
          <Press type="button" onClick={done}>
            Leave it
          </Press>
        </Flex>
      </form>
    );
  }
  const { changes, count, scheme } = asked.plan;
  return (
    <section className="question" aria-label="What it would change">
      <Text fontWeight="600">It would change {counted(count, "place")}:</Text>
      <ul className="changes" tabIndex={-1}>
        {alike(changes).map(({ block, before, after, times }) => (
          <li key={block}>
            {before && <del>{inWords(before)}</del>}
            {after ? <ins>{inWords(after)}</ins> : <span className="gone">taken out{times > 1 && `, ${times} of them`}</span>}
          </li>
        ))}
      </ul>
      {count > changes.length && <Text color="quiet">and {counted(count - changes.length, "more place")}.</Text>}
      {scheme && <Text>The numbering is turned on with it.</Text>}
      <Flex gap="2" mt="2">
        <Button size="xs" bg="iris" color="leaf" loading={busy} ref={focusWhereItIs} onClick={() => void run(() => remedies.mend(findings))}>
          Do it
        </Button>
        <Press type="button" onClick={done}>
          Leave it
        </Press>
      </Flex>
    </section>
  );
}

type Change = RemedyPlan["changes"][number];

/** Changes with neighbours that read the same put together, and how many these are. */
function alike(changes: readonly Change[]): (Change & { times: number })[] {
  const found: (Change & { times: number })[] = [];
  for (const change of changes) {
    const last = found.at(-1);
    const same = last && JSON.stringify([last.before, last.after]) === JSON.stringify([change.before, change.after]);
    if (same) last.times += 1;
    else found.push({ ...change, times: 1 });
  }
  return found;
}

/** "Heading 2: Tides". */
const inWords = ([what, words]: readonly unknown[]) => [what, words].filter(Boolean).join(": ");
