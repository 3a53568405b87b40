/**
 * What is copied: at once as the editor has it, and as soon as the server has answered, as other programs understand it, with
 * numbers, labels, lists and pictures. The server keeps it for a while, so that reports get all of it.
 */
import { Extension } from "@tiptap/core";
import { DOMSerializer, type Fragment, type Node, type Schema, type Slice } from "@tiptap/pm/model";
import { Plugin } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { api, type Copied } from "../../api/client";
import type { ElementOf, Values } from "../../api/plan";
import { isEmptied, newId } from "./ids";

/** What HTML of ours says of itself: whether it is words of one paragraph, its name, and the report that it is from. */
export interface CopyName {
  words: boolean;
  token: string;
  report: string;
}

const NAME = /data-copy="([wb])\.([a-z0-9]+)\.([\w-]+)"/;

/** What some HTML says of itself; null if it is none of ours. */
export function copyNamed(html: string): CopyName | null {
  const found = NAME.exec(html);
  return found && { words: found[1] === "w", token: found[2] ?? "", report: found[3] ?? "" };
}

/** A node as it stands in plans. */
export function elementOf(node: Node): ElementOf {
  const children: ElementOf["children"][number][] = [];
  node.forEach((child) => {
    if (!child.isText) children.push(elementOf(child));
    else children.push({ text: child.text ?? "", attributes: Object.fromEntries(child.marks.map(({ type, attrs }) => [type.name, attrs])) });
  });
  const attributes: Values = Object.fromEntries(Object.entries(node.attrs).filter(([, value]) => value !== null));
  return { tag: node.type.name, attributes, children };
}

/** The blocks of a slice; words within a cell without the table around them. */
export function blocksOf({ content, openStart, openEnd }: Slice): readonly Node[] {
  let inside = content;
  let only = inside.firstChild;
  for (let depth = Math.min(openStart, openEnd); depth > 1 && only && inside.childCount === 1 && !only.isTextblock; depth -= 1) {
    inside = only.content;
    only = inside.firstChild;
  }
  return inside.content;
}

const isWords = (blocks: readonly Node[], { openStart, openEnd }: Slice) => blocks.length === 1 && blocks[0]?.isTextblock === true && openStart > 0 && openEnd > 0;

/** Puts what was copied where other programs find it, and under its name, if it has one, reports; false where that may not be. */
export async function putOnClipboard({ html, text }: Copied, name: string | null): Promise<boolean> {
  if (!document.hasFocus() || !("clipboard" in navigator)) return false;
  const kinds = { "text/html": name === null ? html : `<div data-copy="${name}">${html}</div>`, "text/plain": text };
  const blobs = Object.entries(kinds).map(([type, words]) => [type, new Blob([words], { type })] as const);
  await navigator.clipboard.write([new ClipboardItem(Object.fromEntries(blobs))]);
  return true;
}

/** Copies a placed table: to reports it is a table there as well, to other programs the list that is printed. */
export async function copyTable(report: string, table: string): Promise<boolean> {
  const token = newId();
  const copied = await api.copy(report, token, [{ tag: "placedTable", attributes: { id: newId(), table }, children: [] }]);
  return putOnClipboard(copied, `b.${token}.${report}`);
}

/** Writes what the editor copies, with its name. */
class NamedSerializer extends DOMSerializer {
  constructor(
    schema: Schema,
    private readonly name: () => string | null,
  ) {
    super(DOMSerializer.nodesFromSchema(schema), DOMSerializer.marksFromSchema(schema));
  }

  override serializeFragment(fragment: Fragment, options?: { document?: Document }, target?: HTMLElement | DocumentFragment) {
    const made = super.serializeFragment(fragment, options, target);
    const name = this.name();
    // What is in a block is put into its own element; the whole has none yet.
    if (name !== null && !target && !(made instanceof HTMLElement)) made.firstElementChild?.setAttribute("data-copy", name);
    return made;
  }
}

export class Copying {
  private name: string | null = null;
  /** What was copied here last, and the ids of its blocks. */
  private last: { token: string; ids: ReadonlySet<string> } | null = null;

  constructor(private readonly report: string) {}

  serializer = (schema: Schema): DOMSerializer => new NamedSerializer(schema, () => this.name);

  /** Whether what was copied under this name is in the text no more, as after cutting it out. */
  moves(token: string, doc: Node): boolean {
    if (this.last?.token !== token) return false;
    const { ids } = this.last;
    let found = false;
    // Where all words of a paragraph were cut out, it may still stand there without any.
    doc.forEach((node) => (found ||= ids.has(node.attrs.id as string) && !isEmptied(node)));
    return !found;
  }

  /** To be called when something is copied or cut out, before the editor does so. */
  copy(view: EditorView): void {
    this.name = null;
    const { selection } = view.state;
    if (selection.empty) return;
    const slice = selection.content();
    const blocks = blocksOf(slice);
    if (!blocks.every(({ type }) => type.isInGroup("block"))) return;
    const token = newId();
    this.name = `${isWords(blocks, slice) ? "w" : "b"}.${token}.${this.report}`;
    this.last = { token, ids: new Set(blocks.map(({ attrs }) => attrs.id as string)) };
    void this.make(token, this.name, blocks.map(elementOf));
  }

  private async make(token: string, name: string, blocks: readonly ElementOf[]): Promise<void> {
    try {
      const copied = await api.copy(this.report, token, blocks);
      // Whoever has copied something else meanwhile wants that.
      if (this.name === name) await putOnClipboard(copied, name);
    } catch (error) {
      // What the editor has put there by itself stays: words, headings and tables, without what the server computes.
      console.warn("What was copied could not be put on the clipboard for other programs", error);
    }
  }
}

/** Has the editor write the name of what it copies. */
export const CopyNames = Extension.create<{ copying: Copying | null }>({
  name: "copyNames",
  addOptions: () => ({ copying: null }),
  addProseMirrorPlugins() {
    const { copying } = this.options;
    return copying ? [new Plugin({ props: { clipboardSerializer: copying.serializer(this.editor.schema) } })] : [];
  },
});
