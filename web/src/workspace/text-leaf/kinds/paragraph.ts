/** A paragraph names its style; a heading is a paragraph whose style has an outline level. */
import { Node } from "@tiptap/core";
import { ALIGNS, id, identifier, points, asDataAttribute } from "./attributes";
import type { StyleShown } from "../../../api/client";
import { backgroundInCss, bordersInCss } from "../inCss";
import { forHeading, forItem, forRole, styleOf, type Styles } from "../styles";
import type { BlockKind } from "./kind";

/** The style of a paragraph that is pasted: its own, or what its element means. */
function pastedStyle(element: HTMLElement, styles: Styles): string {
  const given = element.getAttribute("data-style");
  if (given && styles.some((style) => style.id === given)) return given;
  // A style of another report does not come along: what was a heading stays one of its level.
  const foreign = /^[1-9]$/.exec(element.getAttribute("data-level") ?? "")?.[0];
  if (foreign) return forHeading(styles, Number(foreign));
  const level = /^H([1-6])$/.exec(element.tagName)?.[1];
  if (level) return forHeading(styles, Number(level));
  const item = element.closest("li");
  if (item) {
    let depth = 0;
    for (let at: Element | null = item; at; at = at.parentElement?.closest("li") ?? null) depth += 1;
    return forItem(styles, item.parentElement?.tagName === "OL" ? "decimal" : "bullet", depth);
  }
  if (element.closest("blockquote")) return forRole(styles, "quotation");
  return forRole(styles, element.closest("td, th") ? "cell" : "body");
}

/**
 * What a paragraph is to those who hear it: a heading of its level, which may be beyond the six of HTML (WAI-ARIA 1.2,
 * aria-level). Items and captions stand in a flat text, where no element could hold a list, or a picture with its caption:
 * they stay paragraphs, and say what they are.
 */
export function roleOf(style: StyleShown | undefined): Record<string, string> {
  if (style?.outline_level) return { role: "heading", "aria-level": String(style.outline_level) };
  if (style?.marker) return { "aria-roledescription": `list item${(style.list_level ?? 1) > 1 ? `, level ${style.list_level}` : ""}` };
  return style?.role === "caption" ? { "aria-roledescription": "caption" } : {};
}

const Paragraph = Node.create<{ styles: () => Styles }>({
  name: "paragraph",
  group: "block",
  content: "inline*",
  marks: "bold italic underline typeface link bookmark citation indexed",
  // What is pasted into an empty paragraph brings its own style and id along.
  defining: true,
  priority: 1000,
  addOptions: () => ({ styles: () => [] }),
  addAttributes() {
    const { styles } = this.options;
    return {
      id,
      style: {
        default: "body",
        parseHTML: (element) => pastedStyle(element, styles()),
        renderHTML: ({ style }) => {
          const found = styleOf(styles(), style);
          const level = found?.outline_level;
          return { "data-style": style as string, ...(level && { "data-level": String(level) }), ...roleOf(found) };
        },
      },
      align: {
        default: null,
        parseHTML: (element) => (ALIGNS.includes(element.style.textAlign) ? element.style.textAlign : null),
        renderHTML: (attributes) =>
          ALIGNS.includes(attributes.align as string)
            ? { style: `text-align: ${attributes.align as string}`, "data-align": attributes.align as string }
            : {},
      },
      before: points("before", "margin-top"),
      after: points("after", "margin-bottom"),
      lines: points("lines", "line-height"),
      indent: points("indent", "--own-indent"),
      firstLine: {
        default: null,
        parseHTML: () => null,
        renderHTML: ({ firstLine }) =>
          typeof firstLine === "number"
            ? { style: `--own-first: ${firstLine}pt`, [firstLine > 0 ? "data-indented" : "data-hanging"]: "" }
            : {},
      },
      rightIndent: points("rightIndent", "--own-right"),
      background: {
        default: null,
        parseHTML: () => null,
        renderHTML: ({ background }) =>
          typeof background === "string" ? { style: `--background: ${backgroundInCss(background)}`, "data-framed": "" } : {},
      },
      borders: {
        default: null,
        parseHTML: () => null,
        renderHTML: ({ borders }) => (typeof borders === "string" ? { style: bordersInCss(borders), "data-framed": "" } : {}),
      },
      contextualSpacing: asDataAttribute("contextualSpacing"),
      tabStops: asDataAttribute("tabStops"),
      number: asDataAttribute("number"),
      // Counting begins with one heading or list item alone, not with its other half as well.
      numberFrom: { ...asDataAttribute("numberFrom"), keepOnSplit: false },
      caption: { ...asDataAttribute("caption"), parseHTML: (element) => identifier(element.getAttribute("data-caption")), keepOnSplit: false },
      listed: asDataAttribute("listed"),
      newPage: { ...asDataAttribute("newPage"), keepOnSplit: false },
      keepWithNext: asDataAttribute("keepWithNext"),
      keepTogether: asDataAttribute("keepTogether"),
      note: {
        default: null,
        keepOnSplit: false,
        parseHTML: (element) => /^(foot|end)$/.exec(element.getAttribute("data-note") ?? "")?.[0] ?? null,
        renderHTML: ({ note }) => (note ? { "data-note": note as string, "aria-roledescription": "note" } : {}),
      },
    };
  },
  parseHTML: () => [{ tag: "p" }, ...[1, 2, 3, 4, 5, 6].map((level) => ({ tag: `h${level}` }))],
  renderHTML: ({ HTMLAttributes }) => ["p", HTMLAttributes, 0],
});

export const paragraph: BlockKind = { name: "paragraph", nodes: ({ styles }) => [Paragraph.configure({ styles })] };
