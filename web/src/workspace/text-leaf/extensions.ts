/** What the text is made of for the editor: its kinds of block, its marks, and how it is shared. */
import { extensions, type EditorOptions, type Extensions } from "@tiptap/core";
import { Collaboration } from "@tiptap/extension-collaboration";
import { Document } from "@tiptap/extension-document";
import { HardBreak } from "@tiptap/extension-hard-break";
import { Link } from "@tiptap/extension-link";
import { Text } from "@tiptap/extension-text";
import { Underline } from "@tiptap/extension-underline";
import type * as Y from "yjs";
import { Bands } from "./bands";
import { FromOutside } from "./fromOutside";
import { Ids } from "./ids";
import { edgesWithin, kindNodes, uniques } from "./kinds";
import type { Surroundings } from "./kinds/kind";
import { Formula } from "./kinds/formula";
import { referenceNode } from "./kinds/reference";
import { isSafeLink } from "./links";
import { Bookmark, Citation, Indexed, Slant, Typeface, Weight } from "./marks";
import { PageEdges } from "./pageEdges";
import { Unshown } from "./unshown";

/** A link is its address: what a pasted one says of windows, classes and the like stays behind. */
const PlainLink = Link.extend({
  addAttributes: () => ({ href: { default: null, parseHTML: (element) => element.getAttribute("href") } }),
});

/** The usual keys, without what comes with them: it clears a text that has become empty, and again whenever that paragraph gets its id. */
const UsualKeys = extensions.Keymap.extend({ name: "usualKeys", addProseMirrorPlugins: () => [] });

/**
 * What of the library an editor of the text does without: its keys, for which there are `UsualKeys`; and the event of what is
 * deleted, which nobody asks for, and for which it compares every change of a transaction with every other.
 */
export const CORE: Pick<EditorOptions, "enableCoreExtensions"> = { enableCoreExtensions: { keymap: false, delete: false } };

export const textExtensions = (document: Y.Doc, around: Surroundings): Extensions => [
  UsualKeys,
  Document.extend({ content: "block+", marks: "band" }),
  Bands.configure({ styles: around.styles }),
  Text,
  HardBreak,
  referenceNode(around.room),
  Formula,
  ...kindNodes(around),
  Weight,
  Slant,
  Underline,
  Typeface,
  Bookmark,
  Citation,
  Indexed,
  PlainLink.configure({
    openOnClick: false,
    autolink: false,
    linkOnPaste: true,
    defaultProtocol: "https",
    isAllowedUri: isSafeLink,
    HTMLAttributes: { rel: "noopener noreferrer nofollow", target: null },
  }),
  ...(around.room ? [Unshown.configure({ onFailure: around.room.cannotShow })] : []),
  Collaboration.configure({ document, field: "text" }),
  FromOutside,
  Ids.configure({ uniques }),
  PageEdges.configure({ within: edgesWithin, toContents: around.toContents }),
];
