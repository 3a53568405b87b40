import type { View } from "../view";

/**
 * Heading numbers and list markers, as CSS rules by element id.
 *
 * They are not decorations of the editor, because it goes through all decorations for every block at every key; a
 * browser looks up rules by id at no cost.
 */

const quoted = (text: string) => JSON.stringify(text).replaceAll("<", "\\3c ");

/** The element id of a block in the text. */
export const elementId = (block: string) => `block-${block}`;

export class MarkerRules {
  private readonly sheet = new CSSStyleSheet();
  private shown = "";

  constructor() {
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, this.sheet];
  }

  show({ headings, markers }: View): void {
    const rule = (block: string, marker: string) =>
      `#${CSS.escape(elementId(block))}::before { content: ${quoted(marker)}; display: inline-block; }`;
    const rules = [
      ...headings.filter(({ number }) => number).map(({ id, number }) => rule(id, number)),
      ...[...markers].map(([id, marker]) => rule(id, marker)),
    ].join("\n");
    if (rules !== this.shown) this.sheet.replaceSync(rules);
    this.shown = rules;
  }

  remove(): void {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== this.sheet);
  }
}
