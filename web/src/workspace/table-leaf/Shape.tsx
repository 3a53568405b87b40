/** A table changed by pressing what it shows: each part of a line is a button, and its settings open at the foot of the leaf. */
import { Box, Flex } from "@chakra-ui/react";
import { LINES, RANGES } from "../../api/settings";
import { memo, useCallback, useEffect, useMemo, useRef, useState, type PointerEvent } from "react";
import { LongList } from "../../theme/LongList";
import { Press } from "../controls/parts";
import { tableWords } from "../printed/kinds";
import type { Tables } from "../tables/useTables";
import type { Measures, OwnWords, Table, TableLine } from "../view";
import { lineStyle, partsOf } from "../printed/PrintedLine";
import type { Setting } from "../tables/recipe";

/** What is at hand: the whole table, or a part of what it shows. */
export type Part =
  | { part: "table" | "title" | "leader" | "pages" | "numbers" }
  | { part: "level"; level: number; /** The line whose words were pressed. */ source?: string };

export const samePart = (one: Part, other: Part) => one.part === other.part && (one.part !== "level" || other.part !== "level" || one.level === other.level);

interface Props {
  table: Table;
  tables: Tables;
  scroller: HTMLElement | null;
  part: Part;
  choose: (part: Part) => void;
}

export const ShapedLines = memo(function ShapedLines({ table, tables, scroller, part, choose }: Props) {
  const own = useMemo(() => new Map(table.own.map((one) => [one.source, one])), [table.own]);
  const at = part.part === "level" ? part.source : undefined;
  const current = at === undefined ? -1 : table.lines.findIndex((line) => line.source === at);
  return (
    <LongList
      count={table.lines.length}
      scroller={scroller}
      estimate={24}
      label={`Lines of ${table.recipe.title || "the table"}, to be changed`}
      keyOf={(index) => table.lines[index]?.source ?? String(index)}
      current={current}
      row={(index, tabbable) => {
        const line = table.lines[index];
        return line ? (
          <ShapedLine line={line} table={table} tables={tables} own={own.get(line.source)} tabbable={tabbable} part={part} choose={choose} />
        ) : null;
      }}
    />
  );
});

interface LineProps extends Omit<Props, "scroller"> {
  line: TableLine;
  own: OwnWords | undefined;
  tabbable: boolean;
}

function ShapedLine({ line, table, tables, own, tabbable, part, choose }: LineProps) {
  const { recipe, set } = table;
  const parts = partsOf({ line, recipe, set });
  const { level } = line;
  const ofLevel = part.part === "level" && part.level === level;
  const editing = part.part === "level" && part.source === line.source;
  const common = { type: "button" as const, tabIndex: tabbable ? 0 : -1 };
  const number = parts.number && (
    <button
      {...common}
      className={part.part === "numbers" ? "part chosen" : "part"}
      aria-label={`Heading number ${line.number}`}
      onClick={() => choose({ part: "numbers" })}
    >
      {parts.number}
    </button>
  );
  const page = parts.page && (
    <button
      {...common}
      className={part.part === "pages" ? "part page chosen" : "part page"}
      aria-label={`Page number ${line.pages.join(", ")}`}
      style={parts.pageStyle && { minWidth: `max(24px, ${parts.pageStyle.minWidth})` }}
      onClick={() => choose({ part: "pages" })}
    >
      {parts.page}
    </button>
  );
  return (
    <div className="table-line">
      <div className="rest">
        <div className="printed shaped" style={parts.look && lineStyle(parts.look, recipe, set, level)}>
          {editing && <Indent level={level} indent={set.indents[level - 1] ?? 0} most={mostIndent(set, level)} tables={tables} />}
          <span className={["words", parts.linked && "linked", editing && "editing"].filter(Boolean).join(" ")} style={editing ? undefined : parts.wordsStyle}>
            {parts.hung ? (
              <span className="number" style={parts.numberStyle}>
                {number}
              </span>
            ) : (
              number && <>{number}&ensp;</>
            )}
            {editing ? (
              <WordsField key={line.source} line={line} tables={tables} done={() => choose({ part: "level", level })} />
            ) : (
              // A span, since the words in a button would not break where those of a line do.
              <span
                role="button"
                tabIndex={common.tabIndex}
                className={ofLevel ? "part chosen" : "part"}
                title={own ? `In own words; the heading reads “${own.now ?? own.then}”` : undefined}
                onClick={() => choose({ part: "level", level, source: line.source })}
                onKeyDown={(event) => {
                  if (event.key !== "Enter" && event.key !== " ") return;
                  event.preventDefault();
                  choose({ part: "level", level, source: line.source });
                }}
              >
                {parts.words}
              </span>
            )}
            {!parts.atEdge && page && <>{recipe.separator}{page}</>}
          </span>
          {parts.atEdge && (
            <>
              <button
                {...common}
                className={`part leader ${parts.leader === "_" ? "line" : ""} ${part.part === "leader" ? "chosen" : ""}`}
                aria-label="Leader"
                style={parts.leaderStyle}
                onClick={() => choose({ part: "leader" })}
              >
                {parts.leader && parts.leaderText}
              </button>
              {page}
            </>
          )}
        </div>
      </div>
      <div className="mark" aria-hidden title={own ? "In own words" : undefined}>
        {own ? "“" : ""}
      </div>
    </div>
  );
}

