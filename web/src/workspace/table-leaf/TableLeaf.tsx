/** The table leaf: a table as it will be printed, and in its margin how each line stands to the text. */
import { Box, Button, chakra, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { memo, useCallback, useMemo, useState } from "react";
import type { ReportShown, Scope } from "../../api/client";
import { counted, howFarBehind } from "../../words";
import { familyOf } from "../controls/fonts";
import { Press } from "../controls/parts";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import type { Tables } from "../tables/useTables";
import { tried } from "../tables/useTrial";
import { isEmpty, type Table } from "../view";
import { Forms } from "./Forms";
import { History } from "./History";
import { Lines } from "./Lines";
import { OwnList } from "./Own";
import { Settings } from "./Settings";
import { ShapedLines, type Part } from "./Shape";
import { HowFar, State } from "./State";

const Select = chakra("select");

/** What the leaf shows of a table: its lines, to be read or to be changed by pressing them; its forms; or what was done to it. */
export type View = { shows: "lines" | "forms" | "history" } | { shows: "shape"; part: Part };

interface Props {
  report: ReportShown;
  room: Room;
  choose: (key: string) => void;
  view: View;
  show: (view: View) => void;
  scroller: HTMLElement | null;
  mayWrite: boolean;
  goTo: (id: string) => void;
  tables: Tables;
}

export const TableLeaf = memo(function TableLeaf(props: Props) {
  const { room, choose, tables, mayWrite } = props;
  const view = useRoom(room, "view");
  const lacking = useRoom(room, "lacking");
  const tableKey = tables.atHand();
  const table = view.tables.get(tableKey ?? "");
  const waiting = tableKey === null && view.tables.size > 0;
  if (waiting || (!table && lacking.length > 0)) {
    return (
      <Text px="5" py="8" color="quiet" role="status">
        {waiting ? "The table is being put together …" : "Tables cannot be shown until pages can be computed again."}
      </Text>
    );
  }
  if (!table || tableKey === null) return <NoTable {...props} />;
  const late = [...view.tables.values()].filter((one) => one.differences.length > 0).length;
  return (
    <Box px="4" py="5">
      {view.tables.size > 1 && (
        <Flex mb="4" gap="2" wrap="wrap">
          <Select
            aria-label="Table to look at"
            flex="1 1 240px"
            minW="0"
            p="1.5"
            bg="raised"
            borderWidth="1px"
            borderColor="quiet"
            rounded="md"
            value={tableKey}
            onChange={(event) => choose(event.target.value)}
          >
            {[...view.tables].map(([key, one]) => (
              <option key={key} value={key}>
                {one.recipe.title || "Without a title"}, page {one.page}: {howFarBehind(one.differences.length)}
              </option>
            ))}
          </Select>
          {mayWrite && late > 1 && (
            <Press type="button" onClick={() => void tables.catchUpAll()}>
              Catch up all {late} tables
            </Press>
          )}
        </Flex>
      )}
      <OneTable key={tableKey} {...props} table={tried(table, tables.trial?.table === tableKey ? tables.trial : null)} tableKey={tableKey} />
    </Box>
  );
});

function NoTable({ mayWrite, tables: { place } }: Props) {
  return (
    <Stack px="5" py="8" gap="4">
      <Heading as="h2" fontFamily="heading" fontSize="22px">
        No table yet
      </Heading>
      <Text color="quiet">
        A contents table lists the headings of the text with their pages. It is put in where the cursor stands, or at the front, behind the
        title and on a page of its own.
      </Text>
      {mayWrite ? (
        <>
          <Button bg="iris" color="leaf" onClick={() => place("front")}>
            Contents at the front
          </Button>
          <Button variant="outline" bg="raised" borderColor="quiet" onClick={() => place("page")}>
            Contents on a page of its own
          </Button>
          <Button variant="outline" bg="raised" borderColor="quiet" onClick={() => place("here")}>
            Contents at the cursor
          </Button>
        </>
      ) : (
        <Text>The people who write this report can put one in.</Text>
      )}
    </Stack>
  );
}

function OneTable({ report, room, view, show, scroller, mayWrite, goTo, tables, table, tableKey }: Props & { table: Table; tableKey: string }) {
  const headings = useRoom(room, "view").headings;
  const [only, setOnly] = useState(false);
  const [first, setFirst] = useState(false);
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [lastResult, setResult] = useState<{ scope: Scope; table: Table; of: Table["differences"] } | null>(null);
  // A result is that of the text as it was: once the table differs otherwise, it is shown no more.
  const result = lastResult?.of === table.differences ? lastResult : null;
  const lines = useMemo(() => {
    const differing = new Set(table.differences.map((one) => one.source));
    return [...chosen].filter((source) => differing.has(source));
  }, [table.differences, chosen]);
  const pick = useCallback(
    (source: string) =>
      setChosen((before) => {
        const now = new Set(before);
        if (!now.delete(source)) now.add(source);
        return now;
      }),
    [],
  );
  const carryOut = async (scope: Scope) => {
    await tables.catchUp(scope, lines);
    setChosen(new Set());
    setResult(null);
  };
  const run = async (scope: Scope) => {
    if (!first) return carryOut(scope);
    const found = await tables.result(scope, lines);
    if (found) setResult({ scope, table: found, of: table.differences });
  };
  const close = () => show({ shows: "lines" });
  const writer = mayWrite ? tables : null;
  const shaping = view.shows === "shape";
  return (
    <>
      {view.shows === "lines" ? (
        <State {...{ table, mayWrite, tables, only, setOnly, run, first, setFirst }} chosen={lines} />
      ) : (
        <Box bg={table.differences.length ? "behindWash" : "raised"} borderWidth="1px" borderColor={table.differences.length ? "behind" : "edge"} rounded="md" px="3" py="1">
          <HowFar table={table} />
        </Box>
      )}
      <Flex gap="1" mt="2" wrap="wrap" role="group" aria-label="What is done with the table">
        {mayWrite && (
          <Press type="button" aria-pressed={shaping} _pressed={{ borderColor: "iris", bg: "irisWash" }} onClick={() => (shaping ? close() : show({ shows: "shape", part: { part: "table" } }))}>
            Change by pressing
          </Press>
        )}
        {(["forms", "history"] as const).map((one) => (
          <Press key={one} type="button" aria-pressed={view.shows === one} _pressed={{ borderColor: "iris", bg: "irisWash" }} onClick={() => (view.shows === one ? close() : show({ shows: one }))}>
            {one === "forms" ? "Forms" : "What was done"}
          </Press>
        ))}
      </Flex>
      {view.shows === "forms" && <Forms report={report.key} table={tableKey} tables={tables} mayWrite={mayWrite} close={close} />}
      {view.shows === "history" && <History report={report.key} table={tableKey} tables={writer} close={close} />}
      {view.shows !== "history" && (
        <>
          {result && <Result scope={result.scope} table={table} result={result.table} carryOut={carryOut} leave={() => setResult(null)} />}
          <Flex align="baseline" gap="2">
            <Title table={table} report={report} press={shaping ? () => show({ shows: "shape", part: { part: "title" } }) : null} chosen={shaping && view.part.part === "title"} />
            {!isEmpty(table) && (
              <Press type="button" aria-label="Copy this table" title="Copy it: in a report it is a table again, elsewhere a list" flexShrink="0" onClick={() => void tables.copy()}>
                Copy
              </Press>
            )}
          </Flex>
          {table.recipe.columns === 2 && (
            <Text color="quiet" fontSize="13px" pl="22px">
              Printed in two columns.
            </Text>
          )}
          {shaping && mayWrite ? (
            <ShapedLines table={table} tables={tables} scroller={scroller} part={view.part} choose={(part) => show({ shows: "shape", part })} />
          ) : (
            <Box onCopy={(event) => copySelected(event.currentTarget, tables)}>
              <Lines
                table={result?.table ?? table}
                only={only && table.differences.length > 0}
                scroller={scroller}
                goTo={goTo}
                chosen={chosen}
                choose={mayWrite && !result ? pick : null}
                tables={result ? null : writer}
              />
            </Box>
          )}
          {isEmpty(table) && (
            <Text color="quiet" pl="22px">
              {table.why}
            </Text>
          )}
          <OwnList table={table} tables={writer} goTo={goTo} />
          {mayWrite && !shaping && (
            <Button size="sm" variant="ghost" color="quiet" mt="4" ml="12px" px="2" textDecoration="underline" onClick={tables.remove}>
              Remove this table
            </Button>
          )}
          {shaping && mayWrite && (
            <Settings table={table} tables={tables} report={report} headings={headings} part={view.part} choose={(part) => show({ shows: "shape", part })} close={close} />
          )}
        </>
      )}
    </>
  );
}

/** Copies the lines that are selected, or that with the focus, as the text's own tables are copied; a few words of one stay as they are. */
function copySelected(list: HTMLElement, tables: Tables): void {
  const selection = getSelection();
  const selected = selection?.isCollapsed === false ? selection : null;
  const within = [...list.querySelectorAll<HTMLElement>("[data-source]")].filter((line) => (selected ? selected.containsNode(line, true) : line.contains(document.activeElement)));
  const [only] = within;
  if (!only || (within.length === 1 && selected && selected.toString().trim().length < (only.innerText.trim().length || 1) / 2)) return;
  void tables.copyLines(within.map((line) => line.dataset.source ?? ""), selected !== null);
}

interface TitleProps {
  table: Table;
  report: ReportShown;
  press: (() => void) | null;
  chosen: boolean;
}

/** The title in its style. */
function Title({ table, report, press, chosen }: TitleProps) {
  const { title, title_style } = table.recipe;
  const style = report.styles.find((one) => one.id === title_style) ?? report.styles.find((one) => one.role === "table-title");
  if (!title && !press) return <Box h="4" flex="1" />;
  const words = press ? (
    <button type="button" className={chosen ? "part chosen" : "part"} onClick={press}>
      {title || "No title"}
    </button>
  ) : (
    title
  );
  return (
    <Heading
      as="h2"
      flex="1"
      minW="0"
      fontFamily={familyOf(style?.font ?? "Carlito")}
      fontSize={`${Math.min(style?.size ?? 17, 22)}pt`}
      fontWeight={style?.bold ? "bold" : "normal"}
      fontStyle={style?.italic ? "italic" : undefined}
      lineHeight="1.3"
      mt="4"
      mb="2"
      pl="22px"
      color={title ? undefined : "quiet"}
    >
      {words}
    </Heading>
  );
}

const DOES: Record<Scope, string> = { everything: "Catch up everything", pages: "Catch up page numbers", chosen: "Catch up chosen lines" };

interface ResultProps {
  scope: Scope;
  table: Table;
  result: Table;
  carryOut: (scope: Scope) => Promise<void>;
  leave: () => void;
}

/** How many lines that are taken out are named. */
const MOST_NAMED = 5;

/** Over the lines as they would be. */
function Result({ scope, table, result, carryOut, leave }: ResultProps) {
  const after = new Set(result.lines.map((line) => line.source));
  const out = table.lines.filter((line) => !after.has(line.source)).map((line) => `“${line.text}”`);
  const shown = out.length > MOST_NAMED ? `${out.slice(0, MOST_NAMED).join(", ")} and ${out.length - MOST_NAMED} more` : out.join(", ");
  return (
    <Box bg="irisWash" borderWidth="1px" borderColor="iris" rounded="md" p="3" mt="3" role="status">
      <Text fontSize="14px">
        This is how it will be, on {counted(result.pages, "page")}; {counted(result.differences.length, "line")} marked{" "}
        {result.differences.length === 1 ? "is" : "are"} new or otherwise.{shown && ` Taken out: ${shown}.`}
      </Text>
      <Flex gap="2" mt="2">
        <Press type="button" bg="iris" color="leaf" onClick={() => void carryOut(scope)}>
          {DOES[scope]}
        </Press>
        <Press type="button" onClick={leave}>
          Leave it as it is
        </Press>
      </Flex>
    </Box>
  );
}
