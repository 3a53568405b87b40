/** Positions that go with their block, wherever that is moved to: by its id, and by the words around them. */
import type { Node } from "@tiptap/pm/model";
import { TextSelection, type Selection, type Transaction } from "@tiptap/pm/state";

/** The innermost block around a position that has an id, and where it begins; null between blocks. */
function blockAround(doc: Node, pos: number): { node: Node; pos: number } | null {
  const at = doc.resolve(pos);
  for (let depth = at.depth; depth > 0; depth -= 1) if (at.node(depth).attrs.id) return { node: at.node(depth), pos: at.before(depth) };
  return null;
}

/** Where a position is in a document in which its block may have gone elsewhere; null if the block is gone. */
function followed(before: Node, pos: number, doc: Node): number | null {
  const block = blockAround(before, pos);
  let found: number | null = null;
  doc.descendants((node, at) => {
    if (block && found === null && node.attrs.id === block.node.attrs.id) found = at + 1 + offsetIn(block.node, node, pos - block.pos - 1);
    return found === null && !node.isTextblock;
  });
  return found;
}

/** An offset in a block in what it reads now: what was written in front of it there is in front of it here. */
function offsetIn(before: Node, now: Node, offset: number): number {
  const start = before.content.findDiffStart(now.content);
  const end = before.content.findDiffEnd(now.content);
  if (start === null || end === null || offset <= start) return Math.min(offset, now.content.size);
  return offset >= end.a ? Math.max(start, offset - end.a + end.b) : start;
}

/** Has a selection stay in its blocks where a change took these out and put them in elsewhere; whether it could. */
export function followBlocks(change: Transaction, { $anchor, $head, anchor, head }: Selection): boolean {
  const moved = change.mapping.mapResult(head).deleted;
  if (!moved || !$head.parent.isTextblock || !$anchor.parent.isTextblock) return false;
  const [from, to] = [followed(change.before, anchor, change.doc), followed(change.before, head, change.doc)];
  if (to === null) return false;
  change.setSelection(TextSelection.between(change.doc.resolve(from ?? to), change.doc.resolve(to)));
  return true;
}
