/**
 * Blocks in bands of some dozens, each in an element that the browser lays out and paints only when it is near.
 *
 * In a flat list of thousands of blocks the browser goes through all of them at every key. A band is a mark on the blocks in
 * it, of the editor's own: the text stays a flat list of blocks, and the shared text knows nothing of bands.
 */
import { Mark } from "@tiptap/core";
import { Fragment, Slice, type Mark as Held, type MarkType, type Node } from "@tiptap/pm/model";
import { Plugin } from "@tiptap/pm/state";
import { Step, StepResult } from "@tiptap/pm/transform";
import { styleOf, type Styles } from "./styles";

/** Blocks from which on a band ends where another can well begin; it ends anyhow at twice as many. */
const SIZE = 40;

/** Paragraphs behind a picture that may stand beside it. */
const MOST_BESIDE = 12;

/** A band's number, and the points by which it is moved up: margins do not collapse from one band into the next. */
interface Band {
  number: number;
  lap: number;
}

const isSame = (one: Band, other: Band) => one.number === other.number && one.lap === other.lap;

/** What the parting of blocks into bands needs to know of a block. */
interface InBand {
  /** The band that the block is in, if it is in one. */
  number: number | null;
  /** The space that collapses between it and the block before it, in points; null where no band may begin. */
  lap: number | null;
}

/**
 * The band of each block. Blocks stay where they are as far as that goes. Where a band has grown too large, the part with
 * the block at `held` goes on as it was: what somebody writes in is not drawn anew.
 */
export function bandsOf(blocks: readonly InBand[], held: number): Band[] {
  let last = blocks.reduce((most, { number }) => Math.max(most, number ?? 0), 0);
  const begun = new Set<number>();
  const found: Band[] = [];
  let start = 0;
  const begin = (index: number, number: number, lap: number) => {
    start = index;
    begun.add(number);
    found.push({ number, lap });
  };
  blocks.forEach(({ number, lap }, index) => {
    const band = found[index - 1];
    if (!band) return begin(index, number ?? ++last, 0);
    const isNext = number !== null && number !== band.number && !begun.has(number);
    if (lap !== null && isNext) return begin(index, number, lap);
    const size = index - start;
    if (lap === null || size < SIZE || (size < 2 * SIZE && (lap > 0 || number === band.number))) return found.push(band);
    if (held < index) return begin(index, ++last, lap);
    // The block at hand comes later: what stands before it is the part that is named anew.
    const renamed = { number: ++last, lap: band.lap };
    begun.add(last);
    found.fill(renamed, start, index);
    begin(index, band.number, lap);
  });
  return found;
}

/** The space above and below a paragraph, in points; null for other blocks. */
type SpaceOf = (block: Node) => { before: number; after: number } | null;

const spaceIn = (styles: Styles): SpaceOf => {
  const known = new Map(styles.map((style) => [style.id, style]));
  return ({ type, attrs }) => {
    const style = known.get(attrs.style as string) ?? styleOf(styles, null);
    if (type.name !== "paragraph" || !style) return null;
    const own = attrs as { before: number | null; after: number | null };
    return { before: own.before ?? style.space_before, after: own.after ?? style.space_after };
  };
};

/** Puts blocks into bands. It moves nothing in the text, so that nothing that hangs on a place there is touched. */
class PutIntoBands extends Step {
  constructor(
    readonly mark: MarkType,
    readonly bands: readonly (Band | undefined)[],
  ) {
    super();
  }

  apply(doc: Node): StepResult {
    // Blocks of a band share one mark: the editor compares the marks of all blocks at every key, and is quick with the same.
    let mark: Held | undefined;
    const blocks = doc.content.content.map((block, index) => {
      const wanted = this.bands[index];
      const held = this.mark.isInSet(block.marks);
      if (!wanted) return held ? block.mark(held.removeFromSet(block.marks)) : block;
      if (held && isSame(held.attrs as Band, wanted)) {
        mark = held;
        return block;
      }
      if (!mark || !isSame(mark.attrs as Band, wanted)) mark = this.mark.create({ ...wanted });
      return block.mark(mark.addToSet(this.mark.removeFromSet(block.marks)));
    });
    return StepResult.ok(doc.copy(Fragment.fromArray(blocks)));
  }

  invert(doc: Node): Step {
    return new PutIntoBands(this.mark, doc.content.content.map((block) => bandOf(block)));
  }

  map(): null {
    return null;
  }

  toJSON(): object {
    return { stepType: "putIntoBands", bands: this.bands };
  }
}

const bandOf = (block: Node) => block.marks.find(({ type }) => type.name === "band")?.attrs as Band | undefined;

/** Whether all blocks have gone on as what they were; what was typed in them is no matter. */
const alike = (one: Node, other: Node) =>
  one.childCount === other.childCount &&
  one.content.content.every((block, index) => {
    const now = other.child(index);
    return now === block || now.hasMarkup(block.type, block.attrs, block.marks);
  });

export const Bands = Mark.create<{ styles: () => Styles }>({
  name: "band",
  addOptions: () => ({ styles: () => [] }),
  addAttributes: () => ({ number: { default: 0, rendered: false }, lap: { default: 0, rendered: false } }),
  renderHTML: ({ mark }) => {
    const { lap } = mark.attrs as Band;
    return ["div", lap > 0 ? { class: "band", style: `margin-top: -${lap}pt` } : { class: "band" }, 0];
  },
  addProseMirrorPlugins() {
    const { styles } = this.options;
    let known: Styles | null = null;
    let spaceOf: SpaceOf = () => null;
    return [
      new Plugin({
        appendTransaction: (_transactions, before, { doc, selection, tr }) => {
          // Before any text is there nothing may be done: what is here until then would be written into it.
          const restyled = known !== null && known !== styles();
          if (!restyled && (doc === before.doc || (bandOf(doc.child(0)) && alike(before.doc, doc)))) return null;
          if (known !== styles()) spaceOf = spaceIn((known = styles()));
          let above: { after: number } | null = null;
          let beside = 0;
          const blocks = doc.content.content.map((block): InBand => {
            const space = spaceOf(block);
            // What stands beside a picture is in one band with it.
            beside = block.attrs.beside === true ? MOST_BESIDE : beside - 1;
            const lap = space && above && beside < 0 ? Math.min(space.before, above.after) : null;
            above = space;
            return { number: bandOf(block)?.number ?? null, lap };
          });
          const bands = bandsOf(blocks, selection.$head.index(0));
          const changed = bands.some((band, index) => {
            const held = bandOf(doc.child(index));
            return !held || !isSame(held, band);
          });
          return changed ? tr.step(new PutIntoBands(this.type, bands)) : null;
        },
        props: {
          // Bands are not carried to other places, here or elsewhere.
          transformCopied: (slice) => {
            const blocks = slice.content.content.map((block) => block.mark(this.type.removeFromSet(block.marks)));
            return new Slice(Fragment.fromArray(blocks), slice.openStart, slice.openEnd);
          },
        },
      }),
    ];
  },
});
