/** The text's own marks: formatting of words on top of what their paragraph's style says. */
import { Mark, type Attribute } from "@tiptap/core";
import { Bold } from "@tiptap/extension-bold";
import { Italic } from "@tiptap/extension-italic";
import type { StyleShown } from "../../api/client";
import { familyOf } from "../fonts";
import { identifier, numberWithin, plain } from "./kinds/attributes";

/** Bold and italic, and with `off` the taking away of what the paragraph's style gives. */
const off: Attribute = {
  default: false,
  parseHTML: (element) => element.hasAttribute("data-off"),
  renderHTML: (attributes) => (attributes.off === true ? { "data-off": "" } : {}),
};
export const Weight = Bold.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });
export const Slant = Italic.extend({ addAttributes: () => ({ off }), addKeyboardShortcuts: () => ({}) });

const FONTS: readonly StyleShown["font"][] = ["Caladea", "Carlito", "Liberation Serif", "Liberation Sans", "Liberation Mono"];
const COLOUR = /^#[0-9a-f]{6}$/;

/** Font, size and colour of a run, as far as they differ from the paragraph's style. */
export const Typeface = Mark.create({
  name: "typeface",
  addAttributes: () => ({ font: plain(), size: plain(), colour: plain() }),
  parseHTML: () => [
    {
      tag: "span[data-typeface]",
      getAttrs: (element) => ({
        font: FONTS.find((font) => font === element.getAttribute("data-font")) ?? null,
        size: numberWithin(element.getAttribute("data-size"), 1, 400),
        colour: COLOUR.test(element.getAttribute("data-colour") ?? "") ? element.getAttribute("data-colour") : null,
      }),
    },
  ],
  renderHTML: ({ mark }) => {
    const { font, size, colour } = mark.attrs as { font: unknown; size: unknown; colour: unknown };
    const rules: string[] = [];
    const data: Record<string, string> = { "data-typeface": "" };
    if (typeof font === "string" && FONTS.some((one) => one === font)) {
      rules.push(`font-family: ${familyOf(font)}`);
      data["data-font"] = font;
    }
    if (typeof size === "number" && size >= 1 && size <= 400) {
      rules.push(`font-size: ${size}pt`);
      data["data-size"] = String(size);
    }
    if (typeof colour === "string" && COLOUR.test(colour)) {
      rules.push(`color: ${colour}`);
      data["data-colour"] = colour;
    }
    return ["span", { ...data, style: rules.join("; ") }, 0];
  },
});

/** A name for a stretch of words: links and references lead to its id. */
export const Bookmark = Mark.create({
  name: "bookmark",
  inclusive: false,
  addAttributes: () => ({
    id: { default: null, parseHTML: (element: HTMLElement) => identifier(element.getAttribute("data-bookmark")), rendered: false },
    name: { default: "", parseHTML: (element: HTMLElement) => (element.getAttribute("data-name") ?? "").slice(0, 80), rendered: false },
  }),
  parseHTML: () => [{ tag: "span[data-bookmark]" }],
  renderHTML: ({ mark }) => {
    const { id, name } = mark.attrs as { id: string; name: string };
    return ["span", { "data-bookmark": id, "data-name": name, title: `Bookmark: ${name}`, class: "bookmark" }, 0];
  },
});

export const typefaces = FONTS;
