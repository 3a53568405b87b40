/** Sentences that several places say in the same way. */

export const counted = (count: number, one: string, many = `${one}s`) =>
  `${count.toLocaleString("en-GB")} ${count === 1 ? one : many}`;

/** The beginning of a text, as far as whole words go. */
export const shortened = (text: string, most: number): string => {
  if (text.length <= most) return text;
  const cut = text.slice(0, most);
  const space = cut.lastIndexOf(" ");
  return `${(space > most / 2 ? cut.slice(0, space) : cut).trimEnd()} …`;
};

export const howFarBehind = (count: number) => (count === 0 ? "Level with the text" : `${counted(count, "line")} behind`);

export const notMarked = (count: number) =>
  `${counted(count, "paragraph")} ${count === 1 ? "looks like a heading but is" : "look like headings but are"} not marked as such.`;

/** What is said of a table for which the text has no headings yet: it is neither behind nor level with anything. */
export const NOTHING_TO_LIST = "Nothing to list yet";

/** "IV" for Ines Varga. */
export const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((word) => word[0] ?? "")
    .slice(0, 2)
    .join("");

/** "today, 14:02" or "3 November". */
export function when(iso: string): string {
  const at = new Date(iso);
  const today = new Date();
  const time = at.toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  if (at.toDateString() === today.toDateString()) return `today, ${time}`;
  const year = at.getFullYear() === today.getFullYear() ? undefined : ("numeric" as const);
  return at.toLocaleDateString("en-GB", { day: "numeric", month: "long", year });
}
