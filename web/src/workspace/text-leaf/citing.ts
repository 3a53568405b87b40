/** Citations and terms of the index: marks on words, put there, changed and taken off. Each change is one step of undo. */
import type { Editor } from "@tiptap/core";
import type { Mark, Node } from "@tiptap/pm/model";
import { NodeSelection } from "@tiptap/pm/state";
import type { FoundWords } from "../../api/client";
import type { PlanStep, Values } from "../../api/plan";
import { newId } from "./ids";
import { characterOf } from "./kinds/reference";
import { entriesOf, MOST_ENTRIES, type Entry } from "./marks";
import { carryOut } from "./plan";

/** Words of a paragraph, by character of its text. */
export interface Stretch {
  block: string;
  start: number;
  end: number;
  words: string;
}

const text = (node: Node, start: number, end: number) => node.textBetween(start, end, "", characterOf);

/** The selected words, those of each paragraph by themselves and without space around; none without any. */
export function selected(editor: Editor): Stretch[] {
  const { selection, doc } = editor.state;
  if (selection.empty || selection instanceof NodeSelection) return [];
  const found: Stretch[] = [];
  doc.nodesBetween(selection.from, selection.to, (node, pos) => {
    if (!node.isTextblock) return true;
    const [from, to] = [Math.max(selection.from - pos - 1, 0), Math.min(selection.to - pos - 1, node.content.size)];
    const words = text(node, from, to);
    const start = from + words.length - words.trimStart().length;
    const end = to - (words.length - words.trimEnd().length);
    if (start < end) found.push({ block: node.attrs.id as string, start, end, words: text(node, start, end) });
    return false;
  });
  return found;
}

export const wordsOfStretches = (stretches: readonly Stretch[]): string => stretches.map(({ words }) => words.replace(/\s+/g, " ")).join(" ");

const stretchOf = ({ paragraph, start, end, words }: FoundWords): Stretch => ({ block: paragraph, start, end, words });

const step = ({ block, start, end, words }: Stretch, values: Values): PlanStep => ({ step: "format", block, start, end, words, values });

/** Those that were found elsewhere than here. */
export const elsewhere = (found: readonly FoundWords[], here: readonly Stretch[]): FoundWords[] =>
  found.filter((one) => !here.some(({ block, start, end }) => block === one.paragraph && start < one.end && end > one.start));

/** Marks words as citing an authority: what is given as `here` is one citation, each of `found` one of its own. */
export function cite(editor: Editor, of: string, here: readonly Stretch[], found: readonly FoundWords[]): boolean {
  const id = newId();
  return carryOut(editor, [
    ...here.map((one) => step(one, { citation: { id, of } })),
    ...found.map((one) => step(stretchOf(one), { citation: { id: newId(), of } })),
  ]);
}

/** Marks what was found as citing several authorities, in one step of undo; the ids of these citations. */
export function citeSeveral(editor: Editor, several: readonly { of: string; places: readonly FoundWords[] }[]): ReadonlySet<string> {
  const steps = several.flatMap(({ of, places }) => places.map((one) => ({ id: newId(), of, one })));
  const done = carryOut(editor, steps.map(({ id, of, one }) => step(stretchOf(one), { citation: { id, of } })));
  return new Set(done ? steps.map(({ id }) => id) : []);
}

/** Every stretch with a mark of this name. */
function marked(editor: Editor, name: string): { stretch: Stretch; mark: Mark }[] {
  const found: { stretch: Stretch; mark: Mark }[] = [];
  editor.state.doc.descendants((node) => {
    if (!node.isTextblock) return true;
    node.forEach((child, offset) => {
      const mark = child.marks.find(({ type }) => type.name === name);
      if (mark && child.isText) found.push({ stretch: { block: node.attrs.id as string, start: offset, end: offset + child.nodeSize, words: child.text ?? "" }, mark });
    });
    return false;
  });
  return found;
}

/** Has everything that cites one authority cite another; or nothing, with null. `place`: that citation alone. */
export function citeInstead(editor: Editor, of: string, other: string | null, place?: string): boolean {
  const there = marked(editor, "citation").filter(({ mark }) => mark.attrs.of === of && (place === undefined || mark.attrs.id === place));
  return carryOut(editor, there.map(({ stretch, mark }) => step(stretch, { citation: other === null ? null : { id: mark.attrs.id as string, of: other } })));
}

/** Takes these citations off, by their ids. */
export function uncite(editor: Editor, ids: ReadonlySet<string>): boolean {
  const there = marked(editor, "citation").filter(({ mark }) => ids.has(mark.attrs.id as string));
  return carryOut(editor, there.map(({ stretch }) => step(stretch, { citation: null })));
}

const same = (one: readonly string[], other: readonly string[]) => one.join("\n") === other.join("\n");

const entriesAt = (mark: Mark | undefined): Entry[] => entriesOf(mark?.attrs.entries);

/**
 * Marks words for the index, beside the terms under which they are marked already. Words under as many as there is room for stay
 * as they are; how many stretches of these there were, or null where nothing was done since the words have changed.
 */
export function indexWords(editor: Editor, [terms, main]: Entry, here: readonly Stretch[], found: readonly FoundWords[]): number | null {
  const there = new Map<string, { stretch: Stretch; mark: Mark }[]>();
  for (const one of marked(editor, "indexed")) {
    const list = there.get(one.stretch.block);
    if (list) list.push(one);
    else there.set(one.stretch.block, [one]);
  }
  const steps: PlanStep[] = [];
  let full = 0;
  const put = (stretch: Stretch, id: string, own: Entry) => {
    steps.push(step(stretch, { indexed: { id, entries: [own] } }));
    // Words that are marked already keep what they have.
    for (const { stretch: old, mark } of there.get(stretch.block) ?? []) {
      const [start, end] = [Math.max(old.start, stretch.start), Math.min(old.end, stretch.end)];
      if (start >= end) continue;
      const others = entriesAt(mark).filter(([other]) => !same(other, terms));
      const room = others.length < MOST_ENTRIES;
      if (!room) full += 1;
      const entries = room ? [...others, own] : others;
      steps.push({ step: "format", block: old.block, start, end, values: { indexed: { id: mark.attrs.id as string, entries } } });
    }
  };
  const id = newId();
  for (const one of here) put(one, id, [terms, main]);
  for (const one of found) put(stretchOf(one), newId(), [terms, false]);
  return carryOut(editor, steps) ? full : null;
}

/** Has words stand under another term, or not under this one any more, with null. `place`: those words alone. */
export function indexInstead(editor: Editor, terms: readonly string[], instead: ((main: boolean) => Entry) | null, place?: string): boolean {
  const steps = marked(editor, "indexed").flatMap(({ stretch, mark }) => {
    if (place !== undefined && mark.attrs.id !== place) return [];
    const before = entriesAt(mark);
    if (!before.some(([own]) => same(own, terms))) return [];
    const entries = before.flatMap(([own, main]): Entry[] => (same(own, terms) ? (instead ? [instead(main)] : []) : [[own, main]]));
    const once = entries.filter(([own], at) => entries.findIndex(([other]) => same(own, other)) === at);
    return [step(stretch, { indexed: once.length > 0 ? { id: mark.attrs.id as string, entries: once } : null })];
  });
  return carryOut(editor, steps);
}

/** The mark of this name with the cursor in it, or right in front of it. */
export function markAt(editor: Editor, name: string): Mark | undefined {
  const { $from, empty } = editor.state.selection;
  const { nodeAfter } = $from;
  return [...$from.marks(), ...(empty || nodeAfter ? (nodeAfter?.marks ?? []) : [])].find(({ type }) => type.name === name);
}
