/**
 * A formula: one character of a paragraph's text, kept as MathML, drawn and read aloud by the browser as such. What anybody may
 * have put into a text becomes elements one by one, and only those that are known.
 */
import { Node } from "@tiptap/core";
import { FORMULAS } from "../../../api/settings";

/** The character that a formula is in the text of a paragraph. */
export const FORMULA = "\ue000";

const MATHML = "http://www.w3.org/1998/Math/MathML";
/** The elements of a formula, and what their attributes may say. */
const ELEMENTS: Readonly<Record<string, Readonly<Record<string, readonly string[]>>>> = FORMULAS.elements;
const SPACE = new RegExp(`^${FORMULAS.space}$`);

/** An element as it is drawn, made anew from what is known of it; null for one that is none of a formula. */
function drawn(given: Element, depth = 0): Element | null {
  const tag = given.localName;
  const known = Object.hasOwn(ELEMENTS, tag) ? ELEMENTS[tag] : undefined;
  if (!known || depth > FORMULAS.deepest) return null;
  const made = document.createElementNS(MATHML, tag);
  for (const [name, values] of Object.entries(known)) {
    const said = given.getAttribute(name);
    if (said !== null && values.includes(said)) made.setAttribute(name, said);
  }
  const width = given.getAttribute("width") ?? "";
  if (tag === "mspace" && SPACE.test(width)) made.setAttribute("width", width);
  for (const child of given.childNodes) {
    if (child.nodeType === child.TEXT_NODE) made.append(child.textContent ?? "");
    else if (child instanceof Element) {
      const inside = drawn(child, depth + 1);
      if (inside) made.append(inside);
    }
  }
  return made;
}

/** Whether an element is letters and signs, with indices and exponents at most. */
const isPlain = (element: Element): boolean =>
  ["mi", "mn", "mo", "mtext", "mspace"].includes(element.localName) || (["mrow", "msub", "msup", "msubsup"].includes(element.localName) && [...element.children].every(isPlain));

/** Signs around letters alone do not grow, as the core has it; browsers would leave them the room of larger ones. */
function settle(made: Element): Element {
  for (const sign of made.querySelectorAll("mo")) {
    const others = [...(sign.parentElement?.children ?? [])];
    if (others.every(isPlain)) sign.setAttribute("stretchy", "false");
  }
  return made;
}

/** What a formula is drawn as; a question mark for what is none. */
export function drawnFormula(mathml: unknown): Element {
  const read = typeof mathml === "string" && mathml.length <= FORMULAS.longest ? new DOMParser().parseFromString(mathml, "application/xml").documentElement : null;
  const made = read?.localName === "math" ? drawn(read) : null;
  if (made) return made;
  const none = document.createElementNS(MATHML, "math");
  const text = document.createElementNS(MATHML, "mtext");
  text.append("?");
  none.append(text);
  return none;
}

/** A drawn formula as it is kept: without a namespace. */
function written(element: Element): string {
  const escaped = (words: string) => words.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
  const said = [...element.attributes].map(({ name, value }) => ` ${name}="${value}"`).join("");
  const inside = [...element.childNodes].map((one) => (one instanceof Element ? written(one) : escaped(one.textContent ?? ""))).join("");
  return `<${element.localName}${said}>${inside}</${element.localName}>`;
}

export const Formula = Node.create({
  name: "formula",
  group: "inline",
  inline: true,
  atom: true,
  // As with references: the cursor goes past it like past a letter.
  selectable: false,
  marks: "",
  addAttributes: () => ({ mathml: { default: null, rendered: false } }),
  parseHTML: () => [
    {
      tag: "math",
      getAttrs: (element) => {
        const made = drawn(element);
        return made?.textContent ? { mathml: written(made) } : false;
      },
    },
  ],
  renderHTML: ({ node }) => ({ dom: drawnFormula(node.attrs.mathml) as HTMLElement }),
  addNodeView: () => ({ node }) => ({ dom: settle(drawnFormula(node.attrs.mathml)) as HTMLElement, ignoreMutation: () => true }),
  renderText: ({ node }) => drawnFormula(node.attrs.mathml).textContent ?? "",
});
