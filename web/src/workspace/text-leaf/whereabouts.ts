/** Which heading and page the reader's eye is at, read from what is in sight. */
import type { StyleShown } from "../../api/client";
import { blockAt, blockBefore } from "./places";

export interface Whereabouts {
  heading: string | null;
  page: string;
}

const BELOW_TOP = 90;

export const headingStyles = (styles: readonly StyleShown[]): ReadonlySet<string> =>
  new Set(styles.filter((style) => style.outline_level !== null).map((style) => style.id));

export function whereabouts(scroller: HTMLElement, headings: ReadonlySet<string>): Whereabouts {
  const text = scroller.querySelector(".ProseMirror");
  if (!text) return { heading: null, page: "1" };
  const block = blockAt(text, scroller.getBoundingClientRect().top + BELOW_TOP);
  let heading: string | null = null;
  let page: string | null = null;
  for (let at = block; at && (heading === null || page === null); at = blockBefore(at)) {
    if (heading === null && headings.has(at.getAttribute("data-style") ?? "")) heading = at.getAttribute("data-id");
    if (page === null) {
      const edges = at.matches(".page-edge") ? [at] : at === block ? [] : [...at.querySelectorAll(".page-edge")];
      page = edges.at(-1)?.getAttribute("data-label")?.replace("page ", "") ?? null;
    }
  }
  return { heading, page: page ?? "1" };
}
