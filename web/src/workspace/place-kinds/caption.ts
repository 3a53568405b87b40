import type { PlaceKind } from "./kind";

export const caption: PlaceKind = {
  name: "caption",
  called: "caption",
  list: ({ label }) => [`caption ${label}`, `${label}s`],
  front: ({ label, number }) => ({ chosen: `${label} ${number}`, listed: number }),
};
