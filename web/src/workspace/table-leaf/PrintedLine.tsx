/** One line of a table as it is printed: indent, number, words, leader, page. The whole line is the link. */
import { memo } from "react";
import type { TableLine } from "../view";

const INDENT = 14;

interface Props {
  line: TableLine;
  leader: string;
  /** The page number that is true now, where the line's own is behind. */
  freshPage?: string;
  faded?: boolean;
  /** Whether the Tab key leads to it. */
  tabbable?: boolean;
  goTo: (heading: string) => void;
}

export const PrintedLine = memo(Printed, (before, now) => {
  const [one, other] = [before.line, now.line];
  return (
    one.heading === other.heading &&
    one.level === other.level &&
    one.number === other.number &&
    one.text === other.text &&
    one.page === other.page &&
    before.leader === now.leader &&
    before.freshPage === now.freshPage &&
    before.faded === now.faded &&
    before.tabbable === now.tabbable &&
    before.goTo === now.goTo
  );
});

function Printed({ line, leader, freshPage, faded = false, tabbable = true, goTo }: Props) {
  return (
    <button
      type="button"
      className={faded ? "printed faded" : "printed"}
      data-level={line.level}
      tabIndex={tabbable ? 0 : -1}
      style={{ paddingLeft: `${(line.level - 1) * INDENT}pt` }}
      onClick={() => goTo(line.heading)}
    >
      <span className="words">
        {line.number && <>{line.number}&ensp;</>}
        {line.text}
      </span>
      <span className={leader === "." ? "leader dots" : "leader"} aria-hidden>
        {leader === "." ? "" : leader.repeat(80)}
      </span>
      <span className="page">
        {freshPage === undefined ? (
          line.page
        ) : (
          <>
            <s aria-label={`was page ${line.page}`}>{line.page}</s>
            <b aria-label={`now page ${freshPage}`}>{freshPage}</b>
          </>
        )}
      </span>
    </button>
  );
}
