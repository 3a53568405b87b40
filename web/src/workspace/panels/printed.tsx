/** The report's tables as they will be printed, one at a time. */
import { TableLeaf } from "../table-leaf/TableLeaf";
import type { Panel, PanelProps } from "./panel";

const Printed = ({ inSight, ...given }: PanelProps) => <TableLeaf {...inSight} report={given.report} room={given.room} scroller={given.scroller} mayWrite={given.mayWrite} goTo={given.goTo} />;

export const printed: Panel = { key: "tables", group: "Tables", name: "As printed", Show: Printed };
