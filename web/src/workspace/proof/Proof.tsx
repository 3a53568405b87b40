/** The proof: the exact pages side by side, in the place of the text. They are drawn from the same marks as the PDF. */
import { Button, Flex, Text } from "@chakra-ui/react";
import { forwardRef, memo, useCallback, useEffect, useImperativeHandle, useLayoutEffect, useMemo, useRef, useState, useSyncExternalStore, type MouseEvent, type Ref } from "react";
import { api, type ReportShown } from "../../api/client";
import { counted } from "../../words";
import { Press } from "../controls/parts";
import type { Room } from "../room/room";
import { useRoom } from "../room/useRoom";
import type { Whereabouts } from "../text-leaf/whereabouts";
import type { View } from "../view";
import { drawnPage } from "./drawnPage";
import { paperOf, ProofPages, spreads, usualWidth, type Loaded, type Paper } from "./pages";
import "./proof.css";

export interface ProofHandle {
  /** Brings the page of a heading or place into sight; false if it is on none. */
  goTo: (id: string) => boolean;
  /** Goes back to the text. */
  leave: () => void;
}

interface Props {
  report: ReportShown;
  room: Room;
  /** The page with which it begins. */
  at: number;
  /** Goes back to the text: to a block, or to where one was if that is in sight here. */
  back: (block: string | null) => void;
  moved: (here: Whereabouts) => void;
}

const GAP = 14;
/** CSS pixels in a point. */
const PIXELS = 96 / 72;
const LEAST_ZOOM = 0.2;
const MOST_ZOOM = 4;
/** Milliseconds after the last change of the text at which pages are asked for again. */
const SETTLED = 500;

