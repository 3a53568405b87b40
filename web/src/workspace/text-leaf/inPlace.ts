/**
 * Changing many blocks where they stand: their settings, the marks of their words, and words taken out of them.
 *
 * It is one step however many there are, since each step costs as much as the text is long.
 */
import { Fragment, type Mark, type Node } from "@tiptap/pm/model";
import { isWord } from "./kinds/reference";
import type { Transaction } from "@tiptap/pm/state";
import { Step, StepMap, StepResult } from "@tiptap/pm/transform";

export interface Found {
  node: Node;
  pos: number;
}

/** Words taken out of a block: where they began in it, how many positions they took, and how many what is there instead takes. */
export type Cut = readonly [start: number, size: number, put: number];

class ChangeInPlace extends Step {
  /** `changed`: what stands at each of these places afterwards. `ranges`: where its size changes, as a StepMap has them. */
  constructor(
    readonly changed: ReadonlyMap<number, Node>,
    readonly ranges: readonly number[],
  ) {
    super();
  }

  getMap(): StepMap {
    return new StepMap(this.ranges);
  }

  apply(doc: Node): StepResult {
    return StepResult.ok(this.put(doc, 0));
  }

  private put(parent: Node, start: number): Node {
    let pos = start;
    let same = true;
    const children = parent.content.content.map((child) => {
      const now = this.changed.get(pos) ?? (child.isTextblock || child.isLeaf ? child : this.put(child, pos + 1));
      pos += child.nodeSize;
      if (now !== child) same = false;
      return now;
    });
    return same ? parent : parent.copy(Fragment.fromArray(children));
  }

  invert(doc: Node): Step {
    const map = this.getMap();
    const ranges: number[] = [];
    map.forEach((oldStart, oldEnd, newStart, newEnd) => ranges.push(newStart, newEnd - newStart, oldEnd - oldStart));
    const before = [...this.changed.keys()].flatMap((pos) => {
      const node = doc.nodeAt(pos);
      return node ? [[map.map(pos), node] as const] : [];
    });
    return new ChangeInPlace(new Map(before), ranges);
  }

  map(): null {
    return null;
  }

  toJSON(): object {
    return { stepType: "changeInPlace", changed: [...this.changed].map(([pos, node]) => [pos, node.toJSON() as unknown]) };
  }
}

/** Changes blocks, each by what `to` makes of it; `cuts` says what that takes out of its words, in ascending order. */
export function changeInPlace<T extends Found>(
  change: { step: Transaction["step"] },
  blocks: Iterable<T>,
  to: (found: T) => Node,
  cuts: (found: T) => readonly Cut[] = () => [],
): void {
  const changed = new Map<number, Node>();
  const ranges: Cut[] = [];
  for (const found of blocks) {
    const now = to(found);
    if (now === found.node) continue;
    changed.set(found.pos, now);
    for (const [start, size, put] of cuts(found)) ranges.push([found.pos + 1 + start, size, put]);
  }
  ranges.sort(([one], [other]) => one - other);
  if (changed.size > 0) change.step(new ChangeInPlace(changed, ranges.flat()));
}

/** The block with other settings. */
export const withAttributes = (node: Node, values: Readonly<Record<string, unknown>>): Node =>
  Object.entries(values).every(([name, value]) => node.attrs[name] === value)
    ? node
    : node.type.create({ ...node.attrs, ...values }, node.content, node.marks);

/** The paragraph with other marks on what stands in it from `start` to `end`. */
export function withMarks(node: Node, start: number, end: number, change: (marks: readonly Mark[]) => readonly Mark[]): Node {
  // What a block may not have, others could not draw.
  const to = (marks: readonly Mark[]) => node.type.allowedMarks(change(marks));
  const children: Node[] = [];
  node.forEach((child, offset) => {
    const [from, until] = [Math.max(start - offset, 0), Math.min(end - offset, child.nodeSize)];
    if (from >= until || isWord(child)) children.push(child);
    else if (!child.isText) children.push(child.mark(to(child.marks)));
    else {
      if (from > 0) children.push(child.cut(0, from));
      children.push(child.cut(from, until).mark(to(child.marks)));
      if (until < child.nodeSize) children.push(child.cut(until));
    }
  });
  const content = Fragment.fromArray(joined(children));
  return content.eq(node.content) ? node : node.copy(content);
}

/** Neighbours that look the same as one, as the editor keeps them. */
function joined(nodes: readonly Node[]): Node[] {
  const result: Node[] = [];
  for (const node of nodes) {
    const last = result.at(-1);
    if (last?.isText && node.isText && last.sameMarkup(node)) {
      result[result.length - 1] = node.type.schema.text((last.text ?? "") + (node.text ?? ""), node.marks);
    } else result.push(node);
  }
  return result;
}
