/** Positions that go with their block, wherever that is moved to: by its id, and how far into it. */
import type { Node } from "@tiptap/pm/model";
import { TextSelection, type Selection, type Transaction } from "@tiptap/pm/state";

interface InBlock {
  id: string;
  offset: number;
}

/** A position by the innermost block around it that has an id; null between blocks. */
function inBlock(doc: Node, pos: number): InBlock | null {
  const at = doc.resolve(pos);
  for (let depth = at.depth; depth > 0; depth -= 1) {
    const id = at.node(depth).attrs.id as string | null | undefined;
    if (id) return { id, offset: pos - at.before(depth) };
  }
  return null;
}

/** Where that is now; null if the block is gone. */
function positionOf(doc: Node, place: InBlock | null): number | null {
  let found: number | null = null;
  if (!place) return null;
  doc.descendants((node, pos) => {
    if (found === null && node.attrs.id === place.id) found = pos + Math.min(place.offset, node.nodeSize - 1);
    return found === null && !node.isTextblock;
  });
  return found;
}

/** Has a selection stay in its blocks where a change took these out and put them in elsewhere; whether it could. */
export function followBlocks(change: Transaction, { $anchor, $head, anchor, head }: Selection): boolean {
  const moved = change.mapping.mapResult(head).deleted;
  if (!moved || !$head.parent.isTextblock || !$anchor.parent.isTextblock) return false;
  const [from, to] = [positionOf(change.doc, inBlock(change.before, anchor)), positionOf(change.doc, inBlock(change.before, head))];
  if (to === null) return false;
  change.setSelection(TextSelection.between(change.doc.resolve(from ?? to), change.doc.resolve(to)));
  return true;
}
