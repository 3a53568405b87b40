/**
 * The seam between two blocks: rest the pointer on the gap and its stitches show across the leaf; press them in the gutter,
 * or the keys, and it opens with what can be put in there. The text makes room for it: it covers nothing.
 */
import { Box } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { NodeSelection, TextSelection } from "@tiptap/pm/state";
import { forwardRef, useCallback, useEffect, useImperativeHandle, useLayoutEffect, useRef, useState, type KeyboardEvent, type Ref, type RefObject } from "react";
import { flushSync } from "react-dom";
import type { ReportShown } from "../../api/client";
import { FileInput } from "../../theme/FileInput";
import { KINDS } from "./kinds";
import { elementId } from "./kinds/attributes";
import { blockAt, blockBefore } from "./places";
import type { Styles } from "./styles";
import "./seam.css";

export interface SeamHandle {
  /** Opens the seam behind the block with the cursor. */
  open: () => void;
}

interface Props {
  editor: Editor;
  report: ReportShown;
  scroller: RefObject<HTMLDivElement | null>;
  notify: (notice: string) => void;
  /** Puts pictures behind a block. */
  putPictures: (files: readonly File[], after: string) => Promise<void>;
  /** Begins to put a file in behind a block. */
  putFile: (file: File, after: string) => void;
  /** The block behind which something is about to be put in, while that is asked. */
  marked: string | null;
}

interface Gap {
  /** The ids of the blocks before and behind it; at the end there is none behind. */
  before: string;
  after: string | null;
  /** Its height in the text, in pixels. */
  y: number;
}

/** How near to the edge of a block the pointer has to rest, in pixels, and for how many milliseconds. */
const NEAR = 7;
const REST = 140;

const FILE = { key: "file", label: "File …", accept: ".docx,.md,.markdown,.html,.htm,.txt" };
const OF_KINDS = KINDS.flatMap(({ puts }) => puts ?? []);
const PUTS = [...OF_KINDS, FILE];

const isBlock = (element: Element | null): element is HTMLElement => element instanceof HTMLElement && element.hasAttribute("data-id");

/** The block behind this one in the text. */
function blockAfter(block: Element): HTMLElement | null {
  let next = block.nextElementSibling ?? block.parentElement?.nextElementSibling ?? null;
  if (next?.classList.contains("band")) next = next.firstElementChild;
  if (next && !isBlock(next)) return blockAfter(next);
  return isBlock(next) ? next : null;
}

/** The gap behind a block. */
function gapAfter(editor: Editor, block: HTMLElement): Gap | null {
  const frame = editor.view.dom.closest(".text-of-report")?.getBoundingClientRect();
  if (!frame) return null;
  const next = blockAfter(block);
  const { bottom } = block.getBoundingClientRect();
  const free = next ? next.getBoundingClientRect().top - bottom : 8;
  return { before: block.dataset.id ?? "", after: next?.dataset.id ?? null, y: bottom - frame.top + Math.min(Math.max(free, 0), 16) / 2 };
}

/** The gap that a height of the window is on or next to. */
function gapAt(editor: Editor, y: number): Gap | null {
  let block: Element | null = blockAt(editor.view.dom, y);
  while (block && !isBlock(block)) block = blockBefore(block);
  if (!block) return null;
  const { top, bottom } = block.getBoundingClientRect();
  if (y > bottom - NEAR) {
    const next = blockAfter(block);
    return !next || y < next.getBoundingClientRect().top + NEAR ? gapAfter(editor, block) : null;
  }
  if (y > top + NEAR) return null;
  let before = blockBefore(block);
  while (before && !isBlock(before)) before = blockBefore(before);
  return before ? gapAfter(editor, before) : null;
}

/** The gap at or nearest to a height of the window: the one below a block whose middle is above. */
function nearestGap(editor: Editor, y: number): Gap | null {
  const found = gapAt(editor, y);
  if (found) return found;
  let block: Element | null = blockAt(editor.view.dom, y);
  while (block && !isBlock(block)) block = blockBefore(block);
  if (!block) return null;
  const { top, bottom } = block.getBoundingClientRect();
  let before = y > (top + bottom) / 2 ? block : blockBefore(block);
  while (before && !isBlock(before)) before = blockBefore(before);
  return gapAfter(editor, before ?? block);
}

