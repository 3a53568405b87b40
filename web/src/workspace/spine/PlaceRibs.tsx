/** The spine's other lists: figures, data tables, bookmarks, links and references, each in the order of the text. */
import { Box, Text } from "@chakra-ui/react";
import { memo, useMemo, useState } from "react";
import { LongList } from "../../theme/LongList";
import type { ReportShown } from "../../api/client";
import { kindOf, placeLists } from "../place-kinds";
import { byCategory } from "../view/authorities";
import { leadWords, type View } from "../view";

/** What the spine shows: headings, or what is under this key. */
export type SpineList = string;

interface One {
  key: string;
  /** Where it leads. */
  to: string;
  number: string;
  words: string;
  page: string;
  /** What is wrong with it, if anything. */
  wrong: string;
}

/** The lists that there is anything in, with their names. */
export function spineLists(view: View, report: ReportShown): (readonly [list: SpineList, name: string])[] {
  const broken = view.leads.filter(({ to }) => !view.reaches(to)).length;
  return [
    ["headings", `Headings, ${view.headings.length}`],
    ...placeLists(view).map(({ key, name, places }) => [key, `${name}, ${places.length}`] as const),
    ...byCategory(view, report).map(([{ id, name }, cited]) => [`cited ${id}`, `${name}, ${cited.length}`] as const),
    ...(view.terms.length > 0 ? [["terms", `Index, ${view.terms.length}`] as const] : []),
    ...(view.leads.length > 0 ? [["leads", `Links and references, ${view.leads.length}${broken > 0 ? ` (${broken} broken)` : ""}`] as const] : []),
  ];
}

function listed(view: View, list: SpineList, report: ReportShown): One[] {
  const page = (at: number) => view.labels[at - 1] ?? "";
  const category = list.startsWith("cited ") ? list.slice(6) : null;
  if (category !== null) {
    const cited = byCategory(view, report).find(([{ id }]) => id === category)?.[1] ?? [];
    return cited.map(([authority, one], index) => ({ key: `${one.id} ${index}`, to: one.id, number: "", words: authority.long, page: page(one.page), wrong: "" }));
  }
  if (list === "terms") {
    return view.terms.map((one, index) => ({
      key: `${one.id} ${index}`,
      to: one.id,
      number: "",
      words: one.entries.map(({ terms }) => terms.join(" › ")).join("; "),
      page: page(one.page),
      wrong: "",
    }));
  }
  if (list === "leads") {
    return view.leads.map((lead, index) => ({
      key: `${lead.paragraph} ${index}`,
      to: lead.paragraph,
      number: lead.shows ? "" : "↗",
      words: leadWords(view, lead),
      page: page(lead.page),
      wrong: view.reaches(lead.to) ? "" : "leads to what is gone",
    }));
  }
  const places = placeLists(view).find(({ key }) => key === list)?.places ?? [];
  return places.map((place) => ({ key: place.id, to: place.id, number: kindOf(place).front(place, view).listed, words: place.text || "without words", page: page(place.page), wrong: "" }));
}

interface Props {
  view: View;
  report: ReportShown;
  list: SpineList;
  wanted: string;
  goTo: (id: string) => void;
}

export const PlaceRibs = memo(function PlaceRibs({ view, report, list, wanted, goTo }: Props) {
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  const all = useMemo(() => listed(view, list, report), [view, list, report]);
  const shown = useMemo(() => (wanted ? all.filter(({ number, words }) => `${number} ${words}`.toLowerCase().includes(wanted)) : all), [all, wanted]);
  return (
    <Box ref={setScroller} flex="1" overflowY="auto" pb="8" css={{ scrollbarColor: "var(--chakra-colors-rib-quiet) transparent", scrollbarWidth: "thin" }}>
      {shown.length === 0 && (
        <Text px="4" py="2" color="ribQuiet" fontSize="14px">
          {wanted ? "Nothing here has these words." : "Nothing of the kind is left in the text."}
        </Text>
      )}
      <LongList
        count={shown.length}
        scroller={scroller}
        estimate={25}
        label="Places"
        keyOf={(index) => shown[index]?.key ?? String(index)}
        row={(index, tabbable) => {
          const one = shown[index];
          return one ? (
            <button type="button" className="rib" data-rib={one.key} tabIndex={tabbable ? 0 : -1} title={one.wrong || undefined} onClick={() => goTo(one.to)}>
              <span className="words" style={{ paddingLeft: "14px" }}>
                {one.number && <span className="number">{one.number} </span>}
                {one.words} {one.wrong && <span className="by-hand">{one.wrong}</span>}
              </span>
              <span className="page">{one.page}</span>
            </button>
          ) : null;
        }}
      />
    </Box>
  );
});
