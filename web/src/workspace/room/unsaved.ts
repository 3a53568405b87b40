/** What somebody wrote and the server has not stored, or has taken out again, as plain text for them to copy. */
import * as Y from "yjs";

/** The paragraphs that hold something written here since a clock of this browser's own (Yjs), in the order of the text. */
export function wordsSince(document: Y.Doc, clock: number): string {
  const written = new Set<Y.XmlElement>();
  for (const item of document.store.clients.get(document.clientID) ?? []) {
    if (!(item instanceof Y.Item) || item.deleted || item.id.clock + item.length <= clock) continue;
    let parent = item.content instanceof Y.ContentType ? item.content.type : item.parent;
    while (parent instanceof Y.AbstractType && !isParagraph(parent)) parent = parent.parent;
    if (parent instanceof Y.XmlElement) written.add(parent);
  }
  const lines: string[] = [];
  for (const paragraph of document.getXmlFragment("text").createTreeWalker(isParagraph)) {
    if (written.has(paragraph as Y.XmlElement)) lines.push(wordsOf(paragraph as Y.XmlElement));
  }
  return lines.join("\n");
}

/** What items stand in, one behind the other. */
type Holder = Pick<Y.XmlFragment, "_start">;

/** The words that an update will take out of the text, a line for each paragraph, in the order of the text. */
export function wordsTakenOut(document: Y.Doc, update: Uint8Array): string {
  const stretches = Y.decodeUpdate(update).ds.clients;
  /** What of an item is taken out: where that begins in it, and where it ends. */
  const taken = ({ id, length }: Y.Item): [number, number][] =>
    (stretches.get(id.client) ?? []).map(({ clock, len }): [number, number] => [Math.max(0, clock - id.clock), Math.min(length, clock + len - id.clock)]).filter(([from, to]) => from < to);
  const lines: string[] = [];
  /** Goes through what stands in something; `whole` if that is taken out itself. Returns the words that stand in its own line. */
  const words = (within: Holder, whole: boolean): string => {
    let found = "";
    for (let item = within._start; item; item = item.right) {
      if (item.deleted) continue;
      const out = whole ? [[0, item.length] as const] : taken(item);
      if (item.content instanceof Y.ContentString) found += out.map(([from, to]) => (item?.content as Y.ContentString).str.slice(from, to)).join("");
      if (!(item.content instanceof Y.ContentType)) continue;
      const { type } = item.content;
      const inner = words(type as Holder, out.length > 0);
      if (type instanceof Y.XmlText) found += inner;
      else if (within instanceof Y.XmlElement && isParagraph(within)) found += out.length > 0 ? "\n" : "";
      else if (inner) lines.push(inner);
    }
    return found;
  };
  const loose = words(document.getXmlFragment("text"), false);
  return [...lines, loose].filter(Boolean).join("\n");
}

const isParagraph = (type: unknown): type is Y.XmlElement => type instanceof Y.XmlElement && type.nodeName === "paragraph";

const wordsOf = (paragraph: Y.XmlElement): string =>
  paragraph
    .toArray()
    .map((child) => (child instanceof Y.XmlText ? runs(child) : "\n"))
    .join("");

const runs = (text: Y.XmlText): string =>
  (text.toDelta() as { insert?: unknown }[]).map(({ insert }) => (typeof insert === "string" ? insert : "")).join("");
