/** What happened to the sections since one was last here, or since another time; what was removed is read and put back here. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { memo, useEffect, useRef, useState } from "react";
import type { Happened as One, HappenedSince } from "../../../api/client";
import { LongList } from "../../../theme/LongList";
import { when } from "../../../words";
import { PanelTitle, Press } from "../../controls/parts";
import type { Notify } from "../../controls/Notice";
import { tableWords } from "../../printed/kinds";
import { happenedKey, useHappened } from "../../room/useHappened";
import type { Room } from "../../room/room";
import { useRoom } from "../../room/useRoom";
import type { View } from "../../view";
import type { Panel, PanelProps } from "../panel";
import { Kept } from "./Kept";
import { Removed } from "./Removed";
import { useReturning } from "./useReturning";
import "./happened.css";

interface Props {
  report: string;
  room: Room;
  view: View;
  writer: Editor | null;
  scroller: HTMLElement | null;
  goTo: (id: string) => void;
  notify: Notify;
}

/** Milliseconds without a change of headings after which the list is made anew. */
const QUIET = 1500;

const KINDS = [
  ["added", "Added"],
  ["removed", "Removed"],
  ["moved", "Moved"],
  ["renamed", "Renamed"],
  ["level", "Another level"],
  ["written", "Words"],
  ["renumbered", "Renumbered"],
] as const;

type Kind = (typeof KINDS)[number][0];

