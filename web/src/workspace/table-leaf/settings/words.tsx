/** Words for single settings of a table, each pressed to change it. */
import type { ReportShown } from "../../../api/client";
import { Choice } from "../../controls/Figure";
import { Word } from "../../controls/LookWords";
import type { Tables } from "../../tables/useTables";
import type { Heading, Recipe, Table } from "../../view";

/** What the settings of each part are given. */
export interface Given {
  table: Table;
  tables: Tables;
  report: ReportShown;
  headings: readonly Heading[];
}

export type Choices<T extends string> = readonly (readonly [value: T, name: string])[];

/** One setting that is one of a few. */
export function OneOf<T extends string>({ tables, table, setting, name, choices }: Given & { setting: keyof Recipe; name: string; choices: Choices<T> }) {
  return <Choice name={name} value={String(table.recipe[setting])} choices={choices} set={(value) => void tables.change([[[setting], value]])} />;
}

/** One setting that is or is not. */
export function Either({ tables, table, setting, ...form }: Given & { setting: keyof Recipe; name: string; on: string; off: string }) {
  return <Word form={{ kind: "switch", ...form }} value={table.recipe[setting]} set={(value) => void tables.change([[[setting], value]])} />;
}

export const LEVELS = [1, 2, 3, 4, 5, 6, 7, 8, 9];
