/** One line of a table as it is printed: number, words, leader, page. The whole line is the link. */
import { Fragment, memo, type AnchorHTMLAttributes, type CSSProperties, type ReactNode } from "react";
import { LINES } from "../../api/settings";
import { familyOf } from "../controls/fonts";
import { leadsTo, type Difference, type LevelLook, type Measures, type Recipe, type Table, type TableLine } from "../view";

/** How a table's lines are set. */
export type Setting = Pick<Table, "recipe" | "set">;

interface Props extends Setting {
  line: TableLine;
  /** What is true now, where the line is behind. */
  difference?: Difference;
  faded?: boolean;
  /** Whether the Tab key leads to it. */
  tabbable?: boolean;
  /** Null for a line that leads nowhere. */
  goTo: ((source: string) => void) | null;
}

const same = (one: unknown, other: unknown) => one === other || JSON.stringify(one) === JSON.stringify(other);

export const PrintedLine = memo(Printed, (before, now) => {
  const level = now.line.level;
  return (
    same(before.line, now.line) &&
    same(before.difference, now.difference) &&
    sameSetting(before, now, level) &&
    before.faded === now.faded &&
    before.tabbable === now.tabbable &&
    before.goTo === now.goTo
  );
});

/** Whether lines of a level are set alike in both. */
export function sameSetting(one: Setting, other: Setting, level: number): boolean {
  if (one.recipe === other.recipe && one.set === other.set) return true;
  const parts = ({ recipe, set }: Setting) => [
    { ...recipe, looks: recipe.looks[level - 1], title: "" },
    [set.column, set.pages, set.number_widths[level - 1], set.indents[level - 1], set.hangs[level - 1], set.figures[level - 1], set.leaders[level - 1]],
  ];
  return same(parts(one), parts(other));
}

const pt = (points: number) => `${points}pt`;

/** How a line of a level is set, in points as on the page. */
export function lineStyle(look: LevelLook, recipe: Recipe, set: Measures, level: number): CSSProperties {
  return {
    // Where there is less room than on the page, all of it must not go into indents.
    paddingLeft: `min(${pt(recipe.numbers === "margin" ? 0 : (set.indents[level - 1] ?? 0))}, var(--most-indent, 100%))`,
    paddingTop: pt(look.space_before),
    paddingBottom: pt(look.space_after),
    fontFamily: familyOf(look.font),
    fontSize: pt(look.size),
    fontWeight: look.bold ? "bold" : "normal",
    fontStyle: look.italic ? "italic" : "normal",
    lineHeight: look.line_spacing,
    color: look.colour === "#000000" ? undefined : `color-mix(in oklab, ${look.colour}, var(--specimen-mix, black 0%))`,
    textTransform: look.capitals ? "uppercase" : undefined,
    borderBottom: recipe.ruled === "lines" || (recipe.ruled === "sections" && level === recipe.levels[0]) ? "0.5pt solid var(--chakra-colors-quiet)" : undefined,
  };
}

/** The words of a line, with what is emphasised in them the other way round than the level's look. */
function words({ text, emphasis }: TableLine, look: LevelLook): ReactNode {
  if (emphasis.length === 0) return text;
  const characters = [...text];
  const found: ReactNode[] = [];
  let at = 0;
  for (const { start, end, how } of emphasis) {
    found.push(characters.slice(at, start).join(""));
    const style: CSSProperties = {
      fontStyle: how.includes("i") ? (look.italic ? "normal" : "italic") : undefined,
      fontWeight: how.includes("b") ? (look.bold ? "normal" : "bold") : undefined,
      textDecoration: how.includes("u") ? "underline" : undefined,
    };
    found.push(
      <span key={start} style={style}>
        {characters.slice(start, end).join("")}
      </span>,
    );
    at = end;
  }
  found.push(characters.slice(at).join(""));
  return found;
}

/** What was issued struck out, and what is true now. */
const Now = ({ was, now, what }: { was: string; now: string; what: string }) => (
  <>
    <s aria-label={`was ${what} ${was}`}>{was}</s>
    <b aria-label={`now ${what} ${now}`}>{now}</b>
  </>
);