export const Proof = forwardRef(function Proof({ report, room, at, back, moved }: Props, ref: Ref<ProofHandle>) {
  const view = useRoom(room, "view");
  const [pages] = useState(() => new ProofPages(report.key));
  const { count, papers, loaded, trouble } = useSyncExternalStore(pages.subscribe, pages.get);
  const [facing, setFacing] = useState(() => window.innerWidth >= 700); // on a phone one is small enough
  /** How many CSS pixels of the page one is shown in; null for as many as there is room for. */
  const [zoom, setZoom] = useState<number | null>(null);
  const [width, setWidth] = useState(0);
  const scroller = useRef<HTMLDivElement>(null);
  const [printing, setPrinting] = useState(false);
  const rows = useMemo(() => spreads(count, facing), [count, facing]);
  const usual = useMemo(() => usualWidth(papers, count) * PIXELS, [papers, count]);
  const fitting = Math.max((width - 2 * GAP - (facing ? GAP : 0)) / (usual * (facing ? 2 : 1)), LEAST_ZOOM);
  const scale = zoom ?? Math.min(fitting, 1.5);

  useEffect(() => {
    pages.start(at);
    return () => pages.stop();
    // Where it begins is asked once.
  }, [pages]); // eslint-disable-line react-hooks/exhaustive-deps
  useRenewed(pages, report, room);
  useSeen(scroller, pages, view, moved, count);
  usePrinting(scroller);

  useLayoutEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const sized = new ResizeObserver(() => setWidth(element.clientWidth));
    sized.observe(element);
    setWidth(element.clientWidth);
    // Keys scroll it, and lead back.
    element.focus({ preventScroll: true });
    return () => sized.disconnect();
  }, []);

  const toPage = useCallback((page: number) => {
    const element = scroller.current?.querySelector<HTMLElement>(`[data-number="${page}"]`);
    if (element && scroller.current) scroller.current.scrollTop = element.offsetTop - GAP;
    return element !== null;
  }, []);

  // The page that was in sight stays there, whatever is shown beside it and how large.
  const kept = useRef(at);
  /** Where it began, in pixels from the top; not any more once somebody has gone on. */
  const home = useRef<number | null>(null);
  /** A page that was asked for before there were any. */
  const wanted = useRef<number | null>(null);
  const there = count > 0 && width > 0;
  useLayoutEffect(() => {
    const element = scroller.current;
    if (!there || !element) return;
    const stays = home.current === null || isNear(home.current, element.scrollTop);
    toPage(stays ? at : kept.current);
    home.current = stays ? element.scrollTop : -1;
    if (wanted.current !== null) toPage(wanted.current);
    wanted.current = null;
  }, [there, scale, facing, toPage, at]);
  useEffect(() => {
    const element = scroller.current;
    const note = () => (kept.current = topPage(element)?.number ?? kept.current);
    element?.addEventListener("scroll", note, { passive: true });
    return () => element?.removeEventListener("scroll", note);
  }, []);

  const goTo = useCallback(
    (id: string) => {
      const page = view.headings.find((one) => one.id === id)?.page ?? view.places.find((one) => one.id === id)?.page ?? pageWith(pages.state.loaded, id);
      if (page === undefined) return false;
      // Before the pages are there, it is where they begin.
      if (!toPage(page)) wanted.current = page;
      return true;
    },
    [view, pages, toPage],
  );

  const press = (event: MouseEvent) => {
    const found = (event.target as Element).closest<SVGAElement>("a");
    if (!found || found.hasAttribute("target")) return;
    event.preventDefault();
    const { text, place } = found.dataset;
    if (text) back(text);
    else if (place) goTo(place);
  };
  const leave = () => {
    const top = topPage(scroller.current);
    const gone = home.current !== null && !isNear(home.current, scroller.current?.scrollTop ?? 0);
    back(top && gone ? blockAt(loaded.get(top.number), top.below) : null);
  };
  useImperativeHandle(ref, () => ({ goTo, leave }));
  const print = async () => {
    setPrinting(true);
    await pages.all();
    // Until React has drawn what has come last.
    requestAnimationFrame(() => {
      window.print();
      setPrinting(false);
    });
  };
  const nearer = (times: number) => setZoom(Math.min(Math.max(scale * times, LEAST_ZOOM), MOST_ZOOM));

  return (
    <Flex
      direction="column"
      position="absolute"
      inset="0"
      bg="tableLeaf"
      className="proof"
      role="region"
      aria-label="Proof"
      onKeyDown={(event) => {
        if (event.key === "Escape") leave();
      }}
    >
      {/* What is pressed are the links in it; what scrolls is reached by keys. */}
      {/* eslint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-static-element-interactions, jsx-a11y/no-noninteractive-tabindex */}
      <div ref={scroller} className="proof-pages" tabIndex={0} onClick={press}>
        {rows.map((row) => (
          <div key={row.at(-1)} className="proof-row" style={{ gap: facing ? 2 : 0, marginBottom: GAP }}>
            {facing && row.length === 1 && row[0] === 1 && <div style={{ width: paperOf(papers, 1).width * PIXELS * scale }} />}
            {row.map((page) => (
              <Sheet key={page} report={report.key} number={page} label={view.labels[page - 1] ?? ""} paper={paperOf(papers, page)} scale={scale} loaded={loaded.get(page)} />
            ))}
            {facing && row.length === 1 && row[0] !== 1 && <div style={{ width: paperOf(papers, count).width * PIXELS * scale }} />}
          </div>
        ))}
        {count === 0 && (
          <Text p="6" color="quiet" role="status">
            {trouble || "The pages are being drawn …"}
          </Text>
        )}
      </div>
      <Flex flexShrink="0" align="center" gap="1" wrap="wrap" bg="tableLeaf" borderTopWidth="1px" borderColor="edge" px="4" py="1" fontSize="13px">
        <Press type="button" aria-pressed={facing} bg={facing ? "irisWash" : "raised"} onClick={() => setFacing(true)}>
          facing pages
        </Press>
        <Press type="button" aria-pressed={!facing} bg={facing ? "raised" : "irisWash"} onClick={() => setFacing(false)}>
          one by one
        </Press>
        <Press type="button" aria-label="Smaller" onClick={() => nearer(0.8)}>
          −
        </Press>
        <Press type="button" title="As large as there is room for" aria-label={`${Math.round(scale * 100)} %: as large as there is room for`} onClick={() => setZoom(null)}>
          {Math.round(scale * 100)} %
        </Press>
        <Press type="button" aria-label="Larger" onClick={() => nearer(1.25)}>
          +
        </Press>
        <Press type="button" disabled={printing || count === 0} onClick={() => void print()}>
          {printing ? `Drawing ${loaded.size} of ${count} …` : "Print"}
        </Press>
        <Text flex="1" textAlign="end" color="quiet" truncate>
          {trouble && count > 0 ? trouble : count > 0 ? counted(count, "page") : ""}
        </Text>
        <Button size="2xs" minH="24px" flexShrink="0" rounded="full" bg="spine" color="rib" onClick={leave}>
          ↶ Back to the text
        </Button>
      </Flex>
    </Flex>
  );
});

interface SheetProps {
  report: string;
  number: number;
  label: string;
  paper: Paper;
  scale: number;
  loaded: Loaded | undefined;
}

/** One page; white until it has come. */
const Sheet = memo(function Sheet({ report, number, label, paper, scale, loaded }: SheetProps) {
  const element = useRef<HTMLDivElement>(null);
  const { width, height } = paper;
  useLayoutEffect(() => {
    const picture = (source: string) => api.picture(report, source);
    element.current?.replaceChildren(...(loaded ? [drawnPage(loaded, { width, height, picture })] : []));
  }, [report, loaded, width, height]);
  return (
    <div
      ref={element}
      className="proof-page"
      role="group"
      aria-label={label ? `Page ${label}` : "A page without a number"}
      data-number={number}
      data-width={width}
      data-height={height}
      style={{ width: width * PIXELS * scale, height: height * PIXELS * scale }}
    />
  );
});

