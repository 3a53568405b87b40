/** Plans carried out by the editor give what the core gives for them. */
import { expect, test } from "vitest";
import type { Node } from "@tiptap/pm/model";
import * as Y from "yjs";
import type { ElementOf, Plan } from "../src/api/plan";
import { carryOut } from "../src/workspace/text-leaf/plan";
import cases from "./plans.json";
import { editorOver } from "./writing";

const CASES = cases as unknown as { name: string; before: ElementOf[]; plan: Plan; after: ElementOf[] }[];

type Child = ElementOf["children"][number];

/** The text of a shared document as the core says it, with neighbours joined that look the same. */
function shown(element: Y.XmlElement): ElementOf {
  const children: Child[] = [];
  for (const child of element.toArray()) {
    if (child instanceof Y.XmlElement) children.push(shown(child));
    else if (child instanceof Y.XmlText)
      for (const { insert, attributes = {} } of child.toDelta() as { insert: string; attributes?: Record<string, unknown> }[])
        children.push({ text: insert, attributes });
  }
  const attributes = Object.fromEntries(Object.entries(element.getAttributes()).filter(([, value]) => value !== null));
  return { tag: element.nodeName, attributes, children };
}

/** Puts an element into a shared document, as the server does. */
function put(parent: Y.XmlFragment, { tag, attributes, children }: ElementOf): void {
  const element = new Y.XmlElement(tag);
  parent.push([element]);
  for (const [name, value] of Object.entries(attributes)) element.setAttribute(name, value as string);
  let text: Y.XmlText | null = null;
  for (const child of children) {
    if ("tag" in child) {
      put(element, child);
      text = null;
    } else {
      if (!text) element.push([(text = new Y.XmlText())]);
      text.insert(text.length, child.text, child.attributes as Record<string, never>);
    }
  }
}

/** What the editor writes where the core leaves out what is as by default. */
const DEFAULTS: Record<string, unknown> = { colspan: 1, rowspan: 1 };

function bare(element: ElementOf): ElementOf {
  const attributes = Object.fromEntries(Object.entries(element.attributes).filter(([name, value]) => value !== DEFAULTS[name]));
  return { ...element, attributes, children: element.children.map((child) => ("tag" in child ? bare(child) : child)) };
}

test.each(CASES)("$name", ({ before, plan, after }) => {
  const document = new Y.Doc();
  const fragment = document.getXmlFragment("text");
  before.forEach((element) => put(fragment, element));
  const editor = editorOver(document);
  carryOut(editor, plan);
  const found = fragment.toArray().map((element) => bare(shown(element as Y.XmlElement)));
  expect(found).toEqual(after.map(bare));
  editor.destroy();
});

test("a plan is one step of undo", () => {
  const document = new Y.Doc();
  const fragment = document.getXmlFragment("text");
  const { before = [], plan = [] } = CASES.find(({ name }) => name === "one step after another") ?? {};
  before.forEach((element) => put(fragment, element));
  const editor = editorOver(document);
  const words = (doc: Node) => doc.content.content.map((node) => node.textContent);
  const was = words(editor.state.doc);
  expect(carryOut(editor, plan)).toBe(true);
  expect(words(editor.state.doc)).not.toEqual(was);
  editor.commands.undo();
  expect(words(editor.state.doc)).toEqual(was);
  editor.destroy();
});
