/** The panels of the table leaf, in the order of its chooser. To add one, write it as a `Panel` and put it here. */
import { checkUp } from "./checkup/CheckUp";
import { happened } from "./happened/Happened";
import { houseSheets } from "./looks/HouseSheets";
import { ladder } from "./looks/Ladder";
import { pageSetup } from "./looks/PageSetup";
import { styles } from "./looks/Styles";
import { typefaces } from "./looks/Typefaces";
import type { Group, Panel } from "./panel";
import { authorities } from "./places/Authorities";
import { bookmarks } from "./places/Bookmarks";
import { terms } from "./places/Terms";
import { printed } from "./printed";
import { searching } from "./searching/Search";

export const PANELS: readonly Panel[] = [printed, bookmarks, authorities, terms, ladder, styles, houseSheets, pageSetup, typefaces, checkUp, happened, searching];

export const inGroup = (group: Group): readonly Panel[] => PANELS.filter((panel) => panel.group === group);

/** The panel with a key; the first one for any other. */
export const panelOf = (key: string | null): Panel => PANELS.find((panel) => panel.key === key) ?? printed;