const same = (one: Gap | null, other: Gap | null) => one?.before === other?.before && one?.y === other?.y;

/** Puts the cursor to the end of the block with this id, unless it is in it already. */
function putCursorInto(editor: Editor, id: string): void {
  const { doc, selection, tr } = editor.state;
  if (selection.$from.depth > 0 && selection.$from.node(1).attrs.id === id) return;
  doc.forEach((node, pos) => {
    if (node.attrs.id !== id) return;
    // What has no words is chosen itself: the cursor would come to stand in front of it.
    const there = node.isAtom ? NodeSelection.create(doc, pos) : TextSelection.near(doc.resolve(pos + node.nodeSize - 1), -1);
    editor.view.dispatch(tr.setSelection(there));
  });
}

/** Whether files from outside are being dragged. */
const bringsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** Whether all that is being dragged is pictures; their names are not told before they are dropped. */
const bringsPictures = ({ dataTransfer }: DragEvent) => [...(dataTransfer?.items ?? [])].every(({ kind, type }) => kind === "file" && type.startsWith("image/"));

/** The cell of a data table under the pointer. */
const cellUnder = (event: DragEvent): HTMLElement | null => (event.target instanceof Element ? event.target.closest<HTMLElement>(".text-of-report td") : null);

/** The block in a cell behind which something is dropped at a height of the window: the last that begins above, or the first. */
function blockIn(cell: HTMLElement, y: number): string | undefined {
  const blocks = [...cell.querySelectorAll<HTMLElement>("[data-id]")];
  return (blocks.findLast((block) => block.getBoundingClientRect().top <= y) ?? blocks[0])?.dataset.id;
}

/** Where an element stands in the text, in pixels. */
function placeIn(editor: Editor, element: Element): { top: number; left: number; width: number; height: number } | null {
  const frame = editor.view.dom.closest(".text-of-report")?.getBoundingClientRect();
  const { top, left, width, height } = element.getBoundingClientRect();
  return frame ? { top: top - frame.top, left: left - frame.left, width, height } : null;
}

