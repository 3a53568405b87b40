/** Parts of the report that are put into the text, or pressed there: their pages are set up on the table leaf. */
import type { Editor } from "@tiptap/core";
import { useEffect } from "react";
import type { ReportShown } from "../../api/client";
import type { Sheet } from "../panels/looks/useSheet";
import { PART_PLACED, PART_PRESSED, type PartPlaced } from "../text-leaf/kinds/part";

/** `setUp` shows the panel in which a part is set up. */
export function usePartsInText(report: ReportShown, editor: Editor | null, sheet: Sheet, setUp: (part: string) => void): void {
  const { width, height } = report.page;
  useEffect(() => {
    if (!editor) return;
    const placed = (event: Event) => {
      const { id, settings, sideways } = (event as CustomEvent<PartPlaced>).detail;
      const page = sideways && width < height ? { width: height, height: width } : {};
      void sheet.changePart(id, { values: settings, page });
      setUp(id);
    };
    const pressed = (event: Event) => setUp((event as CustomEvent<string>).detail);
    const text = editor.view.dom;
    text.addEventListener(PART_PLACED, placed);
    text.addEventListener(PART_PRESSED, pressed);
    return () => {
      text.removeEventListener(PART_PLACED, placed);
      text.removeEventListener(PART_PRESSED, pressed);
    };
  }, [editor, sheet, setUp, width, height]);
}
