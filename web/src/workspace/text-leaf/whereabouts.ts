/** Which heading and page the reader's eye is at, read from what is in sight. */
import type { StyleShown } from "../../api/client";
import { blockAt, blockBefore } from "./places";

export interface Whereabouts {
  heading: string | null;
  /** Counted from 1. */
  page: number;
}

const BELOW_TOP = 90;

export const headingStyles = (styles: readonly StyleShown[]): ReadonlySet<string> =>
  new Set(styles.filter((style) => style.outline_level !== null).map((style) => style.id));

export function whereabouts(scroller: HTMLElement, headings: ReadonlySet<string>): Whereabouts {
  const text = scroller.querySelector(".ProseMirror");
  if (!text) return { heading: null, page: 1 };
  const block = blockAt(text, scroller.getBoundingClientRect().top + BELOW_TOP);
  let heading: string | null = null;
  let page: number | null = null;
  for (let at = block; at && (heading === null || page === null); at = blockBefore(at)) {
    if (heading === null && headings.has(at.getAttribute("data-style") ?? "")) heading = at.getAttribute("data-id");
    if (page === null) {
      const edges = at.matches("[data-page]") ? [at] : at === block ? [] : [...at.querySelectorAll("[data-page]")];
      page = Number(edges.at(-1)?.getAttribute("data-page")) || null;
    }
  }
  return { heading, page: page ?? 1 };
}
