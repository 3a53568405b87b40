import { createContext } from "react";
import { FAMILIES } from "../../api/settings";

/** The typefaces that ship with the application. */
export const TYPEFACES = FAMILIES.shipped;
export type Typeface = (typeof TYPEFACES)[number];

/** The family of one face that has the signs which all others lack; nobody chooses it. */
export const SYMBOLS = "DejaVu Sans";

/** Families in CSS, each with those that stand in for it where it lacks a character: the core sets lines in the same. */
export const STAND_INS: Readonly<Record<string, readonly string[]>> = FAMILIES.stand_ins;

const NAME = new RegExp(`^${FAMILIES.name}$`, "u");

/** Whether something can be the name of a family. */
export const isFamily = (name: string): boolean => NAME.test(name);

/** The typeface that ships which a family is shown in: itself, one of the same widths, or the nearest in kind (core, `family`). */
export function standIn(font: string): Typeface {
  const wanted = font.trim().toLowerCase();
  const asWide: Readonly<Record<string, Typeface>> = FAMILIES.as_wide;
  for (const one of [wanted, wanted.replace(new RegExp(FAMILIES.weight), "")]) {
    const found = TYPEFACES.find((family) => family.toLowerCase() === one) ?? (Object.hasOwn(asWide, one) ? asWide[one] : undefined);
    if (found) return found;
  }
  if (FAMILIES.mono.some((hint) => wanted.includes(hint))) return "Liberation Mono";
  return !wanted.includes("sans") && FAMILIES.serif.some((hint) => wanted.includes(hint)) ? "Liberation Serif" : "Liberation Sans";
}

/** What a family that a report has of its own is called in CSS: never like one that somebody has installed. */
export const ownFamily = (font: string) => `of this report, ${font}`;

/** The value of `font-family` for a family; its name can come from anybody. */
export function familyOf(font: string): string {
  if (font === SYMBOLS) return `"${SYMBOLS}"`;
  const shown = standIn(font);
  const own = shown.toLowerCase() !== font.toLowerCase() && isFamily(font) ? [ownFamily(font)] : [];
  return [...own, shown, ...(STAND_INS[shown] ?? [])].map((one) => `"${one}"`).join(", ");
}

/** The families that the report has of its own. */
export const OwnFamilies = createContext<readonly string[]>([]);
