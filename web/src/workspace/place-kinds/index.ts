/** The kinds of place, in the order in which the spine lists them. To add one, write it as a `PlaceKind` and put it here. */
import type { Place, View } from "../view";
import { bookmark } from "./bookmark";
import { caption } from "./caption";
import { note } from "./note";
import type { PlaceKind } from "./kind";

const PLACE_KINDS: readonly PlaceKind[] = [caption, bookmark, note];
const BY_NAME = new Map(PLACE_KINDS.map((kind) => [kind.name, kind]));

/** The kind of a place. One that this browser does not know is taken for a bookmark: it has words, and leads somewhere. */
export const kindOf = ({ kind }: Place): PlaceKind => BY_NAME.get(kind) ?? bookmark;

/** Marks by which places stand on words. */
export const PLACE_MARKS: readonly string[] = PLACE_KINDS.flatMap(({ mark }) => mark ?? []);

/** The lists of places that there are any of, each with its name and its places, in the order of the text. */
export function placeLists({ places }: View): { key: string; name: string; places: Place[] }[] {
  const found = new Map<string, { key: string; name: string; places: Place[] }>();
  for (const kind of PLACE_KINDS) {
    for (const place of places) {
      if (kindOf(place) !== kind) continue;
      const [key, name] = kind.list(place);
      const list = found.get(key);
      if (list) list.places.push(place);
      else found.set(key, { key, name, places: [place] });
    }
  }
  return [...found.values()];
}
