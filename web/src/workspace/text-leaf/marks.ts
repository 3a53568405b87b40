/** The text's own marks: formatting of words on top of what their paragraph's style says. */
import { Mark, type Attribute } from "@tiptap/core";
import { Bold } from "@tiptap/extension-bold";
import { Italic } from "@tiptap/extension-italic";
import { familyOf, isFamily } from "../controls/fonts";
import { CAPITALS_IN_CSS } from "./inCss";
import { identifier, numberWithin, plain } from "./kinds/attributes";

/** Bold and italic, and with `off` the taking away of what the paragraph's style gives. */
const off: Attribute = {
  default: false,
  parseHTML: (element) => element.hasAttribute("data-off"),
  renderHTML: (attributes) => (attributes.off === true ? { "data-off": "" } : {}),
};
export const Weight = Bold.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });
export const Slant = Italic.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });

const COLOUR = /^#[0-9a-f]{6}$/;
const CAPITALS = /^(none|all|small)$/;
const SCRIPT = /^(super|sub)$/;
const isSet = (value: unknown) => value !== null && value !== undefined;

/** What the words of a run may say of how they look. */
export const TYPEFACE = ["font", "size", "colour", "strike", "capitals", "script", "highlight"] as const;

/** What a run may say of its typeface: how each is read from what anybody may have written, and what it is in CSS (colours: text.css). */
const LOOKS: Record<(typeof TYPEFACE)[number], { read: (given: string) => string | number | true | null; css: (value: string | number) => string }> = {
  font: { read: (given) => (isFamily(given) ? given : null), css: (font) => `font-family: ${familyOf(String(font))}` },
  size: { read: (given) => numberWithin(given, 1, 400), css: (size) => `font-size: ${size}pt` },
  colour: { read: (given) => (COLOUR.test(given) ? given : null), css: (colour) => `--ink: ${colour}` },
  strike: { read: (given) => given === "true" || null, css: () => "text-decoration-line: line-through" },
  capitals: { read: (given) => (CAPITALS.test(given) ? given : null), css: (capitals) => CAPITALS_IN_CSS[String(capitals)] ?? "" },
  // See `data-script` in text.css: smaller letters make no line higher.
  script: { read: (given) => (SCRIPT.test(given) ? given : null), css: () => "" },
  highlight: { read: (given) => (COLOUR.test(given) ? given : null), css: (colour) => `--lit: ${colour}` },
};

/** Font, size, colour and the like of a run, as far as they differ from the paragraph's style. */
export const Typeface = Mark.create({
  name: "typeface",
  addAttributes: () => Object.fromEntries(TYPEFACE.map((name) => [name, plain()])),
  parseHTML: () => [
    {
      tag: "span[data-typeface]",
      getAttrs: (element) => Object.fromEntries(TYPEFACE.map((name) => [name, LOOKS[name].read(element.getAttribute(`data-${name}`) ?? "")])),
    },
  ],
  renderHTML: ({ mark }) => {
    const rules: string[] = [];
    const data: Record<string, string> = { "data-typeface": "" };
    for (const name of TYPEFACE) {
      const given: unknown = mark.attrs[name];
      const value = isSet(given) ? LOOKS[name].read(String(given as string)) : null;
      if (value === null) continue;
      data[`data-${name}`] = String(value);
      const css = LOOKS[name].css(value as string | number);
      if (css) rules.push(css);
    }
    return ["span", { ...data, style: rules.join("; ") }, 0];
  },
});

/** Whether a pasted element says with this attribute which one it is; without that it marks nothing. */
const named = (attribute: string) => (element: HTMLElement) => (identifier(element.getAttribute(attribute)) === null ? false : null);

/** A name for a stretch of words: links and references lead to its id. */
export const Bookmark = Mark.create({
  name: "bookmark",
  inclusive: false,
  addAttributes: () => ({
    id: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-bookmark")), rendered: false },
    name: { default: "", parseHTML: (element: HTMLElement) => (element.getAttribute("data-name") ?? "").slice(0, 80), rendered: false },
  }),
  parseHTML: () => [{ tag: "span[data-bookmark]", getAttrs: named("data-bookmark") }],
  renderHTML: ({ mark }) => {
    const { id, name } = mark.attrs as { id: string; name: string };
    return ["span", { "data-bookmark": id, "data-name": name, title: `Bookmark: ${name}`, class: "bookmark" }, 0];
  },
});

/** Words that cite an authority: `id` is that of this place, `of` that of the authority. */
export const Citation = Mark.create({
  name: "citation",
  inclusive: false,
  addAttributes: () => ({
    id: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-citation")), rendered: false },
    of: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-of")), rendered: false },
  }),
  parseHTML: () => [{ tag: "span[data-citation][data-of]", getAttrs: named("data-citation") }],
  renderHTML: ({ mark }) => {
    const { id, of } = mark.attrs as { id: string; of: string };
    return ["span", { "data-citation": id, "data-of": of, class: "citation" }, 0];
  },
});

/** A term and those beneath it, the widest first; whether this place says most about it. */
export type Entry = readonly [terms: readonly string[], main: boolean];

export const MOST_ENTRIES = 16;
const DEEPEST = 3;
const LONGEST_TERM = 500;

/** What somebody may have put there; nothing of it if any of it cannot be used. */
export function entriesOf(given: unknown): Entry[] {
  if (!Array.isArray(given) || given.length > MOST_ENTRIES) return [];
  const found = given.flatMap((one: unknown): Entry[] => {
    if (!Array.isArray(one) || !Array.isArray(one[0]) || one[0].length < 1 || one[0].length > DEEPEST) return [];
    const terms = (one[0] as unknown[]).flatMap((term) => (typeof term === "string" && term.trim() && term.length <= LONGEST_TERM ? [term.replace(/\s+/g, " ").trim()] : []));
    return terms.length === one[0].length ? [[terms, one[1] === true]] : [];
  });
  return found.length === given.length ? found : [];
}

function pastedEntries(given: string | null): Entry[] | null {
  try {
    const found = entriesOf(JSON.parse(given ?? ""));
    return found.length > 0 ? found : null;
  } catch {
    return null;
  }
}

/** Words that the index leads to. */
export const Indexed = Mark.create({
  name: "indexed",
  inclusive: false,
  addAttributes: () => ({
    id: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-indexed")), rendered: false },
    entries: { default: null, parseHTML: (element: HTMLElement) => pastedEntries(element.getAttribute("data-entries")), rendered: false },
  }),
  parseHTML: () => [{ tag: "span[data-indexed][data-entries]", getAttrs: named("data-indexed") }],
  renderHTML: ({ mark }) => {
    const { id, entries } = mark.attrs as { id: string; entries: Entry[] | null };
    return ["span", { "data-indexed": id, "data-entries": JSON.stringify(entries ?? []), class: "indexed" }, 0];
  },
});
