/** What a look is in CSS, the same for words and for styles. */
import { bordersOf, SIDES, type Border } from "../controls/borders";

/** A colour of words; in the dark theme as far as it is legible there. */
export const inkInCss = (colour: string) => (colour === "#000000" ? "var(--text-ink)" : `color-mix(in oklab, ${colour}, var(--text-mix))`);

/** A colour behind words, of which the ink on it stays legible. */
export const backgroundInCss = (colour: string) => (colour === "none" ? "transparent" : `color-mix(in oklab, ${colour}, var(--background-mix))`);

/** Points between words and a line around their paragraph (core, `pages/frames.py`, ROOM). */
const ROOM = 3;

/** A line as an image, across or down: a border could not stand where the paragraph's indent is. */
function drawn({ width, colour, kind, side }: Border): string {
  const ink = inkInCss(colour);
  const along = side === "top" || side === "bottom" ? "90deg" : "180deg";
  const across = side === "top" || side === "bottom" ? "180deg" : "90deg";
  if (kind === "double") return `linear-gradient(${across}, ${ink} 34%, transparent 34% 66%, ${ink} 66%)`;
  const dash = kind === "dashed" ? 3 * width : width;
  return kind === "solid" ? `linear-gradient(${ink} 0 0)` : `repeating-linear-gradient(${along}, ${ink} 0 ${dash}pt, transparent ${dash}pt ${2 * dash}pt)`;
}

/**
 * What is behind and around a paragraph, from its indent to its right indent, as custom properties: a style says some of them, a
 * paragraph others. `FRAME` puts them together.
 */
export function bordersInCss(text: unknown): string {
  const found = new Map(bordersOf(text).map((one) => [one.side, one]));
  return SIDES.map((side) => {
    const one = found.get(side);
    return one
      ? `--line-${side}: ${drawn(one)}; --line-${side}-width: ${one.width}pt; --line-${side}-room: ${one.width + ROOM}pt`
      : `--line-${side}: none; --line-${side}-width: 0pt; --line-${side}-room: 0pt`;
  }).join("; ");
}

export const FRAME = `
  --frame-left: calc(var(--gutter) + min(var(--indent, 0pt), var(--marker, var(--indent, 0pt))) - var(--line-left-room, 0pt));
  --frame-right: calc(var(--beyond) + var(--right-indent, 0pt) - var(--line-right-room, 0pt));
  --frame-width: calc(100% - var(--frame-left) - var(--frame-right));
  padding-top: var(--line-top-room, 0pt); padding-bottom: var(--line-bottom-room, 0pt);
  background-image: var(--line-top, none), var(--line-bottom, none), var(--line-left, none), var(--line-right, none),
    linear-gradient(var(--background, transparent) 0 0);
  background-repeat: no-repeat;
  background-size: var(--frame-width) var(--line-top-width, 0pt), var(--frame-width) var(--line-bottom-width, 0pt),
    var(--line-left-width, 0pt) 100%, var(--line-right-width, 0pt) 100%, var(--frame-width) 100%;
  background-position: left var(--frame-left) top, left var(--frame-left) bottom, left var(--frame-left) top, right var(--frame-right) top,
    left var(--frame-left) top;`;

/** Letters as they are typed, or capitals for small letters. */
export const CAPITALS_IN_CSS: Readonly<Record<string, string>> = {
  none: "text-transform: none; font-variant-caps: normal",
  all: "text-transform: uppercase; font-variant-caps: normal",
  small: "text-transform: none; font-variant-caps: small-caps",
};
