/**
 * Carries out a plan that the server made: all of it is one edit of whoever asked for it, and one step of their undo.
 *
 * The core does the same to a report (`core/report/plan.py`); one set of cases holds the two together. What others have
 * written since is respected: a step whose block is gone is left out, and words are taken away only if they still read so.
 */
import type { Editor } from "@tiptap/core";
import { Fragment, type Node, type Schema } from "@tiptap/pm/model";
import type { Transaction } from "@tiptap/pm/state";
import type { ElementOf, Plan, PlanStep, Values } from "../../api/plan";
import { followBlocks } from "./following";
import { changeInPlace, withAttributes, withMarks, type Cut, type Found } from "./inPlace";
import { perform } from "./insert";
import { characterOf } from "./kinds/reference";

/** The block of the text itself with an id. */
export function findOuter(doc: Node, id: string): Found | null {
  let found: Found | null = null;
  doc.forEach((node, pos) => {
    if (!found && node.attrs.id === id) found = { node, pos };
  });
  return found;
}

/** The position behind a block; that of the start if there is none to be behind, null if that one is gone. */
function positionAfter(doc: Node, after: string | null): number | null {
  if (after === null) return 0;
  const found = findOuter(doc, after);
  return found && found.pos + found.node.nodeSize;
}

/** A node for an element of a plan; null for what the editor does not know. */
export function nodeOf(element: ElementOf | { text: string; attributes: Values }, schema: Schema): Node | null {
  if ("text" in element) {
    const marks = Object.entries(element.attributes).flatMap(([name, attributes]) => schema.marks[name]?.create(attributes as Values) ?? []);
    return schema.text(element.text, marks);
  }
  const children = element.children.flatMap((child) => nodeOf(child, schema) ?? []);
  return schema.nodes[element.tag]?.createAndFill(element.attributes, children) ?? null;
}

type Instead = Extract<PlanStep, { step: "cut" }>["instead"];

type InPlace = Extract<PlanStep, { step: "set" | "format" | "cut" }>;

const isInPlace = (step: PlanStep): step is InPlace => step.step === "set" || step.step === "format" || step.step === "cut";

/** A block while steps change it: what it is by now, and which of its words are gone, in ascending order. */
interface Changing extends Found {
  now: Node;
  cuts: readonly Cut[];
}

function changeOne(one: Changing, step: InPlace): void {
  if (step.step === "cut") cut(one, step.start, step.words, step.instead);
  else one.now = changed(one.now, step);
}

/** Takes words out, if they still read so, and puts something in their place. */
function cut(one: Changing, start: number, words: string, instead: Instead): void {
  const { content, isTextblock } = one.now;
  const end = start + words.length;
  if (!isTextblock || end > content.size || one.now.textBetween(start, end, "", characterOf) !== words || !words) return;
  const put = Fragment.fromArray(instead.flatMap((child) => nodeOf(child, one.now.type.schema) ?? []));
  one.now = one.now.copy(content.cut(0, start).append(put).append(content.cut(end)));
  // Where the words were before anything was taken out; what was taken out within them goes with them.
  const [from, until] = [original(one.cuts, start), original(one.cuts, end - 1) + 1];
  const outside = one.cuts.filter(([at]) => at < from || at >= until);
  one.cuts = [...outside, [from, until - from, put.size] as const].sort(([first], [second]) => first - second);
}

/** The place that a character had before words were taken out. */
function original(cuts: readonly Cut[], place: number): number {
  let at = place;
  for (const [start, size, put] of cuts) if (start <= at - put) at += size - put;
  return at;
}