/** The parts of a line, as they stand from left to right. */
export function partsOf({ line, recipe, set, difference }: Pick<Props, "line" | "difference"> & Setting) {
  const look = recipe.looks[line.level - 1];
  const { level } = line;
  const kinds = difference?.kinds ?? [];
  const fresh = difference?.issued ? difference.fresh : null;
  const pages = line.pages.join(LINES.page_separator);
  const hung = recipe.numbers === "hung" || recipe.numbers === "margin";
  const room = (set.number_widths[level - 1] ?? 0) + (recipe.numbers === "margin" ? (set.indents[level - 1] ?? 0) : 0);
  /** How much further than its first row a line goes on. */
  const further = (hung ? room : 0) + (set.hangs[level - 1] ?? 0);
  const renumbered = kinds.includes("renumbered") && fresh && fresh.number !== line.number;
  const number =
    recipe.numbers === "none" ? null : renumbered ? <Now was={line.number || "none"} now={fresh.number || "none"} what="number" /> : line.number;
  const page = kinds.includes("page") && fresh ? <Now was={pages} now={fresh.pages.join(LINES.page_separator)} what="page" /> : pages;
  const step = recipe.leader_step;
  const free = Math.ceil((pages.length * (set.figures[level - 1] ?? 5) + LINES.page_gap) / step) * step;
  return {
    look,
    number,
    numberStyle: hung ? { width: pt(room) } : undefined,
    hung,
    words: look ? words(line, look) : line.text,
    wordsStyle: further > 0 ? { paddingLeft: pt(further), textIndent: pt(-further) } : undefined,
    linked: recipe.links && recipe.look_like_links,
    page: recipe.page_numbers === "none" || (line.pages.length === 0 && !difference) || look?.page_number === false ? null : page,
    pageStyle: recipe.page_numbers === "edge" ? { minWidth: pt(free) } : undefined,
    leader: recipe.page_numbers === "edge" && line.pages.length > 0 && look?.page_number !== false ? recipe.leader : "",
    leaderStyle: { letterSpacing: pt(step - (set.leaders[level - 1] ?? 0)) },
    leaderText: recipe.leader === "_" ? "" : recipe.leader.repeat(Math.ceil(set.column / step)),
    atEdge: recipe.page_numbers === "edge",
  };
}

interface LedProps {
  className: string;
  style: CSSProperties | undefined;
  line: TableLine;
  parts: ReturnType<typeof partsOf>;
  recipe: Recipe;
  tabbable: boolean;
  goTo: (source: string) => void;
}

interface LeadProps extends Omit<AnchorHTMLAttributes<HTMLAnchorElement>, "href" | "onClick"> {
  to: string;
  goTo: (id: string) => void;
}

/** Words within a line that lead somewhere. */
const Lead = ({ to, goTo, children, ...given }: LeadProps) => (
  <a
    {...given}
    href={`#${to}`}
    draggable={false}
    onClick={(event) => {
      event.preventDefault();
      // Whoever has selected some of its words wants them, and stays.
      const selection = getSelection();
      if (selection?.isCollapsed === false && selection.containsNode(event.currentTarget, true)) return;
      goTo(to);
    }}
  >
    {children}
  </a>
);

/** The page numbers of a line, each leading to its own place; or what is said instead of them. */
const Pages = ({ line, page, tab, goTo }: { line: TableLine; page: ReactNode; tab: number; goTo: (id: string) => void }) =>
  typeof page !== "string"
    ? page
    : line.pages.map((page, at) => {
        const { to, main } = line.leads[at] ?? { to: leadsTo(line), main: false };
        return (
          <Fragment key={at}>
            {at > 0 && LINES.page_separator}
            <Lead to={to} className="lead" tabIndex={tab} aria-label={`${page}, ${line.text}`} style={main ? { fontWeight: "bold" } : undefined} goTo={goTo}>
              {page}
            </Lead>
          </Fragment>
        );
      });

