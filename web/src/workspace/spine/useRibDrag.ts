/**
 * Dragging ribs: while it lasts, where their sections would stand is shown as a rib of its own, at the place and level under the
 * pointer. The place is between two ribs; going to the right or the left is going a level down or up.
 */
import { useCallback, useEffect, useRef, useState, type PointerEvent, type RefObject } from "react";
import type { Landing } from "../../api/client";
import type { Sections } from "../text-leaf/sections";
import type { Heading } from "../view";

/** Pixels after which a press is a drag; that are a level to the side; and from an edge within which the list scrolls. */
const BEGINS = 6;
const LEVEL = 18;
const EDGE = 32;

/** Where dragged sections would come to stand. */
export interface Drop {
  ids: readonly string[];
  /** The place in the list of ribs. */
  index: number;
  before: string | null;
  level: number;
  /** Null until the server has said it; the words say why it cannot be. */
  landing: Landing | null;
  refused: string;
}

interface Grabbed {
  heading: Heading;
  x: number;
  y: number;
}

interface Place {
  index: number;
  before: string | null;
  level: number;
}

interface Dragging {
  drop: Drop | null;
  grab: (event: PointerEvent, heading: Heading) => void;
}

/** `chosen`: the ribs that go along with any of them. */
export function useRibDrag(ribs: readonly Heading[], chosen: readonly string[], list: RefObject<HTMLElement | null>, sections: Sections | null): Dragging {
  const [drop, setDrop] = useState<Drop | null>(null);
  const latest = useRef({ ribs, chosen, sections });
  useEffect(() => {
    latest.current = { ribs, chosen, sections };
  });
  const stop = useRef<() => void>(() => undefined);
  useEffect(() => () => stop.current(), []);

  const grab = useCallback(
    (event: PointerEvent, heading: Heading) => {
      // A finger scrolls the list.
      if (!latest.current.sections || event.button !== 0 || event.pointerType === "touch" || heading.by_hand === "put in") return;
      stop.current();
      stop.current = follow({ heading, x: event.clientX, y: event.clientY }, list, latest, setDrop);
    },
    [list],
  );
  return { drop, grab };
}

/** Follows the pointer until it is let go. Returns what ends it. */
function follow(
  { heading, x, y }: Grabbed,
  list: RefObject<HTMLElement | null>,
  latest: RefObject<{ ribs: readonly Heading[]; chosen: readonly string[]; sections: Sections | null }>,
  show: (drop: Drop | null) => void,
): () => void {
  const { chosen } = latest.current;
  const ids = chosen.includes(heading.id) ? chosen : [heading.id];
  let drop: Drop | null = null;
  let pointer = { x, y };
  let frame = 0;
  let asking = false;

  const set = (next: Drop | null) => show((drop = next));

  /** Asks where it would stand; what has been asked for meanwhile is asked for next. */
  const ask = async () => {
    const { sections } = latest.current;
    if (asking || !drop || !sections) return;
    asking = true;
    const { index, before, level } = drop;
    const isStill = () => drop?.index === index && drop.before === before && drop.level === level;
    try {
      const { landings } = await sections.look(ids, before, level);
      if (drop && isStill()) set({ ...drop, landing: landings[0] ?? null, refused: "" });
    } catch (error) {
      if (drop && isStill()) set({ ...drop, landing: null, refused: (error as Error).message });
    }
    asking = false;
    if (!isStill()) void ask();
  };

  const look = () => {
    const place = placeUnder(list.current, pointer.y, latest.current.ribs, ids, drop?.index ?? null);
    if (!place && !drop) return;
    const level = Math.min(Math.max(heading.level + Math.round((pointer.x - x) / LEVEL), 1), 9);
    const { index, before } = place ?? (drop as Drop);
    if (drop && drop.index === index && drop.before === before && drop.level === level) return;
    set({ ids, index, before, level, landing: drop?.landing ?? null, refused: "" });
    void ask();
  };

  /** Scrolls while the pointer is at an edge. */
  const scroll = () => {
    const { top, bottom } = list.current?.getBoundingClientRect() ?? { top: 0, bottom: 0 };
    const by = Math.min(0, pointer.y - top - EDGE) + Math.max(0, pointer.y - bottom + EDGE);
    if (by !== 0) {
      list.current?.scrollBy(0, by / 3);
      look();
    }
    frame = requestAnimationFrame(scroll);
  };

  const move = (event: globalThis.PointerEvent) => {
    pointer = { x: event.clientX, y: event.clientY };
    if (!drop && Math.hypot(pointer.x - x, pointer.y - y) < BEGINS) return;
    event.preventDefault();
    if (frame === 0) frame = requestAnimationFrame(scroll);
    look();
  };
  const letGo = () => {
    const { sections } = latest.current;
    const done = drop;
    end();
    if (!done) return;
    // The press that a drag ends with is not meant to lead anywhere.
    const swallow = (event: MouseEvent) => event.stopPropagation();
    window.addEventListener("click", swallow, { capture: true, once: true });
    setTimeout(() => window.removeEventListener("click", swallow, { capture: true }));
    void sections?.moveTo(ids, done.before, done.level);
  };
  const press = (event: KeyboardEvent) => {
    if (event.key !== "Escape" || !drop) return;
    event.preventDefault();
    event.stopPropagation();
    end();
  };
  const end = () => {
    cancelAnimationFrame(frame);
    window.removeEventListener("pointermove", move);
    window.removeEventListener("pointerup", letGo);
    window.removeEventListener("pointercancel", end);
    window.removeEventListener("blur", end);
    window.removeEventListener("keydown", press, true);
    set(null);
  };
  window.addEventListener("pointermove", move);
  window.addEventListener("pointerup", letGo);
  window.addEventListener("pointercancel", end);
  window.addEventListener("blur", end);
  window.addEventListener("keydown", press, true);
  return end;
}

/** The place between two ribs at a height of the window; null where nothing changes: over the rib that shows the place. */
function placeUnder(list: HTMLElement | null, y: number, ribs: readonly Heading[], moving: readonly string[], shown: number | null): Omit<Place, "level"> | null {
  for (const row of list?.querySelectorAll<HTMLElement>("[data-index]") ?? []) {
    const { top, bottom } = row.getBoundingClientRect();
    if (y < top || y >= bottom) continue;
    const at = Number(row.dataset.index);
    if (at === shown) return null;
    const rib = shown !== null && at > shown ? at - 1 : at;
    return between(ribs, rib + (y > (top + bottom) / 2 ? 1 : 0), moving);
  }
  const last = [...(list?.querySelectorAll<HTMLElement>("[data-index]") ?? [])].at(-1);
  return last && y >= last.getBoundingClientRect().bottom ? between(ribs, ribs.length, moving) : null;
}

/** The place in front of a rib; within what is moved, that is where it stands. */
function between(ribs: readonly Heading[], at: number, moving: readonly string[]): Omit<Place, "level"> {
  let level = 0;
  let first = -1;
  for (const [index, { id, level: own, by_hand }] of ribs.entries()) {
    if (by_hand === "put in") continue;
    const within = first >= 0 && own > level;
    if (!within) first = moving.includes(id) ? index : -1;
    if (first === index) level = own;
    if (index === at && within) return { index: first, before: ribs[first]?.id ?? null };
  }
  // What is put into tables singly begins no section: the place is in front of the next heading.
  const next = ribs.slice(at).find(({ by_hand }) => by_hand !== "put in");
  return { index: at, before: next?.id ?? null };
}