interface FieldProps {
  line: TableLine;
  tables: Tables;
  done: () => void;
}

/** The words of a line where they stand, to be written otherwise. They are kept on Enter, or when the field is left. */
function WordsField({ line, tables, done }: FieldProps) {
  const [words, setWords] = useState(line.text);
  const field = useRef<HTMLTextAreaElement>(null);
  /** What is to be kept; null if nothing is. */
  const written = useRef<string | null>(null);
  const keeping = useRef(tables.setWords);
  useEffect(() => {
    keeping.current = tables.setWords;
  }, [tables.setWords]);
  const { source } = line;
  const store = useCallback(() => {
    const wanted = written.current;
    written.current = null;
    if (wanted !== null) void keeping.current(source, wanted);
  }, [source]);
  useEffect(() => {
    field.current?.focus();
    return store; // also where the line goes out of sight, or out of the table
  }, [store]);
  return (
    <textarea
      ref={field}
      className="own-words"
      aria-label={`Words of the line “${line.text}”`}
      rows={1}
      maxLength={1000}
      value={words}
      onChange={(event) => {
        const now = event.target.value.replace(/\n/g, " ");
        setWords(now);
        written.current = now.trim() && now.trim() !== line.text ? now : null;
      }}
      onBlur={store}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") {
          event.preventDefault();
          store();
          done();
        } else if (event.key === "Escape") {
          written.current = null;
          done();
        }
      }}
    />
  );
}

const LEAST = RANGES.level_look.indent.least;
/** CSS pixels in a point. */
const PIXELS = 96 / 72;

/** How far a level can be indented so that there is room for its words. */
const mostIndent = ({ column, pages, number_widths }: Measures, level: number): number =>
  Math.floor(Math.min(Math.max(column - pages - LINES.least_words - (number_widths[level - 1] ?? 0), LEAST), LINES.most_indent));

interface IndentProps {
  level: number;
  indent: number;
  most: number;
  tables: Tables;
}

/** The edge of a level, dragged to indent it; the arrow keys move it by a point, or by six with Shift. */
function Indent({ level, indent, most, tables }: IndentProps) {
  const from = useRef<{ x: number; indent: number } | null>(null);
  const [at, setAt] = useState<number | null>(null);
  const settings = (points: number): Setting[] => [[["looks", String(level), "indent"], points]];
  const wanted = (event: PointerEvent) => {
    if (!from.current) return indent;
    const moved = (event.clientX - from.current.x) / PIXELS;
    return Math.min(Math.max(Math.round(from.current.indent + moved), LEAST), most);
  };
  const leave = () => {
    from.current = null;
    setAt(null);
    tables.attempt(null);
  };
  const shown = at ?? indent;
  return (
    <Box
      role="slider"
      tabIndex={0}
      className="indent-edge"
      aria-label={`Indent of level ${level}`}
      aria-valuemin={LEAST}
      aria-valuemax={most}
      aria-valuenow={Math.round(shown)}
      aria-valuetext={`${Math.round(shown)} points`}
      title={`Drag to indent level ${level}`}
      onPointerDown={(event) => {
        event.preventDefault();
        event.currentTarget.focus();
        event.currentTarget.setPointerCapture(event.pointerId);
        from.current = { x: event.clientX, indent };
        setAt(indent);
      }}
      onPointerMove={(event) => {
        if (!from.current) return;
        const points = wanted(event);
        if (points === at) return;
        setAt(points);
        tables.attempt(settings(points));
      }}
      onPointerUp={(event) => {
        if (!from.current) return;
        const points = wanted(event);
        from.current = null;
        setAt(null);
        void tables.change(settings(points));
      }}
      onPointerCancel={leave}
      onKeyDown={(event) => {
        if (event.key === "Escape") leave();
        const by = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
        if (!by) return;
        event.preventDefault();
        event.stopPropagation();
        void tables.change(settings(Math.min(Math.max(Math.round(indent) + by * (event.shiftKey ? 6 : 1), LEAST), most)));
      }}
    >
      {at !== null && <span className="figure-at">{at} pt</span>}
    </Box>
  );
}

/** The parts of a table by name, for those who do not press them where they stand. */
export function PartNames({ table, part, choose }: { table: Table; part: Part; choose: (part: Part) => void }) {
  const { recipe } = table;
  const named = tableWords(recipe.kind).levels;
  const names: [string, Part][] = [
    ["Table", { part: "table" }],
    ["Title", { part: "title" }],
    ...recipe.levels.map((level): [string, Part] => [named ? (named[level - 1] ?? "").replace(/^./, (letter) => letter.toUpperCase()) : `Level ${level}`, { part: "level", level }]),
    ...(named ? [] : [["Heading numbers", { part: "numbers" }] as [string, Part]]),
    ["Leader", { part: "leader" }],
    ["Page numbers", { part: "pages" }],
  ];
  return (
    <Flex role="group" aria-label="What is changed" wrap="wrap" gap="1" mb="1">
      {names.map(([name, one]) => (
        <Press
          key={name}
          type="button"
          aria-pressed={samePart(part, one)}
          px="1.5"
          minH="24px"
          _pressed={{ bg: "iris", color: "leaf", borderColor: "iris" }}
          onClick={() => choose(one)}
        >
          {name}
        </Press>
      ))}
    </Flex>
  );
}
