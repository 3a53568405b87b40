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

  constructor() {
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, this.sheet];
  }

  show(markers: ReadonlyMap<string, string>): void {
    const rules = [...markers].map(
      ([block, marker]) => `#${CSS.escape(elementId(block))}::before { content: ${quoted(marker)}; display: inline-block; }`,
    );
    this.sheet.replaceSync(rules.join("\n"));
  }

  remove(): void {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== this.sheet);
  }
}
