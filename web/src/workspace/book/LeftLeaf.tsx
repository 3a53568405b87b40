/** What the left leaf shows: a table made from the structure, or one of the places where the look of the report is set. */
import { Box, Flex } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useCallback, type ReactNode } from "react";
import type { ReportShown } from "../../api/client";
import type { Say } from "../controls/Notice";
import type { Room } from "../room/room";
import { CheckUp } from "../panels/checkup/CheckUp";
import { Places } from "../panels/places/Bookmarks";
import { HouseSheets } from "../panels/looks/HouseSheets";
import { Ladder } from "../panels/looks/Ladder";
import { PageSetup } from "../panels/looks/PageSetup";
import { Press } from "../controls/parts";
import { Styles } from "../panels/looks/Styles";
import { useSheet } from "../panels/looks/useSheet";
import { useUses } from "../panels/looks/useUses";
import { useRoom } from "../room/useRoom";

export type Place = "tables" | "places" | "ladder" | "styles" | "house" | "page" | "checkup";

const PLACES: readonly (readonly [place: Place, name: string, short?: string])[] = [
  ["tables", "Tables"],
  ["places", "Places"],
  ["ladder", "Ladder"],
  ["styles", "Styles"],
  ["house", "House sheets", "House"],
  ["page", "Page"],
  ["checkup", "Check-up"],
];

interface Props {
  report: ReportShown;
  room: Room;
  place: Place;
  /** The style at hand, by id. */
  style: string | null;
  /** Shows another place, and there another style. */
  show: (place: Place, style?: string) => void;
  /** The text's editor, once it is there; and whether the person may write in it. */
  editor: Editor | null;
  mayWrite: boolean;
  goTo: (id: string) => void;
  say: Say;
  scroller: HTMLElement | null;
  children: ReactNode;
}

export function LeftLeaf({ place, show, children, ...props }: Props) {
  return (
    <>
      <Flex as="nav" aria-label="What the table leaf shows" px="3" pt="2" wrap="wrap">
        {PLACES.map(([one, name, short = name]) => (
          <Press
            key={one}
            type="button"
            aria-pressed={place === one}
            aria-label={name}
            title={name === short ? undefined : name}
            borderColor="transparent"
            bg="transparent"
            color="quiet"
            px="0.5"
            fontSize="12px"
            _pressed={{ color: "ink", fontWeight: "600", borderColor: "edge", bg: "leaf" }}
            onClick={() => show(one)}
          >
            {short}
          </Press>
        ))}
      </Flex>
      {place === "tables" ? children : <Setting place={place} show={show} {...props} />}
    </>
  );
}

/** The id of the block with the cursor. */
function blockAtCursor(editor: Editor | null): string | null {
  const $from = editor?.state.selection.$from;
  return $from && $from.depth > 0 ? ($from.node(1).attrs.id as string) : null;
}

function Setting({ report, room, place, style, show, editor, mayWrite, goTo, say, scroller }: Omit<Props, "children">) {
  const view = useRoom(room, "view");
  const sheet = useSheet(report, room, mayWrite ? editor : null, say);
  const uses = useUses(editor);
  const at = useCallback(() => blockAtCursor(editor), [editor]);
  const common = { report, uses, at, mayWrite, sheet, goTo };
  return (
    <Box>
      {place === "places" && <Places report={report} room={room} view={view} writer={mayWrite ? editor : null} scroller={scroller} goTo={goTo} say={say} />}
      {place === "ladder" && <Ladder {...common} room={room} view={view} writer={mayWrite ? editor : null} editor={editor} say={say} openStyle={(id) => show("styles", id)} />}
      {place === "styles" && <Styles {...common} chosen={style} choose={(id) => show("styles", id)} />}
      {place === "house" && <HouseSheets report={report} mayWrite={mayWrite} sheet={sheet} say={say} />}
      {place === "checkup" && (
        <CheckUp report={report.key} room={room} view={view} writer={mayWrite ? editor : null} scroller={scroller} goTo={goTo} say={say} />
      )}
      {place === "page" && <PageSetup report={report} pages={view.labels.length} mayWrite={mayWrite} sheet={sheet} />}
    </Box>
  );
}
