/** What a text may hold is the same for the editor as for the core, which wrote its side down. */
import { getSchema } from "@tiptap/core";
import type { NodeType } from "@tiptap/pm/model";
import { expect, test } from "vitest";
import * as Y from "yjs";
import { textExtensions } from "../src/workspace/text-leaf/extensions";
import core from "./schema.json";

const schema = getSchema(textExtensions(new Y.Doc(), { report: "r", styles: () => [], room: null, goTo: () => undefined, toContents: () => undefined }));

/** The names of all nodes that can stand somewhere in another. */
function held(type: NodeType): string[] {
  const found = new Set<string>();
  const seen = new Set([type.contentMatch]);
  for (const match of seen)
    for (let edge = 0; edge < match.edgeCount; edge += 1) {
      const { type: child, next } = match.edge(edge);
      found.add(child.name);
      seen.add(next);
    }
  return [...found];
}

test("elements, their attributes and what they hold", () => {
  const ours = Object.values(schema.nodes)
    .filter((type) => !type.isText)
    .map((type) => {
      const holds = held(type);
      const shape = { attributes: Object.keys(type.spec.attrs ?? {}).sort(), holds: holds.filter((name) => name !== "text").sort(), words: holds.includes("text") };
      return [type.name, shape] as const;
    });
  expect(Object.fromEntries(ours)).toEqual(core.elements);
});

test("formatting", () => {
  // `band` is how blocks are drawn, and is never shared.
  expect(Object.keys(schema.marks).filter((name) => name !== "band").sort()).toEqual(core.marks);
});
