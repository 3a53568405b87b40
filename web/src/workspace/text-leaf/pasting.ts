/**
 * What is pasted or dropped from elsewhere: the server reads it, and it is put in where it was meant to go, however long that
 * takes. Without a connection the browser reads by itself what it can. Afterwards it can be had otherwise, until the next key.
 */
import type { Editor } from "@tiptap/core";
import { Fragment, Slice, type Node, type Schema } from "@tiptap/pm/model";
import { NodeSelection, Selection, TextSelection } from "@tiptap/pm/state";
import type { EditorView } from "@tiptap/pm/view";
import { yUndoPluginKey } from "@tiptap/y-tiptap";
import { api, Refused, type Pasted } from "../../api/client";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import { copyNamed, type Copying, type CopyName } from "./copying";
import { blockOf, findBlock } from "./insert";
import { insertPicture } from "./kinds/picture";
import { nodeOf } from "./plan";

/** Characters that can be put in at once: some 700 pages. What is larger could not be stored in one piece. */
const MOST_AT_ONCE = 2_000_000;
export const TOO_MUCH = "This is more than can be put in at once (2 million characters). Put it in in parts, or bring it in as a file on your shelf.";
export const isTooMuch = (slice: Slice) => slice.content.size > MOST_AT_ONCE;

const BY_THE_BROWSER = "Without a connection what is pasted is read by this browser alone: pictures, lists and looks may be missing. Undo it and paste it again later to have them.";

/** How what was pasted stands in the text: in this report's looks, in its own, or without any. */
export type Way = "here" | "there" | "words";

interface Given {
  html: string;
  text: string;
}

/** What was pasted, where that begins, and the length of what was selected there. */
interface Put extends Given {
  at: Held;
  length: number;
}

/** What was pasted last, while it can be had otherwise. */
export interface Offer {
  way: Way;
  notes: Pasted["notes"];
  have: (way: Way) => void;
}

export type PastingState = "reading" | Offer | null;

/** A stretch of the text that stays where it is while others write. */
interface Held {
  from: number;
  to: number;
}

const undoOf = (editor: Editor) => yUndoPluginKey.getState(editor.state)?.undoManager;

/** Whether HTML was copied by an editor like ours, which reads that by itself. */
const isEditors = (html: string) => html.includes("data-pm-slice");

/** Whether what is in the clipboard is a picture and no words. */
const picturesOf = (data: DataTransfer): File[] => {
  const files = [...data.files].filter(({ type }) => type.startsWith("image/"));
  return data.getData("text/plain").trim() === "" ? files : [];
};

export class Pasting {
  private state: PastingState = null;
  private readonly listeners = new Set<() => void>();
  private readonly held = new Set<Held>();
  /** Where that begins which can be had otherwise. */
  private offered: Held | null = null;
  private attached: Editor | null = null;

  constructor(
    private readonly room: Room,
    private readonly report: string,
    private readonly notify: Notify,
    private readonly copying: Copying,
  ) {}

  /** Says which editor it is whose text is pasted into. */
  attach(editor: Editor): void {
    this.attached = editor;
  }

  private editor(): Editor {
    if (!this.attached) throw new Error("nothing can be pasted before there is an editor");
    return this.attached;
  }

  readonly get = (): PastingState => this.state;

