/** What somebody wrote and the server has not stored, as plain text for them to copy. */
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

const isParagraph = (type: unknown): type is Y.XmlElement => type instanceof Y.XmlElement && type.nodeName === "paragraph";

const wordsOf = (paragraph: Y.XmlElement): string =>
  paragraph
    .toArray()
    .map((child) => (child instanceof Y.XmlText ? runs(child) : "\n"))
    .join("");

const runs = (text: Y.XmlText): string =>
  (text.toDelta() as { insert?: unknown }[]).map(({ insert }) => (typeof insert === "string" ? insert : "")).join("");
