/** The ribs: one per heading, stitched where the table at hand is level with it, open where it is behind. They can be dragged. */
import { Box } from "@chakra-ui/react";
import { memo, useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent, type PointerEvent } from "react";
import { LongList } from "../../theme/LongList";
import { initials, shortened } from "../../words";
import type { PersonHere } from "../room/usePresence";
import type { Does, Sections } from "../text-leaf/sections";
import type { Styles } from "../text-leaf/styles";
import type { Heading, Standing } from "../view";
import type { New } from "./useNews";
import { useRibDrag, type Drop } from "./useRibDrag";

const STANDING = { level: "in the table", behind: "table is behind", unlisted: "not in the table" };

interface RibsProps {
  ribs: readonly Heading[];
  standing: (id: string) => Standing;
  hasTable: boolean;
  current: string | null;
  people: readonly PersonHere[];
  news: ReadonlyMap<string, New>;
  goTo: (id: string) => void;
  styles: Styles;
  mark: ((id: string, style: string) => void) | null;
  /** What moves sections; null for whoever may not write, and while not all ribs are shown. */
  sections: Sections | null;
  /** Told which are chosen, for the keys. */
  choose: (ids: readonly string[]) => void;
}

const NOBODY: PersonHere[] = [];
const NONE: readonly string[] = [];

export const Ribs = memo(function Ribs({ ribs, standing, hasTable, current, people, news, goTo, styles, mark, sections, choose }: RibsProps) {
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const list = useRef<HTMLElement | null>(null);
  const at = useMemo(() => Map.groupBy(people, (one) => one.heading), [people]);
  const { chosen, pick, letGo } = useChosen(ribs, goTo, choose, sections !== null);
  const { drop, grab } = useRibDrag(ribs, chosen, list, sections);
  const moving = new Set(drop?.ids);
  const ribAt = (index: number) => ribs[drop && index > drop.index ? index - 1 : index];
  return (
    <>
      {chosen.length > 0 && (
        <Box px="3" pb="1" fontSize="12px" color="rib" role="status">
          {chosen.length} chosen; drag them, or press Alt+S and an arrow.{" "}
          <button type="button" className="let-go" onClick={letGo}>
            Let them be
          </button>
        </Box>
      )}
      <Box
        ref={(element: HTMLElement | null) => {
          list.current = element;
          setScroller(element);
        }}
        flex="1"
        overflowY="auto"
        pb="8"
        css={{ scrollbarColor: "var(--chakra-colors-rib-quiet) transparent", scrollbarWidth: "thin" }}
      >
        <LongList
          count={ribs.length + (drop ? 1 : 0)}
          scroller={scroller}
          estimate={25}
          label="Headings"
          keyOf={(index) => (drop?.index === index ? "drop" : (ribAt(index)?.id ?? String(index)))}
          current={current === null || drop ? undefined : ribs.findIndex((heading) => heading.id === current)}
          row={(index, tabbable) => {
            if (drop?.index === index) return <DropRib drop={drop} moving={ribs.find(({ id }) => id === drop.ids[0])} />;
            const heading = ribAt(index);
            return heading ? (
              <>
                <Rib
                  heading={heading}
                  standing={standing(heading.id)}
                  hasTable={hasTable}
                  current={heading.id === current}
                  chosen={chosen.includes(heading.id)}
                  moving={moving.has(heading.id)}
                  people={at.get(heading.id) ?? NOBODY}
                  news={news.get(heading.id)?.what ?? ""}
                  seen={news.get(heading.id)?.seen ?? true}
                  begins={heading.by_hand !== "put in" && beginsPage(heading, styles)}
                  tabbable={tabbable}
                  pick={pick}
                  grab={grab}
                />
                {mark && heading.id === current && !drop && <RibTools heading={heading} styles={styles} mark={mark} sections={sections} />}
              </>
            ) : null;
          }}
        />
      </Box>
    </>
  );
});

interface Chosen {
  chosen: readonly string[];
  pick: (event: MouseEvent | KeyboardEvent, id: string) => void;
  letGo: () => void;
}

