/** What a kind of block is to the editor. */
import type { AnyExtension, Editor } from "@tiptap/core";
import type { Node } from "@tiptap/pm/model";
import type { Decoration } from "@tiptap/pm/view";
import type { Room } from "../../room/room";
import type { Edge } from "../../view";
import type { Styles } from "../styles";

/** What is around the text that a kind is drawn in. Without a room nothing is drawn that is computed. */
export interface Surroundings {
  report: string;
  /** The report's styles as they are now. */
  styles: () => Styles;
  room: Room | null;
  goTo: (id: string) => void;
  /** Leads to the first table in the text. */
  toContents: () => void;
}

export interface Way {
  label: string;
  insert: (editor: Editor, styles: Styles) => void;
}

/** Something of a kind that can be put into the text. */
interface Put extends Way {
  key: string;
}

/** Something that can be put in in several ways. */
interface PutInWays {
  key: string;
  label: string;
  choices: readonly Way[];
}

/** Something that is made from a file; `after` is the block for which it was asked. */
interface PutFile {
  key: string;
  label: string;
  accept: string;
  insertFile: (editor: Editor, after: string, report: string, file: File) => Promise<void>;
}

export interface BlockKind {
  /** The name of its node. */
  name: string;
  /** Its nodes of the editor's document, with those of what it holds. */
  nodes: (around: Surroundings) => AnyExtension[];
  puts?: readonly (Put | PutInWays | PutFile)[];
  /** How a page edge within such a block is shown, where it is no paragraph of text. */
  edge?: (node: Node, pos: number, edge: Edge) => Decoration | null;
  /** An attribute that may stand only once in a report, beside the id. */
  unique?: string;
}
