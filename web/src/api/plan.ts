/** A plan: what an action would change in a text, as the server says it. The core describes each step (`core/report/plan.py`). */

export type Values = Readonly<Record<string, unknown>>;

export interface ElementOf {
  tag: string;
  attributes: Values;
  children: readonly (ElementOf | { text: string; attributes: Values })[];
}

/** Offsets count UTF-16 code units of a paragraph's text. */
export type PlanStep =
  /** With `words`, formats only if they still read so. */
  | { step: "set"; block: string; values: Values }
  | { step: "format"; block: string; start: number; end: number; values: Values; words?: string }
  | { step: "cut"; block: string; start: number; words: string; instead: ElementOf["children"] }
  | { step: "move"; blocks: readonly string[]; after: string | null }
  | { step: "insert"; blocks: readonly ElementOf[]; after: string | null }
  /** Blocks named in `reads` are taken out only if their words still are what it says. */
  | { step: "remove"; blocks: readonly string[]; reads: Readonly<Record<string, string>> };

export type Plan = readonly PlanStep[];