/** Which ribs are chosen, in the order of the text: with Ctrl one more or one less, with Shift all from the last one on. */
function useChosen(ribs: readonly Heading[], goTo: (id: string) => void, choose: RibsProps["choose"], can: boolean): Chosen {
  const [picked, setPicked] = useState(NONE);
  const [last, setLast] = useState<string | null>(null);
  const chosen = useMemo(() => (picked.length > 0 && can ? ribs.flatMap(({ id }) => (picked.includes(id) ? id : [])) : NONE), [ribs, picked, can]);
  const known = useRef({ ribs, last });
  useEffect(() => {
    known.current = { ribs, last };
  });
  useEffect(() => choose(chosen), [choose, chosen]);
  const pick = useCallback(
    (event: MouseEvent | KeyboardEvent, id: string) => {
      const { ribs, last } = known.current;
      setLast(id);
      if (event.shiftKey && last !== null) {
        const [from, to] = [ribs.findIndex((one) => one.id === last), ribs.findIndex((one) => one.id === id)];
        setPicked(ribs.slice(Math.min(from, to), Math.max(from, to) + 1).map((one) => one.id));
      } else if (event.ctrlKey || event.metaKey) setPicked((before) => (before.includes(id) ? before.filter((one) => one !== id) : [...before, id]));
      else {
        setPicked(NONE);
        goTo(id);
      }
    },
    [goTo],
  );
  return { chosen, pick, letGo: useCallback(() => setPicked(NONE), []) };
}

/** Where what is dragged would stand. */
const DropRib = ({ drop: { landing, level, refused, ids }, moving }: { drop: Drop; moving: Heading | undefined }) => (
  <div className="rib drop" data-level={landing?.level ?? level} aria-hidden>
    <span className="words" style={{ paddingLeft: `${((landing?.level ?? level) - 1) * 11 + 15}px` }}>
      {landing?.number && <span className="number">{landing.number} </span>}
      {refused || landing?.text || moving?.text}
      {ids.length > 1 && !refused && <span className="by-hand"> and {ids.length - 1} more</span>}
    </span>
    <span className="page">{landing?.page}</span>
  </div>
);

const BY_HAND = { "put in": "put into tables", "kept out": "kept out of tables" };

const DOES: readonly (readonly [does: Does | "duplicate" | "page", name: string])[] = [
  ["up", "Move up (Alt+S ↑)"],
  ["down", "Move down (Alt+S ↓)"],
  ["promote", "A level up with all under it (Alt+S ←)"],
  ["demote", "A level down with all under it (Alt+S →)"],
  ["page", "On a page of its own, or no longer"],
  ["duplicate", "Once more, behind itself (Alt+S Y)"],
  ["join", "Join with the section before (Alt+S J)"],
  ["remove", "Take out, with all under it (Alt+S Del)"],
];

/** The level of the heading at hand, chosen on its rib, and what can be done to its section. */
const RibTools = ({ heading, styles, mark, sections }: { heading: Heading; styles: Styles; mark: (id: string, style: string) => void; sections: Sections | null }) => (
  <select
    className="rib-level"
    // Keys have Alt+S for all of it; Tab leads on to the text.
    tabIndex={-1}
    aria-label={`Level of “${heading.text}”, and its section`}
    title="Its level, and its section"
    value=""
    onChange={({ target: { value } }) => {
      const does = DOES.find(([one]) => value === `does ${one}`)?.[0];
      if (!does) mark(heading.id, value);
      else if (does === "duplicate") void sections?.duplicate(heading.id);
      else if (does === "page") sections?.turnPage(heading.id, !beginsPage(heading, styles));
      else void sections?.rearrange([heading.id], does);
    }}
  >
    <option value="" disabled>
      {heading.by_hand === "put in" ? "¶" : `H${heading.level}`}
    </option>
    <optgroup label="Its level">
      {styles
        .filter((style) => style.outline_level || style.role === "body")
        .map((style) => (
          <option key={style.id} value={style.id}>
            {style.name}
          </option>
        ))}
    </optgroup>
    {sections && heading.by_hand !== "put in" && (
      <optgroup label="Its section">
        {DOES.map(([does, name]) => (
          <option key={does} value={`does ${does}`}>
            {name}
          </option>
        ))}
      </optgroup>
    )}
  </select>
);

