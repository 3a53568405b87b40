/** One line of a table as it is printed: indent, number, words, leader, page. The whole line is the link. */
import { memo } from "react";
import type { Look, Table, TableLine } from "../view";

interface Props {
  line: TableLine;
  table: Pick<Table, "leader" | "font" | "lineSpacing" | "looks">;
  /** The page numbers that are true now, where the line's own are behind. */
  fresh?: readonly string[];
  faded?: boolean;
  /** Whether the Tab key leads to it. */
  tabbable?: boolean;
  goTo: (source: string) => void;
}

/** How a line of a level is set, in points as on the page. */
const styleOf = ({ indent, size, bold, before, after }: Look) => ({
  paddingLeft: `${indent}pt`,
  paddingTop: `${before}pt`,
  paddingBottom: `${after}pt`,
  fontSize: `${size}pt`,
  fontWeight: bold ? ("bold" as const) : ("normal" as const),
});

const same = (one?: Look, other?: Look) =>
  one?.indent === other?.indent && one?.size === other?.size && one?.bold === other?.bold && one?.before === other?.before && one?.after === other?.after;

export const PrintedLine = memo(Printed, (before, now) => {
  const [one, other] = [before.line, now.line];
  return (
    one.source === other.source &&
    one.level === other.level &&
    one.number === other.number &&
    one.text === other.text &&
    numbers(one.pages) === numbers(other.pages) &&
    before.table.leader === now.table.leader &&
    before.table.font === now.table.font &&
    before.table.lineSpacing === now.table.lineSpacing &&
    same(before.table.looks[one.level - 1], now.table.looks[other.level - 1]) &&
    numbers(before.fresh) === numbers(now.fresh) &&
    before.faded === now.faded &&
    before.tabbable === now.tabbable &&
    before.goTo === now.goTo
  );
});

const numbers = (pages: readonly string[] = []) => pages.join(", ");

function Printed({ line, table, fresh, faded = false, tabbable = true, goTo }: Props) {
  const { leader, font, lineSpacing } = table;
  const look = table.looks[line.level - 1];
  const page = numbers(line.pages);
  return (
    <button
      type="button"
      className={faded ? "printed faded" : "printed"}
      tabIndex={tabbable ? 0 : -1}
      style={{ ...(look && styleOf(look)), fontFamily: `"${font}", sans-serif`, lineHeight: lineSpacing }}
      onClick={() => goTo(line.source)}
    >
      <span className="words">
        {line.number && <>{line.number}&ensp;</>}
        {line.text}
      </span>
      <span className={leader === "." ? "leader dots" : "leader"} aria-hidden>
        {leader === "." ? "" : leader.repeat(80)}
      </span>
      <span className="page">
        {fresh === undefined ? (
          page
        ) : (
          <>
            <s aria-label={`was page ${page}`}>{page}</s>
            <b aria-label={`now page ${numbers(fresh)}`}>{numbers(fresh)}</b>
          </>
        )}
      </span>
    </button>
  );
}