const Happened = memo(function Happened({ report, room, view, writer, scroller, goTo, notify }: Props) {
  const [since, setSince] = useState<Since>({ of: "visit" });
  const [by, setBy] = useState<number | null>(null);
  const [kind, setKind] = useState<Kind | null>(null);
  const visit = useHappened(report);
  const people = visit.data?.people ?? [];
  const at = timeOf(since, people);
  const asked = useHappened(report, at);
  useAnew(report, at, view.headings);
  const returning = useReturning(report, room, writer, goTo, notify);
  const found = asked.data?.happened ?? [];
  const shown = found.filter((one) => (by === null || one.by.includes(by)) && (kind === null ? one.kinds.some((one) => one !== "renumbered") : one.kinds.includes(kind)));
  const renumbered = found.filter(({ kinds }) => kinds.every((one) => one === "renumbered")).length;
  return (
    <Box px="4" py="4" fontSize="13px">
      {view.kept.length > 0 && <Kept kept={view.kept} returning={writer && returning} goTo={goTo} />}
      <PanelTitle>What happened</PanelTitle>
      <SinceChooser since={since} people={people} choose={setSince} />
      <Flex gap="2" mb="3">
        <select className="narrow-by" aria-label="By whom" value={by ?? ""} onChange={({ target: { value } }) => setBy(value ? Number(value) : null)}>
          <option value="">By anybody</option>
          {people.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <select className="narrow-by" aria-label="What" value={kind ?? ""} onChange={({ target: { value } }) => setKind((value || null) as Kind | null)}>
          <option value="">Anything</option>
          {KINDS.map(([one, name]) => (
            <option key={one} value={one}>
              {name}
            </option>
          ))}
        </select>
      </Flex>
      <Text role="status" mb="2" color={asked.isError ? "gone" : "quiet"}>
        {said(asked, shown.length, found.length)}
      </Text>
      <LongList
        count={shown.length}
        scroller={scroller}
        estimate={58}
        label="What happened"
        keyOf={(index) => `${shown[index]?.there} ${shown[index]?.id}`}
        row={(index, tabbable) => {
          const one = shown[index];
          if (!one) return null;
          const about = [one.at && when(one.at), tablesOf(view, one)].filter(Boolean).join(" · ");
          return one.there ? (
            <div className="happened">
              <button type="button" className="place" tabIndex={tabbable ? 0 : -1} onClick={() => goTo(one.id)}>
                {one.text}
                {about && <span className="about">{about}</span>}
              </button>
            </div>
          ) : (
            <Removed one={one} about={about} report={report} returning={writer && returning} tabbable={tabbable} />
          );
        }}
      />
      {kind === null && by === null && renumbered > 0 && (
        <Press type="button" mt="3" onClick={() => setKind("renumbered")}>
          {renumbered} more changed their number alone
        </Press>
      )}
    </Box>
  );
});

const Show = ({ report, room, writer, scroller, goTo, notify }: PanelProps) => (
  <Happened report={report.key} room={room} view={useRoom(room, "view")} writer={writer} scroller={scroller} goTo={goTo} notify={notify} />
);

export const happened: Panel = { key: "happened", group: "Report", name: "What happened", Show };

function said({ data, error }: { data?: HappenedSince; error: Error | null }, shown: number, found: number): string {
  if (error) return error.message;
  if (!data) return "One moment …";
  if (data.since === null) return "You are here for the first time; choose another time to see what happened since.";
  if (shown > 0) return "";
  return found > 0 ? "Nothing of the kind." : `Nothing happened to the sections since ${when(data.since)}.`;
}

/** Which tables have a line for a section, but where its words alone have changed. */
function tablesOf(view: View, one: One): string {
  if (one.kinds.every((kind) => kind === "written")) return "";
  const names = [...view.tables.values()]
    .filter(({ lines, differences }) => [...lines, ...differences].some(({ source }) => source === one.id))
    .map(({ recipe }) => `“${recipe.title || tableWords(recipe.kind).name}”`);
  return names.length > 0 ? `in ${names.join(", ")}` : "";
}

/** Asks anew once headings have changed and nobody has changed more for a while. */
function useAnew(report: string, since: string | undefined, headings: View["headings"]): void {
  const queries = useQueryClient();
  const known = useRef(headings);
  useEffect(() => {
    if (known.current === headings) return;
    const timer = window.setTimeout(() => {
      known.current = headings;
      void queries.invalidateQueries({ queryKey: happenedKey(report, since), exact: true });
    }, QUIET);
    return () => window.clearTimeout(timer);
  }, [queries, report, since, headings]);
}

type Since = { of: "visit" | "today" | "week" | "made" } | { of: "person"; person: number } | { of: "day"; day: string };

type People = HappenedSince["people"];

const midnight = (days: number) => {
  const today = new Date();
  return new Date(today.getFullYear(), today.getMonth(), today.getDate() - days).toISOString();
};

/** A time in ISO 8601; none for one's own last visit. */
function timeOf(since: Since, people: People): string | undefined {
  if (since.of === "today") return midnight(0);
  if (since.of === "week") return midnight(7);
  if (since.of === "made") return new Date(0).toISOString();
  if (since.of === "person") return people.find(({ id }) => id === since.person)?.last_here ?? undefined;
  if (since.of === "day" && since.day) return new Date(`${since.day}T00:00`).toISOString();
  return undefined;
}

function SinceChooser({ since, people, choose }: { since: Since; people: People; choose: (since: Since) => void }) {
  const value = since.of === "person" ? `person-${since.person}` : since.of;
  return (
    <Flex gap="2" mb="2" wrap="wrap">
      <select
        className="narrow-by"
        aria-label="Since when"
        data-first
        value={value}
        onChange={({ target: { value } }) => {
          if (value.startsWith("person-")) choose({ of: "person", person: Number(value.slice(7)) });
          else if (value === "day") choose({ of: "day", day: "" });
          else choose({ of: value as "visit" });
        }}
      >
        <option value="visit">Since you were last here</option>
        <option value="today">Today</option>
        <option value="week">In the last seven days</option>
        <option value="day">Since a day …</option>
        {people
          .filter(({ last_here }) => last_here !== null)
          .map(({ id, name, last_here }) => (
            <option key={id} value={`person-${id}`}>
              Since {name} was last here, {when(last_here ?? "")}
            </option>
          ))}
        <option value="made">Since it was made</option>
      </select>
      {since.of === "day" && (
        <Input type="date" aria-label="Day" size="xs" w="auto" bg="raised" borderColor="quiet" value={since.day} onChange={({ target: { value } }) => choose({ of: "day", day: value })} />
      )}
    </Flex>
  );
}
