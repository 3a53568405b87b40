/** The table leaf: a table as it will be printed, and in its margin how each line stands to the text. */
import { Box, Button, chakra, Heading, Stack, Text } from "@chakra-ui/react";
import { memo, useMemo, useState } from "react";
import type { Scope } from "../../api/client";
import { LongList } from "../../theme/LongList";
import { counted, howFarBehind, NOTHING_TO_LIST, when } from "../../words";
import type { Room } from "../room";
import { useRoom } from "../useRoom";
import { isEmpty, tableAtHand, type Difference, type Kind, type Table, type TableLine } from "../view";
import { tableWords } from "./kinds";
import { PrintedLine } from "./PrintedLine";
import { rowsOf } from "./rows";

const Select = chakra("select");

interface Props {
  room: Room;
  chosen: string | null;
  choose: (key: string) => void;
  scroller: HTMLElement | null;
  mayWrite: boolean;
  goTo: (id: string) => void;
  catchUp: (scope: Scope) => Promise<void>;
  place: (ownPage: boolean) => void;
  remove: () => void;
}

export const TableLeaf = memo(function TableLeaf(props: Props) {
  const { room, chosen, choose } = props;
  const view = useRoom(room, "view");
  const tableKey = tableAtHand(view, chosen);
  const table = view.tables.get(tableKey ?? "");
  const [only, setOnly] = useState(false);
  if (!table || tableKey === null) return <NoTable {...props} />;
  return (
    <Box px="4" py="5">
      {view.tables.size > 1 && (
        <Select
          aria-label="Table to look at"
          w="100%"
          mb="4"
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
              {one.title}, page {one.page}: {howFarBehind(one.differences.length)}
            </option>
          ))}
        </Select>
      )}
      <State table={table} mayWrite={props.mayWrite} catchUp={props.catchUp} only={only} setOnly={setOnly} />
      <Heading as="h2" fontFamily="Carlito, sans-serif" fontSize="17pt" fontWeight="bold" mt="5" mb="2" pl="22px">
        {table.title}
      </Heading>
      <Lines table={table} only={only && table.differences.length > 0} scroller={props.scroller} goTo={props.goTo} />
      {isEmpty(table) && (
        <Text color="quiet" pl="22px">
          {tableWords(table.kind).why(table)}
        </Text>
      )}
      {props.mayWrite && (
        <Button size="sm" variant="ghost" color="quiet" mt="4" ml="12px" px="2" textDecoration="underline" onClick={props.remove}>
          Remove this table
        </Button>
      )}
    </Box>
  );
});

function NoTable({ mayWrite, place }: Props) {
  return (
    <Stack px="5" py="8" gap="4">
      <Heading as="h2" fontFamily="heading" fontSize="22px">
        No table yet
      </Heading>
      <Text color="quiet">
        A contents table lists the headings of the text with their pages. It is put in where the cursor stands.
      </Text>
      {mayWrite ? (
        <>
          <Button bg="iris" color="leaf" onClick={() => place(true)}>
            Contents on a page of its own
          </Button>
          <Button variant="outline" bg="raised" borderColor="quiet" onClick={() => place(false)}>
            Contents at the cursor
          </Button>
        </>
      ) : (
        <Text>The people who write this report can put one in.</Text>
      )}
    </Stack>
  );
}

function State({ table, mayWrite, catchUp, only, setOnly }: StateProps) {
  const [busy, setBusy] = useState<Scope | null>(null);
  const behind = table.differences.length;
  const pagesOnly = table.differences.filter((one) => one.kinds.includes("page")).length;
  const run = async (scope: Scope) => {
    setBusy(scope);
    await catchUp(scope);
    setBusy(null);
  };
  return (
    <Box
      bg={behind ? "behindWash" : "raised"}
      borderWidth="1px"
      borderColor={behind ? "behind" : "edge"}
      rounded="md"
      p="3"
      data-testid="table-state"
    >
      <Text fontWeight="600" fontSize="17px" color={behind ? "behindInk" : isEmpty(table) ? "quiet" : "level"} role="status">
        {isEmpty(table) ? NOTHING_TO_LIST : `${behind ? "◇" : "◆"} ${howFarBehind(behind)}`}
      </Text>
      <Text fontSize="13px" color="quiet">
        {table.issuedAt
          ? `Last caught up ${when(table.issuedAt)}${table.issuedBy ? ` by ${table.issuedBy}` : ""}`
          : "Not caught up yet"}
      </Text>
      {behind > 0 && (
        <Text fontSize="14px" mt="1">
          {kindsOf(table)}
        </Text>
      )}
      {behind > 0 && (
        <chakra.label display="flex" gap="2" mt="2" fontSize="14px" cursor="pointer" alignItems="center" minH="24px">
          <input
            type="checkbox"
            checked={only}
            onChange={(event) => setOnly(event.target.checked)}
            style={{ accentColor: "var(--chakra-colors-iris)" }}
          />
          Show only the lines that differ
        </chakra.label>
      )}
      {mayWrite && (
        <Stack gap="2" mt="3">
          <Button
            size="sm"
            bg={behind ? "iris" : undefined}
            color={behind ? "leaf" : undefined}
            variant={behind ? "solid" : "outline"}
            borderColor="quiet"
            disabled={behind === 0}
            loading={busy === "everything"}
            onClick={() => void run("everything")}
          >
            Catch up everything
          </Button>
          <Button
            size="sm"
            variant="outline"
            bg="raised"
            borderColor="quiet"
            disabled={pagesOnly === 0}
            loading={busy === "pages"}
            title={pagesOnly ? `${counted(pagesOnly, "page number")} would change` : "All page numbers are right"}
            onClick={() => void run("pages")}
          >
            Catch up page numbers
          </Button>
        </Stack>
      )}
    </Box>
  );
}

