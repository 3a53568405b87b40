import type { PlaceKind } from "./kind";

export const bookmark: PlaceKind = {
  name: "bookmark",
  called: "bookmark",
  list: () => ["bookmarks", "Bookmarks"],
  front: () => ({ chosen: "", listed: "" }),
  mark: "bookmark",
};
