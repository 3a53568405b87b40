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

/** The block with an id, wherever it stands; of those in the text itself only, if `outer`. */
function find(doc: Node, id: string, outer = false): Found | null {
  let found: Found | null = null;
  doc.descendants((node, pos) => {
    if (!found && node.attrs.id === id) found = { node, pos };
    return !found && !outer && !node.isTextblock;
  });
  return found;
}

/** The position behind a block; that of the start if there is none to be behind, null if that one is gone. */
function positionBehind(doc: Node, behind: string | null): number | null {
  if (behind === null) return 0;
  const found = find(doc, behind, true);
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

function take(change: Transaction, step: PlanStep): void {
  const { doc } = change;
  switch (step.step) {
    case "set": {
      const found = find(doc, step.block);
      if (!found) return;
      const { defaultAttrs } = found.node.type as unknown as { defaultAttrs: Values };
      for (const [name, value] of Object.entries(step.values)) {
        const wanted = value ?? defaultAttrs[name];
        if (name in found.node.attrs && found.node.attrs[name] !== wanted) change.setNodeAttribute(found.pos, name, wanted);
      }
      return;
    }
    case "format": {
      const found = find(doc, step.block);
      if (found?.node.isTextblock) format(change, found, step.start, step.end, step.values);
      return;
    }
    case "cut": {
      const found = find(doc, step.block);
      if (!found?.node.isTextblock) return;
      const end = step.start + step.words.length;
      if (end <= found.node.content.size && found.node.textBetween(step.start, end, "", "\n") === step.words)
        change.delete(found.pos + 1 + step.start, found.pos + 1 + end);
      return;
    }
    case "move": {
      const moved = step.blocks.flatMap((id) => find(doc, id, true) ?? []);
      if (step.behind !== null && (step.blocks.includes(step.behind) || !find(doc, step.behind, true))) return;
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
        const found = find(change.doc, id, true);
        if (found) change.delete(found.pos, found.pos + found.node.nodeSize);
      }
  }
}

/** Carries out a plan; whether anything changed. */
export function carryOut(editor: Editor, plan: Plan): boolean {
  const change = editor.state.tr;
  for (const step of plan) take(change, step);
  if (change.docChanged) perform(editor, change);
  return change.docChanged;
}
