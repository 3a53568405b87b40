/**
 * Changing many blocks where they stand: their settings, and the marks of their words.
 *
 * It is one step however many there are, since each step costs as much as the text is long. Nothing moves in the text, so
 * that nothing that hangs on a place there is touched.
 */
import { Fragment, type Mark, type Node } from "@tiptap/pm/model";
import type { Transaction } from "@tiptap/pm/state";
import { Step, StepResult } from "@tiptap/pm/transform";

export interface Found {
  node: Node;
  pos: number;
}

class ChangeInPlace extends Step {
  /** `changed`: what stands at each of these places afterwards, each as large as what stands there now. */
  constructor(readonly changed: ReadonlyMap<number, Node>) {
    super();
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
    return new ChangeInPlace(new Map([...this.changed.keys()].flatMap((pos) => {
      const node = doc.nodeAt(pos);
      return node ? [[pos, node] as const] : [];
    })));
  }

  map(): null {
    return null;
  }

  toJSON(): object {
    return { stepType: "changeInPlace", changed: [...this.changed].map(([pos, node]) => [pos, node.toJSON() as unknown]) };
  }
}

/** Changes blocks, each by what `to` makes of it. */
export function changeInPlace(change: { step: Transaction["step"] }, blocks: Iterable<Found>, to: (found: Found) => Node): void {
  const changed = new Map<number, Node>();
  for (const found of blocks) {
    const now = to(found);
    if (now !== found.node) changed.set(found.pos, now);
  }
  if (changed.size > 0) change.step(new ChangeInPlace(changed));
}

/** The block with other settings. */
export const withAttributes = (node: Node, values: Readonly<Record<string, unknown>>): Node =>
  Object.entries(values).every(([name, value]) => node.attrs[name] === value)
    ? node
    : node.type.create({ ...node.attrs, ...values }, node.content, node.marks);

/** The paragraph with other marks on what stands in it from `start` to `end`. */
export function withMarks(node: Node, start: number, end: number, to: (marks: readonly Mark[]) => readonly Mark[]): Node {
  const children: Node[] = [];
  node.forEach((child, offset) => {
    const [from, until] = [Math.max(start - offset, 0), Math.min(end - offset, child.nodeSize)];
    if (from >= until) children.push(child);
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
