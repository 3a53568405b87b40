/** Attributes that several kinds of block have. */
import type { Attribute } from "@tiptap/core";

/** The element id of a block in the text. */
export const elementId = (block: string) => `block-${block}`;

/** The id that a block keeps for life. */
export const id: Attribute = {
  default: null,
  keepOnSplit: false,
  parseHTML: (element) => element.getAttribute("data-id"),
  renderHTML: (attributes) =>
    attributes.id ? { "data-id": attributes.id as string, id: elementId(attributes.id as string) } : {},
};

/** An attribute that is not seen in the element. */
export const plain = (fallback: unknown = null): Attribute => ({ default: fallback, rendered: false });

/** A setting that is seen in the element as an attribute alone. */
export const told = (name: string): Attribute => ({
  default: null,
  parseHTML: () => null,
  renderHTML: (attributes) => (attributes[name] === null ? {} : { [`data-${name}`]: String(attributes[name]) }),
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
