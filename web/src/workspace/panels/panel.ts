/** What a panel of the table leaf is, and what it is given. */
import type { Editor } from "@tiptap/core";
import type { ComponentType } from "react";
import type { ReportShown } from "../../api/client";
import type { Notify } from "../controls/Notice";
import type { Room } from "../room/room";
import type { View } from "../table-leaf/TableLeaf";
import type { Tables } from "../tables/useTables";

/** The words of the leaf's chooser; each has panels of its own. */
export const GROUPS = ["Tables", "Looks", "Report"] as const;
export type Group = (typeof GROUPS)[number];

/** The table that is looked at, and what of it. */
export interface TableInSight {
  tables: Tables;
  choose: (key: string) => void;
  view: View;
  show: (view: View) => void;
}

export interface PanelProps {
  report: ReportShown;
  room: Room;
  /** The text's editor, once it is there. */
  editor: Editor | null;
  /** The text's editor for whoever may write; null for others. */
  writer: Editor | null;
  mayWrite: boolean;
  /** What of the panel is shown, such as a style by its id: it is part of the address. */
  of: string | null;
  /** Shows a panel by its key, and something of it. */
  show: (panel: string, of?: string) => void;
  inSight: TableInSight;
  goTo: (id: string) => void;
  notify: Notify;
  /** The element that scrolls. */
  scroller: HTMLElement | null;
}

export interface Panel {
  /** As in the address. */
  key: string;
  group: Group;
  name: string;
  Show: ComponentType<PanelProps>;
}
