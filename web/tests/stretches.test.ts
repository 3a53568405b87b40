/** Nodes in stretches of a document are those that each stretch by itself would give, and the text is gone through once. */
import { Schema, type Node } from "@tiptap/pm/model";
import { expect, test } from "vitest";
import { nodesWithin, type Stretch } from "../src/workspace/text-leaf/stretches";

const schema = new Schema({
  nodes: { doc: { content: "block+" }, paragraph: { group: "block", content: "text*" }, grid: { group: "block", content: "block+" }, rule: { group: "block" }, text: {} },
});
const paragraph = (words: string) => schema.node("paragraph", null, words ? [schema.text(words)] : []);
const doc = schema.node("doc", null, [paragraph("one"), schema.node("grid", null, [paragraph("a"), paragraph("")]), schema.node("rule"), paragraph("two"), paragraph("")]);

const visited = (from: Node, stretches: readonly Stretch[]) => {
  const found = new Set<number>();
  nodesWithin(from, stretches, (_node, pos) => {
    found.add(pos);
    return true;
  });
  return [...found].sort((one, other) => one - other);
};

test("each stretch gives what it gives by itself, in whatever order they come", () => {
  for (let from = -1; from <= doc.content.size + 1; from += 1)
    for (let to = from; to <= doc.content.size + 1; to += 1) {
      const wanted = new Set<number>();
      doc.nodesBetween(Math.max(from, 0), Math.min(to, doc.content.size), (_node, pos) => void wanted.add(pos));
      expect(visited(doc, [[from, to]])).toEqual([...wanted].sort((one, other) => one - other));
      const other: Stretch = [3, 4];
      doc.nodesBetween(...other, (_node, pos) => void wanted.add(pos));
      expect(visited(doc, [[from, to], other])).toEqual(visited(doc, [other, [from, to]]));
      for (const pos of wanted) expect(visited(doc, [[from, to], other])).toContain(pos);
    }
});

test("the text is gone through once, however many stretches there are", () => {
  const long = schema.node("doc", null, Array.from({ length: 500 }, () => paragraph("abc")));
  let asked = 0;
  const counting = new Proxy(long, {
    get: (node, name) => (name === "forEach" ? (visit: Parameters<Node["forEach"]>[0]) => node.forEach((...given) => ((asked += 1), visit(...given))) : Reflect.get(node, name)),
  });
  expect(visited(counting, Array.from({ length: 500 }, (_, at): Stretch => [at * 5 + 2, at * 5 + 3])).length).toBe(1000);
  expect(asked).toBe(500);
});