/** Whether a heading begins a new page: by itself, or since its level does. */
const beginsPage = ({ level, own_page }: Heading, styles: Styles): boolean => own_page ?? styles.some((style) => style.outline_level === level && style.new_page);

interface RibProps {
  heading: Heading;
  standing: Standing;
  hasTable: boolean;
  current: boolean;
  people: PersonHere[];
  /** What others did to it since one was last here; and whether one has been there since. */
  news: string;
  seen: boolean;
  /** Whether it begins a new page. */
  begins: boolean;
  chosen: boolean;
  /** Whether it is being dragged. */
  moving: boolean;
  tabbable: boolean;
  pick: Chosen["pick"];
  grab: (event: PointerEvent, heading: Heading) => void;
}

const Rib = memo(
  function Rib({ heading, standing, hasTable, current, chosen, moving, people, news, seen, begins, tabbable, pick, grab }: RibProps) {
    return (
      <button
        type="button"
        className={["rib", hasTable && standing === "unlisted" && "no-line", chosen && "chosen", moving && "moving"].filter(Boolean).join(" ")}
        data-rib={heading.id}
        tabIndex={tabbable ? 0 : -1}
        data-level={heading.level}
        data-standing={standing}
        aria-current={current ? "location" : undefined}
        aria-pressed={chosen || undefined}
        title={[
          ...people.map((one) => `${one.name} is here`),
          ...(hasTable ? [STANDING[standing]] : []),
          ...(news && !seen ? [`${news} since you were last here`] : []),
        ].join(", ")}
        onClick={(event) => pick(event, heading.id)}
        onKeyDown={(event) => {
          if (event.key !== " " || !(event.ctrlKey || event.shiftKey)) return;
          event.preventDefault();
          pick(event, heading.id);
        }}
        onPointerDown={(event) => grab(event, heading)}
      >
        {hasTable && <Stitch standing={standing} />}
        <span className="words" style={{ paddingLeft: `${(heading.level - 1) * 11 + (hasTable ? 0 : 14)}px` }}>
          {heading.number && <span className="number">{heading.number} </span>}
          {heading.by_hand === "put in" ? shortened(heading.text, 60) : heading.text}{" "}
          {heading.by_hand && <span className="by-hand">{BY_HAND[heading.by_hand]}</span>}
        </span>
        {people.map((one) => (
          <span key={one.id} className="bead" title={`${one.name} is here`} style={{ background: one.colour }}>
            {initials(one.name)}
          </span>
        ))}
        {news && (
          <span className="news" data-seen={seen}>
            <span>{seen ? "" : `, ${news} since you were last here`}</span>
          </span>
        )}
        <span className="page">
          {begins && <span aria-label="on a new page">⤓</span>} {heading.label}
        </span>
      </button>
    );
  },
  (before, now) =>
    before.heading.text === now.heading.text &&
    before.heading.number === now.heading.number &&
    before.heading.label === now.heading.label &&
    before.heading.level === now.heading.level &&
    before.heading.id === now.heading.id &&
    before.heading.by_hand === now.heading.by_hand &&
    before.standing === now.standing &&
    before.hasTable === now.hasTable &&
    before.current === now.current &&
    before.chosen === now.chosen &&
    before.moving === now.moving &&
    before.news === now.news &&
    before.seen === now.seen &&
    before.begins === now.begins &&
    before.tabbable === now.tabbable &&
    before.pick === now.pick &&
    before.grab === now.grab &&
    before.people.map((one) => one.id).join() === now.people.map((one) => one.id).join(),
);

/** A stitch: closed where the table is level with the heading, an open loop where it is behind. */
function Stitch({ standing }: { standing: Standing }) {
  const closed = standing === "level";
  return (
    <svg className="stitch" aria-hidden>
      {standing === "unlisted" ? null : closed ? (
        <path d="M4.5 2 V12" stroke="currentColor" strokeWidth="2.5" strokeLinecap="round" />
      ) : (
        <path d="M6.5 1.5 C-0.500 4 -0.500 10 6.5 12.5" stroke="currentColor" strokeWidth="2" fill="none" strokeLinecap="round" />
      )}
    </svg>
  );
}
