/**
 * Tabs in paragraphs that set tab stops, as the pages have them.
 *
 * A browser knows stops at equal distances alone, but lets each tab have a distance of its own: the next multiple of where it is to
 * lead to is just that place (CSS Text 3, 4.2). What stands between two tabs is measured as it is drawn.
 */
import { Extension } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import { Plugin, PluginKey, type EditorState } from "@tiptap/pm/state";
import { Decoration, DecorationSet, type EditorView } from "@tiptap/pm/view";
import { TAB_STOPS } from "../../api/settings";
import { tabStopsOf, type TabStop } from "../controls/stops";
import { styleOf, type Styles } from "./styles";

const POINTS = 72 / 96;
const EDGE = 0.01;
/** Points that a browser keeps free in front of a stop at least, or it goes on to the next: half a figure's width and more. */
const LEAST = 4;
/** Further than any line reaches: from in front of the left edge this leads to the edge. */
const FAR = 10_000;

/** Where each tab of a paragraph leads to, in points from the left of its lines, and what fills the gap. */
type Lead = Pick<TabStop, "leader"> & { to: number };

interface State {
  decorations: DecorationSet;
  styles: Styles;
}

const key = new PluginKey<State>("tabs");

const stopsOf = (node: Node, styles: Styles): TabStop[] =>
  node.isTextblock && node.textContent.includes("\t") ? tabStopsOf((node.attrs.tabStops as string | null) ?? styleOf(styles, node.attrs.style)?.tab_stops ?? "") : [];

/** Where the tabs of a paragraph stand in it. */
function tabsIn(node: Node): number[] {
  const found: number[] = [];
  node.forEach((child, offset) => {
    for (let at = child.text?.indexOf("\t") ?? -1; at >= 0; at = child.text?.indexOf("\t", at + 1) ?? -1) found.push(offset + at);
  });
  return found;
}

function decorated(node: Node, pos: number, leads: readonly Lead[]): Decoration[] {
  return tabsIn(node).map((at, index) => {
    const lead = leads[index];
    const style = lead ? { style: `tab-size: ${Math.round(lead.to * 1000) / 1000}pt` } : {};
    return Decoration.inline(pos + 1 + at, pos + 2 + at, { class: "tab", ...style, ...(lead?.leader && { "data-leader": lead.leader }) });
  });
}

interface Tabbed {
  node: Node;
  pos: number;
}

/** The paragraphs of a document that set tab stops and have tabs, among those that another does not have at the same place. */
function tabbed(doc: Node, before: Node | null, styles: Styles): Tabbed[] {
  const found: Tabbed[] = [];
  let [first, last] = [0, doc.childCount];
  if (before) {
    while (first < last && first < before.childCount && doc.child(first) === before.child(first)) first += 1;
    while (last > first && last - doc.childCount + before.childCount > first && doc.child(last - 1) === before.child(last - 1 - doc.childCount + before.childCount)) last -= 1;
  }
  let pos = 0;
  for (let index = 0; index < last; index += 1) {
    const block = doc.child(index);
    if (index >= first) {
      const look = (node: Node, at: number) => {
        if (stopsOf(node, styles).length > 0) found.push({ node, pos: at });
        return !node.isTextblock;
      };
      if (look(block, pos)) block.descendants((node, at) => look(node, pos + 1 + at));
    }
    pos += block.nodeSize;
  }
  return found;
}

/** The first stop behind a place, as the core has it (`core/pages/lines.py`, `_Stops.after`). */
export function stopAfter(x: number, stops: readonly TabStop[], width: number): TabStop {
  if (x < -EDGE && !stops.some(({ at }) => at > x + EDGE && at < 0)) return { at: 0, align: "left", leader: "" };
  const at = (stop: TabStop) => (stop.align === "left" ? stop.at : Math.min(stop.at, width));
  const found = stops.find((stop) => at(stop) > x + EDGE);
  return found ? { ...found, at: at(found) } : { at: (Math.floor(x / TAB_STOPS.usual) + 1) * TAB_STOPS.usual, align: "left", leader: "" };
}

/** The words between two places of a paragraph, and how wide they are drawn, in points. */
function widthOf(view: EditorView, from: number, to: number): number {
  if (to <= from) return 0;
  const range = document.createRange();
  const [start, end] = [view.domAtPos(from, 1), view.domAtPos(to, -1)];
  range.setStart(start.node, start.offset);
  range.setEnd(end.node, end.offset);
  const root = range.commonAncestorContainer;
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  let width = 0;
  for (let text = root.nodeType === 3 ? root : walker.nextNode(); text; text = root.nodeType === 3 ? null : walker.nextNode()) {
    if (!range.intersectsNode(text)) continue;
    const part = document.createRange();
    part.setStart(text, text === range.startContainer ? range.startOffset : 0);
    part.setEnd(text, text === range.endContainer ? range.endOffset : (text.nodeValue ?? "").length);
    for (const { width: wide } of part.getClientRects()) width += wide;
  }
  return width * POINTS;
}

