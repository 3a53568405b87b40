import { CHOICES } from "../../api/settings";

/** The typefaces that ship with the application. */
export const TYPEFACES = CHOICES.style.font;

/** The family of one face that has the signs which all others lack; nobody chooses it. */
export const SYMBOLS = "DejaVu Sans";

/** Families in CSS, each with those that stand in for it where it lacks a character: the core sets lines in the same. */
export const STAND_INS: Readonly<Record<string, readonly string[]>> = {
  Caladea: ["Liberation Serif", "Liberation Sans", "Liberation Mono", SYMBOLS],
  Carlito: ["Liberation Sans", "Liberation Serif", "Liberation Mono", SYMBOLS],
  "Liberation Serif": ["Liberation Sans", "Carlito", "Liberation Mono", SYMBOLS],
  "Liberation Sans": ["Liberation Serif", "Carlito", "Liberation Mono", SYMBOLS],
  "Liberation Mono": ["Liberation Sans", "Liberation Serif", "Carlito", SYMBOLS],
};

/** The value of `font-family` for a family; its name can come from anybody. */
export function familyOf(font: string): string {
  const name = font.replace(/[^A-Za-z0-9 _-]/g, "");
  return [name, ...(STAND_INS[name] ?? [])].map((one) => `"${one}"`).join(", ");
}