interface StateProps extends Pick<Props, "mayWrite" | "catchUp"> {
  table: Table;
  only: boolean;
  setOnly: (only: boolean) => void;
}

/** "2 new, 1 gone, 7 page": how many lines differ in each way. */
function kindsOf(table: Table): string {
  const counts = new Map<Kind, number>();
  for (const { kinds } of table.differences) for (const kind of kinds) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return [...counts].map(([kind, count]) => `${count}\u00a0${kind}`).join(" · ");
}

interface LinesProps {
  table: Table;
  /** Leave out the lines that are level with the text. */
  only: boolean;
  scroller: HTMLElement | null;
  goTo: (id: string) => void;
}

const Lines = memo(function Lines({ table, only, scroller, goTo }: LinesProps) {
  const rows = useMemo(() => rowsOf(table).filter((row) => !only || row.difference), [table, only]);
  return (
    <LongList
      count={rows.length}
      scroller={scroller}
      estimate={24}
      label={`Lines of ${table.title || "the table"}`}
      keyOf={(index) => rows[index]?.line.source ?? String(index)}
      row={(index, tabbable) => {
        const row = rows[index];
        return row ? <Line line={row.line} difference={row.difference} table={table} tabbable={tabbable} goTo={goTo} /> : null;
      }}
    />
  );
});

/** A shape for each kind, so that no mark depends on colour. */
const SHAPES: Record<Kind, string> = { new: "+", gone: "×", moved: "↕", level: "⇥", renamed: "~", renumbered: "#", page: "→" };

interface LineProps {
  line: TableLine;
  difference: Difference | undefined;
  table: Table;
  tabbable: boolean;
  goTo: (id: string) => void;
}

const Line = memo(
  function Line({ line, difference, table, tabbable, goTo }: LineProps) {
    const kinds = difference?.kinds ?? [];
    const kind = kinds[0];
    const fresh = kinds.includes("page") ? difference?.fresh?.pages : undefined;
    const look = table.looks[line.level - 1];
    return (
      <div className={kind && kind !== "page" ? "table-line marked" : "table-line"} data-kinds={kinds.join(" ")}>
        <div className="mark" style={{ paddingTop: `${look?.before ?? 0}pt` }} aria-hidden>
          {kind ? SHAPES[kind] : ""}
        </div>
        <div className="rest">
          <PrintedLine line={line} table={table} fresh={fresh} faded={kind === "gone"} tabbable={tabbable} goTo={goTo} />
          {difference && kind !== "page" && <Why difference={difference} indent={look?.indent ?? 0} />}
        </div>
      </div>
    );
  },
  (before, now) =>
    same(before.line, now.line) &&
    same(before.difference, now.difference) &&
    before.table.leader === now.table.leader &&
    before.table.font === now.table.font &&
    before.table.lineSpacing === now.table.lineSpacing &&
    same(before.table.looks, now.table.looks) &&
    before.tabbable === now.tabbable,
);

const same = (one: unknown, other: unknown) => one === other || JSON.stringify(one) === JSON.stringify(other);

/** What happened to the heading, in a few words under its line. */
function Why({ difference, indent }: { difference: Difference; indent: number }) {
  const { kinds, fresh, issued, cause } = difference;
  const now: string[] = [];
  if (kinds.includes("renamed") && fresh) now.push(`now “${fresh.text}”`);
  if (kinds.includes("level") && fresh && issued) now.push(`level ${issued.level} → ${fresh.level}`);
  if (kinds.includes("renumbered") && fresh) now.push(fresh.number ? `now ${fresh.number}` : "no number now");
  const by = cause?.who ? `${cause.who}, ${when(cause.at)}` : "";
  return (
    <p className="why" style={{ paddingLeft: `${indent}pt` }}>
      <b>{kinds.join(", ")}</b>
      {now.length > 0 && `: ${now.join(", ")}`}
      {by && <span className="by">{` · ${by}`}</span>}
    </p>
  );
}