export const Seam = forwardRef(function Seam({ editor, report, scroller, notify, putPictures, putFile, marked }: Props, ref: Ref<SeamHandle>) {
  const [gap, setGap] = useState<Gap | null>(null);
  /** The cell of a data table that pictures are held over. */
  const [cell, setCell] = useState<ReturnType<typeof placeIn>>(null);
  const [open, setOpen] = useState(false);
  const isOpen = useRef(false);
  useEffect(() => {
    isOpen.current = open;
  }, [open]);

  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    let timer = 0;
    const show = (found: Gap | null) => setGap((before) => (same(before, found) ? before : found));
    const move = (event: MouseEvent) => {
      window.clearTimeout(timer);
      if (isOpen.current || (event.target as Element).closest("[data-seam]")) return;
      const y = event.clientY;
      if (event.buttons) show(null);
      else timer = window.setTimeout(() => show(gapAt(editor, y)), REST);
    };
    const leave = () => {
      window.clearTimeout(timer);
      setCell(null);
      if (!isOpen.current) show(null);
    };
    // Files are dropped at a seam, pictures into a cell as well; it shows while they are over it.
    const over = (event: DragEvent) => {
      if (!bringsFiles(event)) return;
      event.preventDefault();
      if (isOpen.current) return;
      const into = bringsPictures(event) ? cellUnder(event) : null;
      setCell((before) => {
        const now = into && placeIn(editor, into);
        return before?.top === now?.top && before?.left === now?.left ? before : now;
      });
      show(into ? null : nearestGap(editor, event.clientY));
    };
    const drop = (event: DragEvent) => {
      if (!bringsFiles(event)) return;
      event.preventDefault();
      event.stopPropagation();
      show(null);
      setCell(null);
      const files = [...(event.dataTransfer?.files ?? [])];
      const pictures = files.filter(({ type }) => type.startsWith("image/"));
      const [file, ...further] = files.filter((one) => !pictures.includes(one));
      const into = cellUnder(event);
      const after = nearestGap(editor, event.clientY)?.before;
      if (after === undefined) return;
      if (pictures.length > 0) void putPictures(pictures, (into && !file && blockIn(into, event.clientY)) || after);
      if (file) putFile(file, after);
      if (further.length > 0) notify("One file at a time is brought into a text; drop the others when this one is in.");
    };
    element.addEventListener("dragover", over);
    element.addEventListener("dragleave", leave);
    element.addEventListener("drop", drop, { capture: true });
    element.addEventListener("mousemove", move, { passive: true });
    element.addEventListener("mouseleave", leave);
    element.addEventListener("scroll", leave, { passive: true });
    editor.view.dom.addEventListener("keydown", leave);
    const dom = editor.view.dom;
    return () => {
      window.clearTimeout(timer);
      element.removeEventListener("dragover", over);
      element.removeEventListener("dragleave", leave);
      element.removeEventListener("drop", drop, { capture: true });
      element.removeEventListener("mousemove", move);
      element.removeEventListener("mouseleave", leave);
      element.removeEventListener("scroll", leave);
      dom.removeEventListener("keydown", leave);
    };
  }, [editor, scroller, notify, putPictures, putFile]);

  const close = useCallback(
    (toText: boolean) => {
      setOpen(false);
      setGap(null);
      if (toText) editor.view.focus();
    },
    [editor],
  );

  useImperativeHandle(ref, () => ({
    open: () => {
      const { $from } = editor.state.selection;
      const dom = editor.view.nodeDOM($from.depth > 0 ? $from.before(1) : $from.pos);
      const block = dom instanceof Element ? dom.closest("[data-id]") : null;
      const found = isBlock(block) ? gapAfter(editor, block) : null;
      if (!found) return;
      // At once, so that the next key already reaches it.
      flushSync(() => {
        setGap(found);
        setOpen(true);
      });
    },
  }));

  if (marked !== null && !gap) return <Marked key={marked} editor={editor} after={marked} />;
  if (cell) return <Box className="into-cell" data-seam style={cell} />;
  if (!gap) return null;
  return (
    <>
      <Box className={open ? "seam open" : "seam"} data-seam contentEditable={false} style={{ top: gap.y }}>
        <div className="stitches" aria-hidden />
        {!open && (
          <button type="button" className="needle" aria-label="Put something in between these paragraphs" title="Put something in here" onClick={() => setOpen(true)}>
            <svg viewBox="0 0 22 12" aria-hidden>
              <path d="M2 6 H7 M9 3 V9 M11 6 H16 M18 3 V9" stroke="currentColor" strokeWidth="2" strokeLinecap="round" fill="none" />
            </svg>
          </button>
        )}
      </Box>
      {open && <Open editor={editor} report={report} gap={gap} close={close} notify={notify} putFile={putFile} />}
    </>
  );
});

/** The stitches behind a block, as long as they are asked for. */
function Marked({ editor, after }: { editor: Editor; after: string }) {
  const [y] = useState(() => {
    const block = editor.view.dom.querySelector(`#${CSS.escape(elementId(after))}`);
    return isBlock(block) ? (gapAfter(editor, block)?.y ?? null) : null;
  });
  return (
    y !== null && (
      <Box className="seam open" data-seam contentEditable={false} style={{ top: y }}>
        <div className="stitches" aria-hidden />
      </Box>
    )
  );
}

interface OpenProps extends Omit<Props, "scroller" | "putPictures" | "marked"> {
  gap: Gap;
  close: (toText: boolean) => void;
}

