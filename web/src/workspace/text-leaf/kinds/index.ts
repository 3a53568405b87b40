/** All kinds of block, in the order in which they are offered. */
import { dataTable } from "./dataTable";
import type { BlockKind, Surroundings } from "./kind";
import { pageBreak } from "./pageBreak";
import { part } from "./part";
import { paragraph } from "./paragraph";
import { picture } from "./picture";
import { placedTable } from "./placedTable";
import { thematicBreak } from "./thematicBreak";

export const KINDS: readonly BlockKind[] = [paragraph, placedTable, picture, dataTable, pageBreak, thematicBreak, part];

export const kindNodes = (around: Surroundings) => KINDS.flatMap((kind) => kind.nodes(around));

/** By name of the node, how a page edge within such a block is shown. */
export const edgesWithin = Object.fromEntries(KINDS.map((kind) => [kind.name, kind.edge]));

/** By name of the node, the attribute that may stand only once in a report, beside the id. */
export const uniques = Object.fromEntries(KINDS.flatMap(({ name, unique }) => (unique ? [[name, unique]] : [])));
