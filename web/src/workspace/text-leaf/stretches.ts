/** Stretches of a document, from one position to another: what changes put in, and the nodes that stand there. */
import type { Node } from "@tiptap/pm/model";
import type { Transaction } from "@tiptap/pm/state";

export type Stretch = readonly [from: number, to: number];

/** The stretches of the document that these transactions put in, as positions after the last of them. */
export function inserted(transactions: readonly Transaction[]): Stretch[] {
  const found: Stretch[] = [];
  transactions.forEach((transaction, index) => {
    const later = transactions.slice(index + 1);
    transaction.mapping.maps.forEach((map, step) => {
      map.forEach((_from, _to, from, to) => {
        const rest = transaction.mapping.slice(step + 1);
        const forward = (pos: number, side: number) =>
          later.reduce((at, next) => next.mapping.map(at, side), rest.map(pos, side));
        found.push([forward(from, -1), forward(to, 1)]);
      });
    });
  });
  return found;
}

/**
 * Goes through the nodes that have something in common with some stretches, as `nodesBetween` does for one; `visit` says whether
 * to go into a node. The blocks of the text are gone through once, however many stretches there are.
 */
export function nodesWithin(doc: Node, stretches: readonly Stretch[], visit: (node: Node, pos: number, stretch: Stretch) => boolean): void {
  const apart = together(stretches);
  let next = 0;
  doc.forEach((block, pos) => {
    while ((apart[next]?.[1] ?? Infinity) <= pos) next += 1;
    for (let at = next; ; at += 1) {
      const stretch = apart[at];
      if (!stretch || stretch[0] >= pos + block.nodeSize) break;
      const inside = pos + 1;
      if (!visit(block, pos, stretch) || block.isLeaf) continue;
      block.nodesBetween(Math.max(0, stretch[0] - inside), Math.min(block.content.size, stretch[1] - inside), (node, at) => visit(node, at, stretch), inside);
    }
  });
}

/** The same stretches in order, with those in one that touch each other. */
function together(stretches: readonly Stretch[]): Stretch[] {
  const found: Stretch[] = [];
  for (const [from, to] of [...stretches].sort(([one], [other]) => one - other)) {
    const last = found.at(-1);
    if (last && from <= last[1]) found[found.length - 1] = [last[0], Math.max(last[1], to)];
    else found.push([from, to]);
  }
  return found;
}
