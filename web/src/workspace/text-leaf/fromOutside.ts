/**
 * What comes from outside, from others or by undo, is put in as what it changes.
 *
 * The binding between the editor and the shared text puts in the whole text anew, whatever has changed in it. What hangs on
 * a place in the text, such as a page edge, would be lost with it; a cursor would stay at its count of characters while
 * another writes before it; and every block would be another to all that know blocks again.
 */
import { Extension } from "@tiptap/core";
import { isChangeOrigin } from "@tiptap/extension-collaboration";
import { Fragment, Slice, type Node } from "@tiptap/pm/model";
import { Plugin, Selection, type EditorState, type Transaction } from "@tiptap/pm/state";
import { AttrStep, ReplaceStep, type Step } from "@tiptap/pm/transform";
import { ySyncPluginKey } from "@tiptap/y-tiptap";
import type { XmlFragment } from "yjs";
import { followBlocks } from "./following";

interface Origin {
  isUndoRedoOperation?: boolean;
}

interface Binding {
  type: XmlFragment;
  beforeTransactionSelection: unknown;
  _observeFunction: Observe;
  /** For each element of the shared text the node it stands for. */
  mapping: Map<unknown, unknown>;
}

type Observe = Parameters<XmlFragment["observeDeep"]>[0];

/**
 * Has the binding take in a change whatever becomes of the selection. Of some changes it takes the selection to a place that
 * is not there, and gives up halfway: the editor would then lack what others wrote, and write over it.
 */
function takeInAll(binding: Binding): void {
  const takeIn = binding._observeFunction;
  binding.type.unobserveDeep(takeIn);
  binding._observeFunction = (...change) => {
    try {
      takeIn(...change);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      binding.beforeTransactionSelection = null; // where it goes then: see `narrowed`
      takeIn(...change);
    }
  };
  binding.type.observeDeep(binding._observeFunction);
}

/** The same node, but for marks on it that are the editor's alone. */
const same = (one: Node, other: Node) => one === other || one.eq(other.mark(one.marks));

/** The places of a longest rising run among numbers; the others are -1. */
function rising(numbers: readonly number[]): number[] {
  const ends: number[] = [];
  const before = numbers.map((number, place) => {
    if (number < 0) return -1;
    let [length, end] = [0, ends.length];
    while (length < end) {
      const middle = (length + end) >> 1;
      if ((numbers[ends[middle] ?? 0] ?? 0) < number) length = middle + 1;
      else end = middle;
    }
    ends[length] = place;
    return ends[length - 1] ?? -1;
  });
  const run: number[] = [];
  for (let place = ends.at(-1) ?? -1; place >= 0; place = before[place] ?? -1) run.unshift(place);
  return run;
}

/** Which nodes go on as which: by id as far as they keep their order, else by place if there are as many. */
function pairs(gone: readonly Node[], come: readonly Node[]): [number, number][] {
  const places = new Map(come.map((node, place) => [node.attrs.id as unknown, place]));
  const aims = gone.map((node, place) => {
    const aim = node.attrs.id ? places.get(node.attrs.id) : gone.length === come.length ? place : undefined;
    return aim !== undefined && come[aim]?.type === node.type ? aim : -1;
  });
  return rising(aims).map((place) => [place, aims[place] ?? -1]);
}

const sizeOf = (nodes: readonly Node[]) => nodes.reduce((size, node) => size + node.nodeSize, 0);

/** Adds the steps from one node to another of its type, the last of the text first. `start` is where its content begins. */
function differ(before: Node, after: Node, start: number, steps: Step[]): void {
  if (before.inlineContent) return differInWords(before, after, start, steps);
  const most = Math.min(before.childCount, after.childCount);
  let head = 0;
  while (head < most && same(before.child(head), after.child(head))) head += 1;
  let tail = 0;
  while (head + tail < most && same(before.child(before.childCount - 1 - tail), after.child(after.childCount - 1 - tail))) tail += 1;
  const gone = before.content.content.slice(head, before.childCount - tail);
  const come = after.content.content.slice(head, after.childCount - tail);

  let [lastGone, lastCome] = [gone.length, come.length];
  let end = start + sizeOf(before.content.content.slice(0, before.childCount - tail));
  /** What stands between two nodes that go on. */
  const between = (fromGone: number, fromCome: number) => {
    const from = end - sizeOf(gone.slice(fromGone, lastGone));
    const slice = new Slice(Fragment.from(come.slice(fromCome, lastCome)), 0, 0);
    if (from < end || slice.size > 0) steps.push(new ReplaceStep(from, end, slice));
    end = from;
  };
  for (const [place, aim] of pairs(gone, come).reverse()) {
    between(place + 1, aim + 1);
    const [one, other] = [gone[place], come[aim]];
    if (!one || !other) continue;
    end -= one.nodeSize;
    if (one !== other) {
      if (!one.isLeaf) differ(one, other, end + 1, steps);
      for (const [name, value] of Object.entries(other.attrs))
        if (!Object.is(one.attrs[name], value)) steps.push(new AttrStep(end, name, value));
    }
    [lastGone, lastCome] = [place, aim];
  }
  between(0, 0);
}

function differInWords(before: Node, after: Node, start: number, steps: Step[]): void {
  const from = before.content.findDiffStart(after.content);
  const to = before.content.findDiffEnd(after.content);
  if (from === null || to === null) return;
  // Of "aa" and "aaa" both ends are common to the whole of the shorter one: the end gives way.
  const over = Math.max(0, from - Math.min(to.a, to.b));
  steps.push(new ReplaceStep(start + from, start + to.a + over, new Slice(after.content.cut(from, to.b + over), 0, 0)));
}

/** A transaction that puts in the whole text anew, as one that changes what differs. */
export function narrowed(transaction: Transaction, { doc, selection, tr }: EditorState): Transaction {
  const origin = transaction.getMeta(ySyncPluginKey) as Origin;
  const steps: Step[] = [];
  differ(doc, transaction.doc, 0, steps);
  for (const step of steps) tr.step(step);
  const stands = !tr.mapping.mapResult(selection.head).deleted;
  if (origin.isUndoRedoOperation || (!stands && !followBlocks(tr, selection))) tr.setSelection(Selection.fromJSON(tr.doc, transaction.selection.toJSON() as object));
  if (transaction.scrolledIntoView) tr.scrollIntoView();
  return tr.setMeta("addToHistory", transaction.getMeta("addToHistory")).setMeta(ySyncPluginKey, origin);
}

export const FromOutside = Extension.create({
  name: "fromOutside",
  addProseMirrorPlugins: () => [
    new Plugin({
      view: ({ state }) => {
        takeInAll((ySyncPluginKey.getState(state) as { binding: Binding }).binding);
        return {};
      },
    }),
  ],
  dispatchTransaction({ transaction, next }) {
    if (!transaction.docChanged || !isChangeOrigin(transaction)) return next(transaction);
    next(narrowed(transaction, this.editor.state));
    // The binding knows a block again by the node it last saw: it is given those that stayed.
    const { type, mapping } = (ySyncPluginKey.getState(this.editor.state) as { binding: Binding }).binding;
    const { doc } = this.editor.state;
    type.toArray().forEach((element, index) => index < doc.childCount && mapping.set(element, doc.child(index)));
  },
});