  readonly subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  };

  private set(state: PastingState): void {
    if (state === this.state) return;
    if (state === null && this.offered) {
      this.held.delete(this.offered);
      this.offered = null;
    }
    this.state = state;
    for (const listener of this.listeners) listener();
  }

  /** Has what was pasted stay as it is. */
  readonly settle = (): void => {
    if (this.state !== "reading") this.set(null);
  };

  /** Keeps what is held where it is; to be told of every change of the text. */
  readonly follow = ({ transaction }: { transaction: { docChanged: boolean; mapping: { map: (pos: number, assoc: number) => number } } }): void => {
    if (!transaction.docChanged) return;
    for (const one of this.held) {
      one.from = transaction.mapping.map(one.from, -1);
      one.to = Math.max(one.from, transaction.mapping.map(one.to, -1));
    }
  };

  /** Takes a paste over from the browser, if it is one to be read by the server; whether it did. */
  paste(view: EditorView, event: ClipboardEvent): boolean {
    const data = event.clipboardData;
    if (!view.editable || !data) return false;
    const { from, to } = view.state.selection;
    return this.take(data, { from, to }, event);
  }

  /** Likewise what is dropped from elsewhere among words. Files are dropped at seams. */
  drop(view: EditorView, event: DragEvent): boolean {
    const data = event.dataTransfer;
    const at = view.posAtCoords({ left: event.clientX, top: event.clientY })?.pos;
    if (!view.editable || !data || view.dragging || data.files.length > 0 || at === undefined) return false;
    return this.take(data, { from: at, to: at }, event);
  }

  private take(data: DataTransfer, place: Held, event: Event): boolean {
    const pictures = picturesOf(data);
    const given = { html: data.getData("text/html"), text: data.getData("text/plain") };
    if (pictures.length > 0) {
      void this.putPictures(pictures, blockOf(this.editor().state, place.from));
    } else if (!given.html || isAddress(given.text)) return false;
    else if (this.room.state.line !== "live") {
      if (!isEditors(given.html)) this.notify(BY_THE_BROWSER);
      return false;
    } else {
      const copy = copyNamed(given.html);
      // Words of a line, as far as they are from here, are words.
      if (isEditors(given.html) && (!copy || (copy.words && copy.report === this.report))) return false;
      void (copy ? this.putCopy(copy, given, place) : this.put(given, place));
    }
    event.preventDefault();
    return true;
  }

  /** Puts in what the server makes of something. */
  private async put(given: Given, place: Held): Promise<void> {
    this.settle();
    const held = { ...place };
    const length = place.to - place.from;
    this.held.add(held);
    this.set("reading");
    try {
      const read = await api.readClipboard(this.report, given.html, "structure");
      if (this.insert({ ...held }, given, read)) this.offer({ ...given, at: held, length }, "here", read.notes);
      else {
        this.set(null);
        this.held.delete(held);
      }
    } catch (error) {
      this.set(null);
      const lost = !(error instanceof Refused) || error.status === 0;
      this.notify(lost ? BY_THE_BROWSER : `${(error as Error).message} Its words were put in.`);
      this.insertBy(held, (view) => (lost ? view.pasteHTML(given.html) : view.pasteText(given.text)));
      this.held.delete(held);
    }
  }

  /** Puts in what was copied out of a report, with all that it has. */
  private async putCopy(copy: CopyName, given: Given, place: Held): Promise<void> {
    this.settle();
    const held = { ...place };
    this.held.add(held);
    this.set("reading");
    try {
      const moves = copy.report === this.report && this.copying.moves(copy.token, this.editor().state.doc);
      const read = await api.pasteCopy(this.report, copy.token, moves);
      this.set(null);
      this.insert(held, given, read);
    } catch (error) {
      console.warn("What was copied could not be had from the server", error);
      // The server does not have it any more, or the report may not be read any more: what the clipboard holds is there still.
      this.set(null);
      if (isEditors(given.html)) this.insertBy(held, (view) => view.pasteHTML(given.html));
      else await this.put(given, held);
    } finally {
      this.held.delete(held);
    }
  }

  /** Puts in what has been read; false if it is too much. */
  private insert(held: Held, { text }: Given, { blocks }: Pasted): boolean {
    const { schema } = this.editor();
    const nodes = blocks.flatMap((block) => nodeOf(block, schema) ?? []);
    const [only] = nodes;
    // Words of a line come with the spaces around them, which no paragraph has.
    if (nodes.length === 1 && only?.isTextblock && !text.includes("\n")) nodes[0] = only.copy(between(text, only, schema));
    const slice = Slice.maxOpen(Fragment.fromArray(nodes));
    if (isTooMuch(slice)) {
      this.notify(TOO_MUCH);
      return false;
    }
    if (nodes.length > 0) this.insertBy(held, (view) => pasteSlice(view, slice));
    return true;
  }

  /** Does a paste at what is held, as one step of undo. A cursor that is elsewhere by now stays there. */
  private insertBy(held: Held, paste: (view: EditorView) => void): void {
    const editor = this.editor();
    if (!editor.isEditable) return;
    const { selection, doc } = editor.state;
    const waits = selection.from === held.from && selection.to === held.to;
    const own = { from: selection.from, to: selection.to };
    this.held.add(own);
    const undo = undoOf(editor);
    undo?.stopCapturing();
    if (!waits) editor.view.dispatch(editor.state.tr.setSelection(TextSelection.between(doc.resolve(held.from), doc.resolve(held.to))));
    paste(editor.view);
    undo?.stopCapturing();
    this.held.delete(own);
    if (waits) return;
    const { doc: now, tr } = editor.state;
    editor.view.dispatch(tr.setSelection(TextSelection.between(now.resolve(own.from), now.resolve(own.to))));
  }

  private offer(given: Put, way: Way, notes: Pasted["notes"]): void {
    const depth = undoOf(this.editor())?.undoStack.length;
    this.offered = given.at;
    this.set({ way, notes, have: (other) => void this.exchange(given, other, depth) });
  }

  /** Takes what was pasted out, and puts it in otherwise. */
  private async exchange(given: Put, way: Way, depth: number | undefined): Promise<void> {
    const editor = this.editor();
    this.set("reading");
    try {
      const read = way === "words" ? null : await api.readClipboard(this.report, given.html, way === "here" ? "structure" : "looks");
      if (undoOf(editor)?.undoStack.length !== depth) throw new Error("You have written since; undo what was pasted and paste it again to have it otherwise.");
      editor.commands.undo();
      // What was pasted into an empty paragraph had taken its place.
      const { from } = Selection.near(editor.state.doc.resolve(given.at.from), 1);
      const place = { from, to: from + given.length };
      if (read) this.insert(place, given, read);
      else this.insertBy(place, (view) => view.pasteText(given.text));
      this.offer(given, way, read?.notes ?? []);
    } catch (error) {
      this.set(null);
      this.notify((error as Error).message);
    }
    editor.view.focus();
  }

  /** Puts pictures behind a block, one after the other. */
  readonly putPictures = async (files: readonly File[], after: string): Promise<void> => {
    const editor = this.editor();
    let { selection } = editor.state;
    let behind = after;
    for (const [index, file] of files.entries()) {
      this.notify(files.length > 1 ? `Putting in picture ${index + 1} of ${files.length} …` : "Putting the picture in …");
      try {
        const picture = await api.addPicture(this.report, file);
        const waits = editor.state.selection.eq(selection);
        behind = insertPicture(editor, behind, picture);
        if (waits) ({ selection } = editor.state);
        this.notify(picture.made_smaller ? `The picture was made smaller, to ${picture.made_smaller} pixels, which prints well.` : "The picture is in.");
      } catch (error) {
        this.notify((error as Error).message);
      }
    }
    // At hand, to be given a caption; unless whoever put them in has gone on writing.
    if (behind !== after && editor.state.selection.eq(selection)) selectBlock(editor, behind);
  };
}

