/** The lines of a table with what is behind in their margin. */
import { Flex } from "@chakra-ui/react";
import { memo, useMemo } from "react";
import { LongList } from "../../theme/LongList";
import { when } from "../../words";
import { Press } from "../controls/parts";
import type { Tables } from "../tables/useTables";
import { asks, type Difference, type Kind, type OwnWords, type Table, type TableLine } from "../view";
import { PrintedLine, sameSetting, type Setting } from "../printed/PrintedLine";
import { rowsOf } from "./rows";

interface LinesProps {
  table: Table;
  /** Leave out the lines that are level with the text. */
  only: boolean;
  scroller: HTMLElement | null;
  goTo: (id: string) => void;
  chosen: ReadonlySet<string>;
  /** Chooses a line to be caught up, or no longer; null where nobody may. */
  choose: ((source: string) => void) | null;
  /** Null for whoever may only read. */
  tables: Pick<Tables, "setWords" | "useHeadingWords"> | null;
}

export const Lines = memo(function Lines({ table, only, scroller, goTo, chosen, choose, tables }: LinesProps) {
  const rows = useMemo(() => rowsOf(table).filter((row) => !only || row.difference || (row.own && asks(row.own))), [table, only]);
  return (
    <LongList
      count={rows.length}
      scroller={scroller}
      estimate={24}
      label={`Lines of ${table.recipe.title || "the table"}`}
      keyOf={(index) => rows[index]?.line.source ?? String(index)}
      row={(index, tabbable) => {
        const row = rows[index];
        return row ? (
          <Line
            {...row}
            recipe={table.recipe}
            set={table.set}
            tabbable={tabbable}
            goTo={goTo}
            chosen={chosen.has(row.line.source)}
            choose={choose}
            tables={tables}
          />
        ) : null;
      }}
    />
  );
});

/** A shape for each kind, so that no mark depends on colour. */
const SHAPES: Record<Kind, string> = { new: "+", gone: "×", moved: "↕", level: "⇥", renamed: "~", formatting: "I", renumbered: "#", page: "→" };

interface LineProps extends Setting {
  line: TableLine;
  difference: Difference | undefined;
  /** Why it is renumbered, and others behind it. */
  follows: string | undefined;
  /** Whether it is renumbered merely since something else has changed. */
  following: boolean;
  tabbable: boolean;
  goTo: (id: string) => void;
  own: OwnWords | undefined;
  chosen: boolean;
  choose: ((source: string) => void) | null;
  tables: LinesProps["tables"];
}

const Line = memo(
  function Line({ line, difference, follows, following, own, recipe, set, tabbable, goTo, chosen, choose, tables }: LineProps) {
    const kinds = difference?.kinds ?? [];
    const kind = kinds[0];
    // What merely follows, and other pages, are seen in the line itself.
    const shown = kinds.filter((one) => one !== "page" && !(one === "renumbered" && following));
    const asking = own && asks(own) ? own : undefined;
    const before = `${recipe.looks[line.level - 1]?.space_before ?? 0}pt`;
    return (
      <div className={shown.length > 0 || asking ? "table-line marked" : "table-line"} data-kinds={kinds.join(" ")} data-source={line.source}>
        <div className="rest">
          <PrintedLine line={line} recipe={recipe} set={set} difference={difference} faded={kind === "gone"} tabbable={tabbable} goTo={goTo} />
          {difference && shown.length > 0 && <Why difference={difference} shown={shown} indent={set.indents[line.level - 1] ?? 0} />}
          {follows && (
            <p className="why" style={{ paddingLeft: `${set.indents[line.level - 1] ?? 0}pt` }}>
              {follows}
            </p>
          )}
          {asking && <Asks own={asking} indent={set.indents[line.level - 1] ?? 0} tables={tables} />}
        </div>
        {kind && choose ? (
          <button
            type="button"
            role="checkbox"
            aria-checked={chosen}
            aria-label={`Choose ${line.text}: ${kinds.join(", ")}`}
            title="Choose this line to be caught up"
            className="mark"
            style={{ marginTop: before }}
            tabIndex={tabbable ? 0 : -1}
            onClick={() => choose(line.source)}
          >
            {SHAPES[kind]}
          </button>
        ) : (
          <div className="mark" style={{ marginTop: before }} title={own ? "In own words" : undefined}>
            {kind ? <span aria-hidden>{SHAPES[kind]}</span> : own && <span aria-label="In own words">“</span>}
          </div>
        )}
      </div>
    );
  },
  (before, now) =>
    same(before.line, now.line) &&
    same(before.difference, now.difference) &&
    same(before.own, now.own) &&
    before.tables === now.tables &&
    before.follows === now.follows &&
    before.following === now.following &&
    sameSetting(before, now, now.line.level) &&
    before.tabbable === now.tabbable &&
    before.chosen === now.chosen &&
    before.choose === now.choose &&
    before.goTo === now.goTo,
);

const same = (one: unknown, other: unknown) => one === other || JSON.stringify(one) === JSON.stringify(other);

/** Own words whose heading has changed: both wordings, to choose from. */
function Asks({ own, indent, tables }: { own: OwnWords; indent: number; tables: LineProps["tables"] }) {
  return (
    <section className="why" style={{ paddingLeft: `${indent}pt` }} aria-label={`Own words “${own.words}”`}>
      <p>
        <b>in own words</b>: its heading was “{own.then}” and now reads “{own.now}”.
      </p>
      {tables && (
        <Flex gap="1" wrap="wrap" my="1">
          <Press type="button" onClick={() => void tables.setWords(own.source, own.words)}>
            Keep “{own.words}”
          </Press>
          <Press type="button" onClick={() => void tables.useHeadingWords(own.source)}>
            Use “{own.now}”
          </Press>
        </Flex>
      )}
    </section>
  );
}

/** What happened to the heading, in a few words under its line. */
function Why({ difference, shown, indent }: { difference: Difference; shown: Kind[]; indent: number }) {
  const { fresh, issued, cause } = difference;
  const now: string[] = [];
  if (shown.includes("renamed") && fresh) now.push(`now “${fresh.text}”`);
  if (shown.includes("level") && fresh && issued) now.push(`level ${issued.level} → ${fresh.level}`);
  const by = cause?.who ? `${cause.who}, ${when(cause.at)}` : "";
  return (
    <p className="why" style={{ paddingLeft: `${indent}pt` }}>
      <b>{shown.join(", ")}</b>
      {now.length > 0 && `: ${now.join(", ")}`}
      {by && <span className="by">{` · ${by}`}</span>}
    </p>
  );
}