/** Whether two heights in pixels are the same to somebody who looks. */
const isNear = (one: number, other: number) => Math.abs(one - other) < 8;

/** The page at the top of what is in sight, and how much of it is above that, as a part of its height. */
function topPage(scroller: HTMLElement | null): { number: number; below: number } | null {
  if (!scroller) return null;
  const pages = scroller.querySelectorAll<HTMLElement>(".proof-page");
  // They stand in order: the first that ends beneath the top.
  let [from, to] = [0, pages.length];
  const top = scroller.scrollTop + GAP + 1;
  while (from < to) {
    const middle = (from + to) >> 1;
    const page = pages[middle];
    if (page && page.offsetTop + page.offsetHeight > top) to = middle;
    else from = middle + 1;
  }
  const page = pages[from];
  return page ? { number: Number(page.dataset.number), below: Math.max(top - page.offsetTop, 0) / page.offsetHeight } : null;
}

/** The block of a page that stands so far below its top. */
function blockAt(loaded: Loaded | undefined, below: number): string | null {
  if (!loaded) return null;
  const { blocks } = loaded.page;
  const height = Math.max(...blocks.map(([, , y, , high]) => y + high), 1);
  return (blocks.find(([, , y, , high]) => y + high > below * height) ?? blocks.at(-1))?.[0] ?? null;
}

function pageWith(loaded: ReadonlyMap<number, Loaded>, id: string): number | undefined {
  for (const [number, { page }] of loaded) if (page.places.some(([place]) => place === id)) return number;
  return undefined;
}

/** Has pages come again once the report has changed and nobody has changed it for a moment. */
function useRenewed(pages: ProofPages, report: ReportShown, room: Room): void {
  const first = useRef(report);
  useEffect(() => {
    if (first.current !== report) pages.renew();
    first.current = report;
  }, [pages, report]);
  useEffect(() => {
    let timer = 0;
    const later = () => {
      window.clearTimeout(timer);
      timer = window.setTimeout(() => void room.caughtUp().then(() => pages.renew()), SETTLED);
    };
    let { view } = room.state;
    const stop = room.subscribe(() => {
      if (room.state.view === view) return;
      view = room.state.view;
      later();
    });
    room.document.on("update", later);
    return () => {
      window.clearTimeout(timer);
      stop();
      room.document.off("update", later);
    };
  }, [pages, room]);
}

/** Asks for the pages that are in sight, and says which is. */
function useSeen(scroller: { readonly current: HTMLElement | null }, pages: ProofPages, view: View, moved: (here: Whereabouts) => void, count: number): void {
  useEffect(() => {
    const element = scroller.current;
    if (!element || count === 0) return;
    let frame = 0;
    const look = () => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        const { number } = topPage(element) ?? { number: 1 };
        const [sheet] = element.querySelectorAll<HTMLElement>(".proof-page");
        const rows = Math.ceil(element.clientHeight / Math.max(sheet?.offsetHeight ?? 1, 1)) + 1;
        pages.inSight(Math.max(number - 2, 1), number + 2 * rows + 1);
        moved({ page: number, heading: view.headings.findLast((one) => one.page <= number)?.id ?? null });
      });
    };
    look();
    element.addEventListener("scroll", look, { passive: true });
    return () => {
      cancelAnimationFrame(frame);
      element.removeEventListener("scroll", look);
    };
  }, [scroller, pages, view, moved, count]);
}

/** What the browser prints while the proof is open is its pages, each on a sheet of its own size. */
function usePrinting(scroller: { readonly current: HTMLElement | null }): void {
  useEffect(() => {
    let printed: HTMLElement | null = null;
    const before = () => {
      const sizes = new Set<string>();
      printed = document.createElement("div");
      printed.className = "printed-proof";
      for (const sheet of scroller.current?.querySelectorAll<HTMLElement>(".proof-page") ?? []) {
        const { width = "", height = "" } = sheet.dataset;
        const size = `sheet-${width}-${height}`.replaceAll(".", "_");
        sizes.add(`@page ${size} { size: ${Number(width)}pt ${Number(height)}pt; margin: 0; }`);
        const page = document.createElement("div");
        page.style.cssText = `page: ${size}; width: ${Number(width)}pt; height: ${Number(height)}pt;`;
        page.append(...[...sheet.childNodes].map((one) => one.cloneNode(true)));
        printed.append(page);
      }
      const rules = document.createElement("style");
      rules.textContent = [...sizes].join("\n");
      printed.append(rules);
      document.body.append(printed);
      document.documentElement.classList.add("prints-proof");
    };
    const after = () => {
      printed?.remove();
      printed = null;
      document.documentElement.classList.remove("prints-proof");
    };
    window.addEventListener("beforeprint", before);
    window.addEventListener("afterprint", after);
    return () => {
      after();
      window.removeEventListener("beforeprint", before);
      window.removeEventListener("afterprint", after);
    };
  }, [scroller]);
}