function Open({ editor, report, gap, close, notify, putFile }: OpenProps) {
  const menu = useRef<HTMLDivElement>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  /** What is to be put in, while it is asked where. */
  const [what, setWhat] = useState<string | null>(null);
  /** Pixels that the text makes room for. */
  const [room, setRoom] = useState(44);

  useLayoutEffect(() => {
    setRoom((menu.current?.offsetHeight ?? 36) + 10);
    menu.current?.scrollIntoView({ block: "nearest" });
    menu.current?.querySelector<HTMLElement>("[role=menuitem]")?.focus({ preventScroll: true });
  }, [what]);
  useEffect(() => {
    const press = (event: MouseEvent) => {
      if (!(event.target as Element).closest("[data-seam]")) close(false);
    };
    window.addEventListener("mousedown", press);
    return () => window.removeEventListener("mousedown", press);
  }, [close]);

  const chosen = PUTS.find((one) => one.key === what);
  const put = (insert: (editor: Editor, styles: Styles) => void) => {
    putCursorInto(editor, gap.before);
    insert(editor, report.styles);
    close(true);
  };
  const choose = (one: (typeof PUTS)[number]) => {
    if ("choices" in one) setWhat(one.key);
    else if ("insert" in one) put(one.insert);
    else setAsked({ key: one.key, after: gap.before });
  };

  const keys = (event: KeyboardEvent) => {
    const items = [...(menu.current?.querySelectorAll<HTMLElement>("[role=menuitem]") ?? [])];
    const at = items.indexOf(document.activeElement as HTMLElement);
    const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
    const letter = event.key.length === 1 ? event.key.toLowerCase() : "";
    const lettered = [...items.slice(at + 1), ...items.slice(0, at + 1)].find((one) => one.textContent.toLowerCase().startsWith(letter));
    const to =
      step !== undefined ? items[(at + step + items.length) % items.length]
      : event.key === "Home" ? items[0]
      : event.key === "End" ? items.at(-1)
      : letter.trim() && !event.ctrlKey && !event.altKey && !event.metaKey ? lettered
      : undefined;
    if ((event.key === "Escape" || event.key === "Backspace") && what !== null) setWhat(null);
    else if (event.key === "Escape") close(true);
    else if (event.key === "Tab") close(true);
    else if (to) to.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <>
      {gap.after !== null && (
        <style>{`#block-${CSS.escape(gap.after)} { padding-top: ${room}px; } table#block-${CSS.escape(gap.after)} { margin-top: ${room + 14}px; }`}</style>
      )}
      <div ref={menu} role="menu" tabIndex={-1} aria-label="Put in here" data-seam className="puts" contentEditable={false} style={{ top: gap.y + 6 }} onKeyDown={keys}>
        {chosen && "choices" in chosen ? (
          <>
            <span className="what">{chosen.label}</span>
            {chosen.choices.map(({ label, insert }) => (
              <Item key={label} label={label} name={`${chosen.label} ${label}`} press={() => put(insert)} />
            ))}
            <Item label="↶" name="Something else" press={() => setWhat(null)} />
          </>
        ) : (
          PUTS.map((one) => <Item key={one.key} label={one.label} name={one.label} press={() => choose(one)} />)
        )}
      </div>
      <FileInputs editor={editor} report={report} asked={asked} notify={notify} putFile={putFile} done={() => close(false)} />
    </>
  );
}

const Item = ({ label, name, press }: { label: string; name: string; press: () => void }) => (
  <button type="button" role="menuitem" tabIndex={-1} aria-label={name} onClick={press}>
    {label}
  </button>
);

/** What was asked for that needs a file, and behind which block: by the time that the file has come, the cursor may be elsewhere. */
interface Asked {
  key: string;
  after: string;
}

interface FileProps {
  editor: Editor;
  report: ReportShown;
  asked: Asked | null;
  notify: (notice: string) => void;
  putFile: (file: File, after: string) => void;
  done?: () => void;
}

function FileInputs({ editor, report, asked, notify, putFile, done }: FileProps) {
  const file = useRef<HTMLInputElement>(null);
  const put = OF_KINDS.find((one) => one.key === asked?.key);
  const accept = put && "accept" in put ? put.accept : FILE.accept;
  useEffect(() => {
    if (asked) file.current?.click();
  }, [asked]);
  const take = async (chosen: File | undefined) => {
    done?.();
    if (!chosen || !asked) return;
    if (!put || !("insertFile" in put)) return putFile(chosen, asked.after);
    try {
      await put.insertFile(editor, asked.after, report.key, chosen);
    } catch (error) {
      notify((error as Error).message);
    }
  };
  return <FileInput ref={file} label="File to put in" accept={accept} take={(chosen) => void take(chosen)} />;
}
