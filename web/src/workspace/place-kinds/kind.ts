/** What a kind of place is to people, beside headings. The core's part of it stands in `structure/place_kinds`. */
import type { Place, View } from "../view";

export interface PlaceKind {
  /** As the core calls it. */
  name: string;
  /** What one of them is called where places are chosen. */
  called: string;
  /** The list of the spine that a place stands in: its key, and its name. */
  list: (place: Place) => readonly [key: string, name: string];
  /** What stands in front of its words where it is chosen, and where it is listed. */
  front: (place: Place, view: View) => { chosen: string; listed: string };
  /** The mark by which it stands on words of the text; without it, it is a paragraph. */
  mark?: string;
}
