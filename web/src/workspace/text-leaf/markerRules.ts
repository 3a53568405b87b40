import { noteSign, type View } from "../view";
import type { ReportShown } from "../../api/client";
import { partsOf } from "../controls/partsOf";
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

/** The signs of notes, each with the note. */
const signsOf = (view: View): (readonly [id: string, sign: string])[] =>
  view.places.flatMap(({ id, kind }) => (kind === "note" && noteSign(view, id) ? [[id, noteSign(view, id)] as const] : []));

const sameSigns = (one: View, other: View) =>
  (one.shown === other.shown && one.places === other.places) || JSON.stringify(signsOf(one)) === JSON.stringify(signsOf(other));

const sameMarkers = (one: View, other: View) =>
  one.markers === other.markers &&
  one.number_widths === other.number_widths &&
  one.captions === other.captions &&
  one.parts === other.parts &&
  one.labels === other.labels &&
  sameSigns(one, other) &&
  one.headings.length === other.headings.length &&
  one.headings.every(({ id, number }, at) => id === other.headings[at]?.id && number === other.headings[at]?.number);

export class MarkerRules {
  private readonly sheet = new CSSStyleSheet();
  private shown: View | null = null;
  private styles: Styles = [];
  private parts: ReportShown["parts"] = {};

  constructor() {
    document.adoptedStyleSheets = [...document.adoptedStyleSheets, this.sheet];
  }

  show(view: View, report: ReportShown): void {
    const { styles, parts } = report;
    if (this.shown && this.styles === styles && this.parts === parts && sameMarkers(this.shown, view)) return;
    this.shown = view;
    this.styles = styles;
    this.parts = parts;
    const partRule = (id: string, words: string) => `#${CSS.escape(elementId(id))} .part-words::before { content: ${quoted(words)}; }`;
    const { captions, headings, markers } = view;
    const rule = (block: string, marker: string) =>
      `#${CSS.escape(elementId(block))}::before { content: ${quoted(marker)}; display: inline-block; }`;
    const signRule = (note: string, sign: string) =>
      `#${CSS.escape(elementId(note))}[data-note]::before { content: ${quoted(`${sign} `)}; font-size: 65%; vertical-align: 0.538em; line-height: 0; color: inherit; font-variant-numeric: tabular-nums; }`;
    const rules = [
      ...roomRules(styles, view.number_widths),
      ...headings.filter(({ number }) => number).map(({ id, number }) => rule(id, number)),
      ...[...markers].map(([id, marker]) => rule(id, marker)),
      ...[...captions].map(([id, front]) => `#${CSS.escape(elementId(id))}::before { content: ${quoted(front)}; }`),
      ...signsOf(view).map(([id, sign]) => signRule(id, sign)),
      ...Object.entries(parts).map(([id, { name }]) => partRule(id, `${name || "A part"} · no page, since another part begins here`)),
      ...partsOf(report, view).map(({ id, part, numbers }) => partRule(id, [part.name || "A part", numbers, ...(part.page.width ? ["on paper of its own"] : [])].join(" · "))),
    ];
    this.sheet.replaceSync(rules.join("\n"));
  }

  remove(): void {
    document.adoptedStyleSheets = document.adoptedStyleSheets.filter((sheet) => sheet !== this.sheet);
  }
}
