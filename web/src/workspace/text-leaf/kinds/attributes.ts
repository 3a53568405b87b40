/** Attributes that several kinds of block have. */
import type { Attribute } from "@tiptap/core";

/** The element id of a block in the text. */
export const elementId = (block: string) => `block-${block}`;

/** What can be the id of a block or the name of a table. */
export const identifier = (given: string | null): string | null => (given !== null && /^[A-Za-z0-9_-]{1,64}$/.test(given) ? given : null);

/** A number that was pasted, if it is within these bounds. */
export function numberWithin(given: string | null, least: number, most: number): number | null {
  const number = Number(given ?? "");
  return given && number >= least && number <= most ? number : null;
}

/** The id that a block keeps for life. */
export const id: Attribute = {
  default: null,
  keepOnSplit: false,
  parseHTML: (element) => identifier(element.getAttribute("data-id")),
  renderHTML: (attributes) =>
    attributes.id ? { "data-id": attributes.id as string, id: elementId(attributes.id as string) } : {},
};

/** An attribute that is not seen in the element, nor read from one that is pasted. */
export const plain = (fallback: unknown = null): Attribute => ({ default: fallback, rendered: false, parseHTML: () => fallback });

/** A setting that is seen in the element as an attribute alone. */
export const asDataAttribute = (name: string): Attribute => ({
  default: null,
  parseHTML: () => null,
  renderHTML: (attributes) => (attributes[name] === null ? {} : { [`data-${name.replace(/[A-Z]/g, "-$&").toLowerCase()}`]: String(attributes[name]) }),
});

/** A length in points that becomes a property of the element's style. */
export const points = (name: string, css: string): Attribute => ({
  default: null,
  parseHTML: () => null,
  renderHTML: (attributes) => {
    const value: unknown = attributes[name];
    return typeof value === "number" ? { style: `${css}: ${name === "lines" ? value : `${value}pt`}` } : {};
  },
});

export const ALIGNS = ["left", "center", "right", "justify"];
