/**
 * Blocks in groups that the browser lays out and paints only when they are near.
 *
 * The editor wants its blocks as a flat list of children, and a browser goes through the whole of a flat list at every
 * key. So the editor's element has a shadow tree of groups, each showing some of the children through a slot: to the
 * editor the list stays flat, to the browser it is a tree.
 */
import { Extension } from "@tiptap/core";
import { Plugin } from "@tiptap/pm/state";

/** Children in a group when it is made; it is parted again at twice as many. */
const SIZE = 40;

/** Height of a block that was never laid out, in pixels. */
const ESTIMATE = 62;

/** What each slot shows. Kept here because a browser that is asked works out the slots of all blocks again. */
const shown = new WeakMap<HTMLSlotElement, readonly Element[]>();

/** The last element that begins above a height of the window; they stand in order, so halving finds it. */
function lastAbove(elements: ArrayLike<Element>, y: number): Element | undefined {
  let low = 0;
  let high = elements.length - 1;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((elements[middle]?.getBoundingClientRect().top ?? 0) <= y) low = middle;
    else high = middle - 1;
  }
  return elements[low];
}

/** The block of the text at a height of the window, or the last one above it. */
export function blockAt(host: Element, y: number): Element | null {
  const slot = lastAbove(host.shadowRoot?.children ?? [], y)?.querySelector("slot");
  return (slot && lastAbove(shown.get(slot) ?? [], y)) ?? null;
}

/** A slot in a group of its own. What hangs over its edge, such as the name at a caret, is not cut off. */
function newSlot(): HTMLSlotElement {
  const group = document.createElement("div");
  group.style.contentVisibility = "auto";
  group.style.overflowClipMargin = "24px";
  return group.appendChild(document.createElement("slot"));
}

/** Parts of about `SIZE` blocks, or all in one if there are less than twice as many. */
function parted(blocks: Element[], mayLead: (block: Element) => boolean): Element[][] {
  if (blocks.length < 2 * SIZE) return blocks.length > 0 ? [blocks] : [];
  const parts: Element[][] = [];
  for (const block of blocks) {
    const last = parts.at(-1);
    if (!last || (last.length >= SIZE && mayLead(block)) || last.length >= 2 * SIZE) parts.push([block]);
    else last.push(block);
  }
  return parts;
}

class Groups {
  private readonly root: ShadowRoot;
  private slots: HTMLSlotElement[] = [];
  private readonly slotOf = new WeakMap<Element, HTMLSlotElement>();
  private readonly observer = new MutationObserver(() => this.arrange());

  /** `mayLead` says whether a group may begin with a block: margins do not collapse over the border of a group. */
  constructor(
    private readonly host: HTMLElement,
    private readonly mayLead: (block: Element) => boolean,
  ) {
    this.root = host.shadowRoot ?? host.attachShadow({ mode: "open", slotAssignment: "manual" });
    this.observer.observe(host, { childList: true });
    this.arrange();
  }

  /** Takes in at once what has changed, for whoever goes on to measure or to scroll. */
  flush(): void {
    if (this.observer.takeRecords().length > 0) this.arrange();
  }

  disconnect(): void {
    this.observer.disconnect();
    this.root.replaceChildren();
  }

  /** New blocks join the group of the block before them; the others stay where they are. */
  private arrange(): void {
    const order = new Map(this.slots.map((slot, index) => [slot, index]));
    const next: Element[][] = [[]];
    let at = 0;
    for (const block of Array.from(this.host.children)) {
      const slot = this.slotOf.get(block);
      at = Math.max(at, (slot && order.get(slot)) ?? 0);
      (next[at] ??= []).push(block);
    }
    const slots = next.flatMap((blocks, index) =>
      parted(blocks, this.mayLead).map((part, number) => this.fill((number === 0 && this.slots[index]) || newSlot(), part)),
    );
    const kept = new Set(slots);
    for (const slot of this.slots) if (!kept.has(slot)) slot.parentElement?.remove();
    slots.forEach((slot, index) => {
      const there = this.root.children[index] ?? null;
      if (slot.parentElement && slot.parentElement !== there) this.root.insertBefore(slot.parentElement, there);
    });
    this.slots = slots;
  }

  private fill(slot: HTMLSlotElement, blocks: Element[]): HTMLSlotElement {
    const before = shown.get(slot) ?? [];
    if (before.length !== blocks.length || blocks.some((block, index) => block !== before[index])) {
      slot.assign(...blocks);
      shown.set(slot, blocks);
      for (const block of blocks) this.slotOf.set(block, slot);
      slot.parentElement?.style.setProperty("contain-intrinsic-block-size", `auto ${blocks.length * ESTIMATE}px`);
    }
    return slot;
  }
}

export const BlockGroups = Extension.create<{ flush: ReadonlySet<string> }>({
  name: "blockGroups",
  addOptions: () => ({ flush: new Set() }),
  addProseMirrorPlugins() {
    const { flush } = this.options;
    return [
      new Plugin({
        view: (view) => {
          const groups = new Groups(view.dom, (block) => flush.has(block.getAttribute("data-style") ?? ""));
          return { update: () => groups.flush(), destroy: () => groups.disconnect() };
        },
      }),
    ];
  },
});
