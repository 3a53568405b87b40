/** Formulas in the text of an editor. */
import { DOMSerializer } from "@tiptap/pm/model";
import { expect, test } from "vitest";
import * as Y from "yjs";
import { drawnFormula } from "../src/workspace/text-leaf/kinds/formula";
import { editorOver } from "./writing";

const ENERGY = "<math><mi>E</mi><mo>=</mo><mi>m</mi><msup><mi>c</mi><mn>2</mn></msup></math>";

test("one is the same when it is copied as HTML and pasted", () => {
  const editor = editorOver(new Y.Doc());
  editor.commands.setContent({ type: "doc", content: [{ type: "paragraph", content: [{ type: "text", text: "So " }, { type: "formula", attrs: { mathml: ENERGY } }, { type: "text", text: " is." }] }] });
  const html = editor.getHTML();
  expect(html).toContain("<msup><mi>c</mi><mn>2</mn></msup>");
  editor.commands.setContent("<p></p>");
  editor.commands.setContent(html);
  const found: unknown[] = [];
  editor.state.doc.descendants((node) => void (node.type.name === "formula" && found.push(node.attrs.mathml)));
  expect(found).toEqual([ENERGY]);
  expect(DOMSerializer.fromSchema(editor.schema).serializeFragment(editor.state.doc.content).textContent).toBe("So E=mc2 is.");
  editor.destroy();
});

test("of what anybody may have put into a text only what is known is drawn", () => {
  for (const [given, shown] of [
    ['<math onclick="x()"><mi href="javascript:x">a</mi><script>1</script><img src="x"/></math>', "<mi>a</mi>"],
    ['<math><mo stretchy="true" style="x">(</mo></math>', '<mo stretchy="true">(</mo>'],
    ["<math><mi>a</math>", "<mtext>?</mtext>"],
    ["<p>a</p>", "<mtext>?</mtext>"],
    [5, "<mtext>?</mtext>"],
    [`<math>${"<mrow>".repeat(40)}<mi>a</mi>${"</mrow>".repeat(40)}</math>`, null],
  ] as const) {
    const made = drawnFormula(given);
    expect(made.localName).toBe("math");
    if (shown === null) expect(made.textContent).toBe("");
    else expect(made.innerHTML.replaceAll(' xmlns="http://www.w3.org/1998/Math/MathML"', "")).toBe(shown);
  }
});
