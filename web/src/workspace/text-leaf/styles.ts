/** The styles of a report, asked for by what they are for. Where there is none, it is the style of body text. */
import type { StyleShown } from "../../api/client";

export type Styles = readonly StyleShown[];

const idOr = (style: StyleShown | undefined, styles: Styles): string => (style ?? bodyStyle(styles))?.id ?? "body";

export const bodyStyle = (styles: Styles): StyleShown | undefined => styles.find((style) => style.role === "body");

/** The style with an id, as the core finds it: an unknown one is body text. */
export const styleOf = (styles: Styles, id: unknown): StyleShown | undefined =>
  styles.find((style) => style.id === id) ?? bodyStyle(styles);

export const forRole = (styles: Styles, role: NonNullable<StyleShown["role"]>): string =>
  idOr(styles.find((style) => style.role === role), styles);

export const forHeading = (styles: Styles, level: number): string =>
  idOr(styles.find((style) => style.outline_level === level), styles);

/** For list items of a level, or else of the deepest level above it. */
export const forItem = (styles: Styles, marker: "bullet" | "decimal", level: number): string => {
  const found = styles.filter((style) => style.marker === marker && (style.list_level ?? 0) <= level);
  return idOr(found.sort((one, other) => (other.list_level ?? 0) - (one.list_level ?? 0))[0], styles);
};

/** The styles to choose from, as pairs of id and name: all but those put away, unless one of these is the one at hand. */
export const offered = (styles: Styles, now: string | null = null): (readonly [id: string, name: string])[] =>
  styles.filter((style) => !style.put_away || style.id === now).map((style) => [style.id, style.name]);
