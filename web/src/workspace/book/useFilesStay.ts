/** Files that are let go elsewhere than in the text would be opened by the browser, in place of the report. */
import { useEffect } from "react";

export function useFilesStay(notify: (notice: string) => void, mayWrite: boolean): void {
  useEffect(() => {
    const isFile = (event: DragEvent) => event.dataTransfer?.types.includes("Files") === true && !event.defaultPrevented;
    const over = (event: DragEvent) => {
      if (isFile(event)) event.preventDefault();
    };
    const drop = (event: DragEvent) => {
      if (!isFile(event)) return;
      event.preventDefault();
      notify(mayWrite ? "Let files and pictures go between two paragraphs of the text: they are put in there." : "You can read this report, not change it.");
    };
    window.addEventListener("dragover", over);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", drop);
    };
  }, [notify, mayWrite]);
}
