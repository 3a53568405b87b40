/** A list of any length of which only the rows in sight exist. Rows may differ in height. Arrow keys go up and down. */
import { defaultRangeExtractor, useVirtualizer } from "@tanstack/react-virtual";
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type KeyboardEvent, type ReactNode } from "react";

interface Props {
  count: number;
  /** The element that scrolls; the list need not be all of it. */
  scroller: HTMLElement | null;
  /** Height of a row before it has been measured, in pixels. */
  estimate: number;
  keyOf: (index: number) => string;
  /** Its button takes the Tab key if `tabbable`: one of the list does, and arrow keys lead to the others. */
  row: (index: number, tabbable: boolean) => ReactNode;
  label: string;
  /** The row to keep in sight, unless the keyboard is in the list. */
  current?: number;
}

export function LongList({ count, scroller, estimate, keyOf, row, label, current }: Props) {
  const list = useRef<HTMLOListElement>(null);
  const [top, setTop] = useState(0);
  const wanted = useRef<number | null>(null);
  const [focused, setFocused] = useState<number | null>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- that rule is for the React compiler, which is not used
  const rows = useVirtualizer({
    count,
    getScrollElement: () => scroller,
    estimateSize: () => estimate,
    getItemKey: keyOf,
    overscan: 10,
    // What has the keyboard stays, however far the list is scrolled: what is being typed in it as well.
    rangeExtractor: (range) => {
      const found = defaultRangeExtractor(range);
      return focused === null || focused >= count || found.includes(focused) ? found : [...found, focused].sort((a, b) => a - b);
    },
    scrollMargin: top,
    scrollPaddingStart: 48,
    scrollPaddingEnd: 96,
  });

  useLayoutEffect(() => {
    if (!list.current || !scroller) return;
    const above = list.current.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop;
    setTop(Math.round(above));
  }, [scroller, count]);

  useEffect(() => {
    if (current === undefined || current < 0 || list.current?.contains(document.activeElement)) return;
    rows.scrollToIndex(current, { align: "auto" });
  }, [current, rows]);

  // A row that was out of sight exists only after scrolling to it: it is focused as soon as it does.
  useEffect(() => {
    if (wanted.current === null) return;
    const button = list.current?.querySelector<HTMLElement>(`[data-index="${wanted.current}"] button`);
    if (button) {
      wanted.current = null;
      button.focus({ preventScroll: true });
    }
  });

  const step = useCallback(
    (event: KeyboardEvent) => {
      const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      const here = (event.target as HTMLElement).closest<HTMLElement>("[data-index]")?.dataset.index;
      if (!by || here === undefined || event.target instanceof HTMLSelectElement || event.target instanceof HTMLInputElement) return;
      event.preventDefault();
      const next = Math.min(Math.max(Number(here) + by, 0), count - 1);
      wanted.current = next;
      rows.scrollToIndex(next, { align: "auto" });
      list.current?.querySelector<HTMLElement>(`[data-index="${next}"] button`)?.focus({ preventScroll: true });
    },
    [rows, count],
  );

  const items = rows.getVirtualItems();
  const entry = [focused, current, items[0]?.index].find((index) => items.some((item) => item.index === index));

  return (
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions -- the keys are those of the buttons in it
    <ol
      ref={list}
      className="long-list"
      aria-label={label}
      style={{ height: rows.getTotalSize() }}
      onKeyDown={step}
      onFocus={(event) => setFocused(Number(event.target.closest<HTMLElement>("[data-index]")?.dataset.index))}
      onBlur={() => setFocused(null)}
    >
      {items.map((item) => (
        <li
          key={item.key}
          ref={rows.measureElement}
          data-index={item.index}
          aria-setsize={count}
          aria-posinset={item.index + 1}
          style={{ transform: `translateY(${item.start - top}px)` }}
        >
          {row(item.index, item.index === entry)}
        </li>
      ))}
    </ol>
  );
}