/** A line whose page numbers lead to different places: each of them is a link, and the words are one to the first. */
function Led({ className, style, line, parts, recipe, tabbable, goTo }: LedProps) {
  const tab = tabbable ? 0 : -1;
  const pages = <Pages line={line} page={parts.page} tab={tab} goTo={goTo} />;
  return (
    <div className={`${className} led`} style={style}>
      <span className="words" style={parts.wordsStyle}>
        <Lead to={leadsTo(line)} className={parts.linked ? "lead linked" : "lead"} tabIndex={tab} goTo={goTo}>
          {parts.words}
        </Lead>
        {!parts.atEdge && parts.page !== null && (
          <span className="beside">
            {recipe.separator}
            {pages}
          </span>
        )}
      </span>
      {parts.atEdge && (
        <>
          <span className={parts.leader === "_" ? "leader line" : "leader"} style={parts.leaderStyle} aria-hidden>
            {parts.leader && parts.leaderText}
          </span>
          <span className="page several" style={parts.pageStyle}>
            {parts.page !== null && pages}
          </span>
        </>
      )}
    </div>
  );
}

/** The lines that stand in one paragraph, each with those that are run in behind it. */
export function runTogether(lines: readonly TableLine[], recipe: Recipe): TableLine[][] {
  const found: TableLine[][] = [];
  for (const line of lines) {
    const last = found.at(-1);
    if (last && recipe.run_in && recipe.page_numbers !== "edge" && line.level >= LINES.run_in_from) last.push(line);
    else found.push([line]);
  }
  return found;
}

/** Lines that stand in one paragraph. */
export function RunIn({ lines, recipe, set, goTo }: Setting & { lines: readonly TableLine[]; goTo: ((source: string) => void) | null }) {
  const [first] = lines;
  if (!first || lines.length === 1) return first ? <PrintedLine line={first} recipe={recipe} set={set} goTo={goTo} /> : null;
  const own = partsOf({ line: first, recipe, set });
  return (
    <div className="printed led" style={own.look && lineStyle(own.look, recipe, set, first.level)}>
      <span className="words" style={own.wordsStyle}>
        {lines.map((line, at) => {
          const parts = partsOf({ line, recipe, set });
          const leads = goTo && line.leads.length > 0;
          return (
            <Fragment key={line.source}>
              {at > 0 && (at === 1 && first.pages.length === 0 ? ": " : "; ")}
              {leads ? (
                <Lead to={leadsTo(line)} className={parts.linked ? "lead linked" : "lead"} goTo={goTo}>
                  {parts.words}
                </Lead>
              ) : (
                parts.words
              )}
              {parts.page !== null && recipe.separator}
              {leads ? <Pages line={line} page={parts.page} tab={0} goTo={goTo} /> : parts.page}
            </Fragment>
          );
        })}
      </span>
    </div>
  );
}

function Printed({ line, recipe, set, difference, faded = false, tabbable = true, goTo }: Props) {
  const parts = partsOf({ line, recipe, set, difference });
  const common = { className: faded ? "printed faded" : "printed", style: parts.look && lineStyle(parts.look, recipe, set, line.level) };
  const content = (
    <>
      <span className={parts.linked ? "words linked" : "words"} style={parts.wordsStyle}>
        {parts.hung ? (
          <span className="number" style={parts.numberStyle}>
            {parts.number}
          </span>
        ) : (
          parts.number && <>{parts.number}&ensp;</>
        )}
        {parts.words}
        {!parts.atEdge && parts.page && <span className="beside">{recipe.separator}{parts.page}</span>}
      </span>
      {parts.atEdge && (
        <>
          <span className={parts.leader === "_" ? "leader line" : "leader"} style={parts.leaderStyle} aria-hidden>
            {parts.leader && parts.leaderText}
          </span>
          <span className="page" style={parts.pageStyle}>
            {parts.page}
          </span>
        </>
      )}
    </>
  );
  if (goTo && line.leads.length > 1) return <Led {...common} line={line} parts={parts} recipe={recipe} tabbable={tabbable} goTo={goTo} />;
  if (!goTo || line.pages.length === 0) return <div {...common}>{content}</div>;
  return (
    <Lead to={leadsTo(line)} {...common} tabIndex={tabbable ? 0 : -1} goTo={goTo}>
      {content}
    </Lead>
  );
}
