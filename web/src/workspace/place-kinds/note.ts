import { noteSign } from "../view";
import type { PlaceKind } from "./kind";

export const note: PlaceKind = {
  name: "note",
  called: "note",
  list: () => ["notes", "Notes"],
  front: ({ id }, view) => {
    const sign = noteSign(view, id);
    return { chosen: sign && `Note ${sign}`, listed: sign };
  },
};
