import type { View } from "../view";
import { elementId } from "./kinds/attributes";
import { roomRules } from "./styleRules";
import type { Styles } from "./styles";

/**
 * Heading numbers and list markers, as CSS rules by element id.
 *
 * They are not decorations of the editor, because it goes through all decorations for every block at every key; a
 * browser looks up rules by id at no cost.
 */

const quoted = (text: string) => JSON.stringify(text).replaceAll("<", "\\3c ");

const sameMarkers = (one: View, other: View) =>
  one.markers === other.markers &&
  one.number_widths === other.number_widths &&
  one.captions === other.captions &&
  one.headings.length === other.headings.length &&
  one.headings.every(({ id, number }, at) => id === other.headings[at]?.id && number === other.headings[at]?.number);

export class MarkerRules {
  private readonly sheet = new CSSStyleSheet();
  private shown: View | null = null;
  private styles: Styles = [];

  constructor() {
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, this.sheet];
  }

  show(view: View, styles: Styles): void {
    if (this.shown && this.styles === styles && sameMarkers(this.shown, view)) return;
    this.shown = view;
    this.styles = styles;
    const { captions, headings, markers } = view;
    const rule = (block: string, marker: string) =>
      `#${CSS.escape(elementId(block))}::before { content: ${quoted(marker)}; display: inline-block; }`;
    const rules = [
      ...roomRules(styles, view.number_widths),
      ...headings.filter(({ number }) => number).map(({ id, number }) => rule(id, number)),
      ...[...markers].map(([id, marker]) => rule(id, marker)),
      ...[...captions].map(([id, front]) => `#${CSS.escape(elementId(id))}::before { content: ${quoted(front)}; }`),
    ];
    this.sheet.replaceSync(rules.join("\n"));
  }

  remove(): void {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== this.sheet);
  }
}
