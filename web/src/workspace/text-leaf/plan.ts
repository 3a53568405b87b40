/**
 * Carries out a plan that the server made: all of it is one edit of whoever asked for it, and one step of their undo.
 *
 * The core does the same to a report (`core/report/plan.py`); one set of cases holds the two together. What others have
 * written since is respected: a step whose block is gone is left out, and words are taken away only if they still read so.
 */
import type { Editor } from "@tiptap/core";
import type { Node, Schema } from "@tiptap/pm/model";
import type { Transaction } from "@tiptap/pm/state";
import type { ElementOf, Plan, PlanStep, Values } from "../../api/plan";
import { perform } from "./insert";

interface Found {
  node: Node;
  pos: number;
}

/** Where each block stands, by id, as long as steps only change blocks and move none. */
type Places = Map<string, number>;

function placesIn(doc: Node): Places {
  const places: Places = new Map();
  doc.descendants((node, pos) => {
    const id = node.attrs.id as string | undefined;
    if (id && !places.has(id)) places.set(id, pos);
    return !node.isTextblock;
  });
  return places;
}

/** The block with an id, wherever it stands. */
function find(doc: Node, places: Places, id: string): Found | null {
  const pos = places.get(id);
  const node = pos === undefined ? null : doc.nodeAt(pos);
  return node && pos !== undefined ? { node, pos } : null;
}

/** The block of the text itself with an id. */
function findOuter(doc: Node, id: string): Found | null {
  let found: Found | null = null;
  doc.forEach((node, pos) => {
    if (!found && node.attrs.id === id) found = { node, pos };
  });
  return found;
}

/** The position behind a block; that of the start if there is none to be behind, null if that one is gone. */
function positionBehind(doc: Node, behind: string | null): number | null {
  if (behind === null) return 0;
  const found = findOuter(doc, behind);
  return found && found.pos + found.node.nodeSize;
}

function nodeOf(element: ElementOf | { text: string; attributes: Values }, schema: Schema): Node | null {
  if ("text" in element) {
    const marks = Object.entries(element.attributes).flatMap(([name, attributes]) => schema.marks[name]?.create(attributes as Values) ?? []);
    return schema.text(element.text, marks);
  }
  const children = element.children.flatMap((child) => nodeOf(child, schema) ?? []);
  return schema.nodes[element.tag]?.createAndFill(element.attributes, children) ?? null;
}

function format(change: Transaction, { node, pos }: Found, start: number, end: number, values: Values): void {
  const from = pos + 1 + Math.min(start, node.content.size);
  const to = pos + 1 + Math.min(end, node.content.size);
  for (const [name, value] of Object.entries(values)) {
    const type = change.doc.type.schema.marks[name];
    if (type && value === null) change.removeMark(from, to, type);
    else if (type) change.addMark(from, to, type.create(value as Values));
  }
}

function take(change: Transaction, step: PlanStep, places: Places): void {
  const { doc } = change;
  switch (step.step) {
    case "set": {
      const found = find(doc, places, step.block);
      if (!found) return;
      const { defaultAttrs } = found.node.type as unknown as { defaultAttrs: Values };
      for (const [name, value] of Object.entries(step.values)) {
        const wanted = value ?? defaultAttrs[name];
        if (name in found.node.attrs && found.node.attrs[name] !== wanted) change.setNodeAttribute(found.pos, name, wanted);
      }
      return;
    }
    case "format": {
      const found = find(doc, places, step.block);
      if (found?.node.isTextblock) format(change, found, step.start, step.end, step.values);
      return;
    }
    case "cut": {
      const found = find(doc, places, step.block);
      if (!found?.node.isTextblock) return;
      const end = step.start + step.words.length;
      if (end <= found.node.content.size && found.node.textBetween(step.start, end, "", "\n") === step.words)
        change.delete(found.pos + 1 + step.start, found.pos + 1 + end);
      return;
    }
    case "move": {
      const moved = step.blocks.flatMap((id) => findOuter(doc, id) ?? []);
      if (step.behind !== null && (step.blocks.includes(step.behind) || !findOuter(doc, step.behind))) return;
      for (const { node, pos } of [...moved].sort((one, other) => other.pos - one.pos)) change.delete(pos, pos + node.nodeSize);
      const at = positionBehind(change.doc, step.behind);
      if (at !== null) change.insert(at, moved.map(({ node }) => node));
      return;
    }
    case "insert": {
      const at = positionBehind(doc, step.behind);
      const blocks = step.blocks.flatMap((element) => nodeOf(element, doc.type.schema) ?? []);
      if (at !== null) change.insert(at, blocks);
      return;
    }
    case "remove":
      for (const id of step.blocks) {
        const found = findOuter(change.doc, id);
        if (found) change.delete(found.pos, found.pos + found.node.nodeSize);
      }
  }
}

/** Carries out a plan; whether anything changed. */
export function carryOut(editor: Editor, plan: Plan): boolean {
  const change = editor.state.tr;
  let places = placesIn(change.doc);
  for (const step of plan) {
    take(change, step, places);
    if (step.step !== "set" && step.step !== "format") places = placesIn(change.doc);
  }
  if (change.docChanged) perform(editor, change);
  return change.docChanged;
}