/** A block as a step that changes its settings or marks leaves it. */
function changed(node: Node, step: Exclude<InPlace, { step: "cut" }>): Node {
  if (step.step === "set") {
    const { defaultAttrs } = node.type as unknown as { defaultAttrs: Values };
    const known = Object.entries(step.values).filter(([name]) => name in node.attrs);
    return withAttributes(node, Object.fromEntries(known.map(([name, value]) => [name, value ?? defaultAttrs[name]])));
  }
  if (!node.isTextblock) return node;
  if (step.words && (step.end > node.content.size || node.textBetween(step.start, step.end, "", characterOf) !== step.words)) return node;
  const { marks: types } = node.type.schema;
  return withMarks(node, step.start, step.end, (marks) => {
    let now = marks;
    for (const [name, value] of Object.entries(step.values)) {
      const type = types[name];
      if (type) now = value === null ? type.removeFromSet(now) : type.create(value as Values).addToSet(now);
    }
    return now;
  });
}

/** Carries out steps that move nothing, all at once. */
function takeInPlace(change: Transaction, steps: readonly InPlace[]): void {
  const found = new Map<string, Changing>();
  const wanted = new Set(steps.map(({ block }) => block));
  change.doc.descendants((node, pos) => {
    const id = node.attrs.id as string | undefined;
    if (id && wanted.has(id) && !found.has(id)) found.set(id, { node, pos, now: node, cuts: [] });
    return !node.isTextblock;
  });
  for (const step of steps) {
    const one = found.get(step.block);
    if (one) changeOne(one, step);
  }
  changeInPlace(change, found.values(), (one) => one.now, (one) => one.cuts);
}

/** Takes blocks out, in the order of the text; those that follow each other at once, since each step costs as much as the text is long. */
function takeOut(change: Transaction, blocks: readonly Found[]): void {
  const stretches: [from: number, to: number][] = [];
  for (const { node, pos } of blocks) {
    const last = stretches.at(-1);
    if (last?.[1] === pos) last[1] += node.nodeSize;
    else stretches.push([pos, pos + node.nodeSize]);
  }
  for (const [from, to] of stretches.reverse()) change.delete(from, to);
}

function take(change: Transaction, step: Exclude<PlanStep, InPlace>): void {
  const { doc } = change;
  switch (step.step) {
    case "move": {
      if (step.after !== null && (step.blocks.includes(step.after) || !findOuter(doc, step.after))) return;
      const found = new Map<string, Found>();
      const wanted = new Set(step.blocks);
      doc.forEach((node, pos) => {
        const id = node.attrs.id as string;
        if (wanted.has(id) && !found.has(id)) found.set(id, { node, pos });
      });
      takeOut(change, [...found.values()]);
      const at = positionAfter(change.doc, step.after);
      if (at !== null) change.insert(at, step.blocks.flatMap((id) => found.get(id)?.node ?? []));
      return;
    }
    case "insert": {
      const at = positionAfter(doc, step.after);
      const blocks = step.blocks.flatMap((element) => nodeOf(element, doc.type.schema) ?? []);
      if (at !== null) change.insert(at, blocks);
      return;
    }
    case "remove": {
      const wanted = new Set(step.blocks);
      const found: Found[] = [];
      doc.forEach((node, pos) => {
        const reads = step.reads[node.attrs.id as string];
        if (wanted.has(node.attrs.id as string) && (reads === undefined || wordsOf(node) === reads)) found.push({ node, pos });
      });
      takeOut(change, found);
    }
  }
}

/** The words of a paragraph, with one character for each of what else stands among them. */
const wordsOf = (node: Node): string => node.textBetween(0, node.content.size, "", characterOf);

/** Carries out a plan; whether anything changed. */
export function carryOut(editor: Editor, plan: Plan): boolean {
  const change = editor.state.tr;
  let inPlace: InPlace[] = [];
  const settle = () => {
    if (inPlace.length > 0) takeInPlace(change, inPlace);
    inPlace = [];
  };
  for (const step of plan) {
    if (isInPlace(step)) inPlace.push(step);
    else {
      settle();
      take(change, step);
    }
  }
  settle();
  if (!change.docChanged) return false;
  if (followBlocks(change, editor.state.selection)) change.scrollIntoView();
  perform(editor, change);
  return true;
}