function selectBlock(editor: Editor, id: string): void {
  const found = findBlock(editor.state.doc, id);
  if (found) editor.view.dispatch(editor.state.tr.setSelection(NodeSelection.create(editor.state.doc, found.pos)).scrollIntoView());
  editor.view.focus();
}

/** The words of a paragraph, with a space in front and behind if the text that it comes from has any there. */
function between(text: string, { content }: Node, schema: Schema): Fragment {
  const space = Fragment.from(schema.text(" "));
  const before = /^\s/.test(text) && content.size > 0 ? space.append(content) : content;
  return /\s$/.test(text) && content.size > 0 ? before.append(space) : before;
}

/** Whether some text is a web address alone, which becomes a link. */
const isAddress = (text: string) => /^\s*(https?:\/\/|mailto:)\S{1,1990}\s*$/i.test(text);

/** Puts a slice in as the editor does with what it read by itself. */
function pasteSlice(view: EditorView, slice: Slice): void {
  let made = slice;
  view.someProp("transformPasted", (transform) => {
    made = transform(made, view, false);
  });
  if (view.someProp("handlePaste", (handle) => handle(view, new ClipboardEvent("paste"), made))) return;
  view.dispatch(view.state.tr.replaceSelection(made).scrollIntoView().setMeta("paste", true).setMeta("uiEvent", "paste"));
}