/** Where the tabs of a paragraph lead to: measured where it is drawn. */
function measured(view: EditorView, node: Node, pos: number, styles: Styles, sign: RegExp): Lead[] | null {
  const element = view.nodeDOM(pos);
  if (!(element instanceof HTMLElement) || element.offsetWidth === 0) return null;
  const css = getComputedStyle(element);
  const box = element.getBoundingClientRect();
  const left = box.left + parseFloat(css.paddingLeft);
  const width = (box.width - parseFloat(css.paddingLeft) - parseFloat(css.paddingRight)) * POINTS;
  const indent = (node.attrs.indent as number | null) ?? styleOf(styles, node.attrs.style)?.indent ?? 0;
  const stops = stopsOf(node, styles).map((stop) => ({ ...stop, at: stop.at - indent }));
  const words = node.textBetween(0, node.content.size, undefined, (leaf) => (leaf.type.name === "hardBreak" ? "\n" : "\ufffc"));
  const tabs = tabsIn(node);
  let line: number | null = null;
  let end = 0;
  return tabs.map((at, index) => {
    const there = view.coordsAtPos(pos + 1 + at, 1);
    // In one line with the tab before it, it stands where that leads to, and what lies between them behind.
    const x: number = line !== null && Math.abs(there.top - line) < 4 ? end : (there.left - left) * POINTS;
    line = there.top;
    const stop = stopAfter(x, stops, width);
    const after = /[\t\n]|$/.exec(words.slice(at + 1));
    const cell = words.slice(at + 1, at + 1 + (after?.index ?? 0)).trimEnd();
    const wide = (length: number) => widthOf(view, pos + 2 + at, pos + 2 + at + length);
    let { at: to, leader } = stop;
    const whole = wide(cell.length);
    if (stop.align !== "left") {
      const decimal = stop.align === "decimal" ? sign.exec(cell) : null;
      const inFront = stop.align === "center" ? whole / 2 : decimal ? wide(decimal.index) : whole;
      if (whole > width - x) [to, leader] = [x, ""];
      else to = Math.max(x, Math.min(to - inFront, width - whole));
    }
    end = to + wide((after?.index ?? 0));
    if (index + 1 === tabs.length) end = to;
    return { to: to === 0 ? FAR : Math.abs(Math.max(to, x < 0 ? to : x + LEAST)), leader };
  });
}

const isSame = (one: readonly Lead[] | undefined, other: readonly Lead[]) =>
  one?.length === other.length && one.every(({ to, leader }, index) => Math.abs(to - (other[index]?.to ?? NaN)) < 0.05 && leader === other[index]?.leader);

interface Options {
  styles: () => Styles;
  /** Of the report's words: it says what the decimal sign is. */
  language: () => string;
}

/** What stands between a number's whole and its fraction. */
function decimalSign(language: string): RegExp {
  let sign: string | undefined;
  try {
    sign = new Intl.NumberFormat(language || "en").formatToParts(1.5).find(({ type }) => type === "decimal")?.value;
  } catch (error) {
    if (!(error instanceof RangeError)) throw error; // a language that is none
  }
  return new RegExp(`[${sign ?? "."}](?=\\d)`);
}

export const Tabs = Extension.create<Options>({
  name: "tabs",
  addOptions: () => ({ styles: () => [], language: () => "en" }),
  addProseMirrorPlugins() {
    const { styles, language } = this.options;
    const leads = new WeakMap<Node, readonly Lead[]>();
    return [
      new Plugin<State>({
        key,
        state: {
          init: () => ({ decorations: DecorationSet.empty, styles: styles() }),
          apply: (change, state, before) => {
            const anew = state.styles !== styles();
            const found = anew ? tabbed(change.doc, null, styles()) : ((change.getMeta(key) as Tabbed[] | undefined) ?? (change.docChanged ? tabbed(change.doc, before.doc, styles()) : []));
            if (!anew && !change.docChanged && found.length === 0) return state;
            let decorations = anew ? DecorationSet.empty : state.decorations.map(change.mapping, change.doc);
            for (const { node, pos } of found) decorations = decorations.remove(decorations.find(pos, pos + node.nodeSize));
            return { decorations: decorations.add(change.doc, found.flatMap(({ node, pos }) => decorated(node, pos, leads.get(node) ?? []))), styles: styles() };
          },
        },
        props: { decorations: (state) => key.getState(state)?.decorations },
        view: (view) => {
          const measure = (before: EditorState | null) => {
            const used = key.getState(view.state)?.styles ?? [];
            const known = before && key.getState(before)?.styles === used ? before.doc : null;
            const sign = decimalSign(language());
            const changed = tabbed(view.state.doc, known, used).filter(({ node, pos }) => {
              const found = measured(view, node, pos, used, sign);
              if (!found || isSame(leads.get(node), found)) return false;
              leads.set(node, found);
              return true;
            });
            if (changed.length > 0) view.dispatch(view.state.tr.setMeta(key, changed).setMeta("addToHistory", false));
          };
          // Until it is shown the text has no width; and until the faces are there, words are as wide as in others.
          let width = 0;
          const shown = new ResizeObserver(() => {
            if (width !== view.dom.offsetWidth) measure(null);
            width = view.dom.offsetWidth;
          });
          shown.observe(view.dom);
          void document.fonts.ready.then(() => view.isDestroyed || measure(null));
          return {
            destroy: () => shown.disconnect(),
            update: (_, before) => (before.doc !== view.state.doc || key.getState(before)?.styles !== key.getState(view.state)?.styles) && measure(before),
          };
        },
      }),
    ];
  },
});
