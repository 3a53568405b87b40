/** What is done to rows of a report, and how it went. */
import type { Notify } from "./Notice";

/** For what was refused: the sentence that came with it. */
export const notifyError = (notify: Notify) => (error: unknown) => notify((error as Error).message);

/** Does something that is not in the text, where Ctrl+Z is not for it: says so, with the way back. */
export async function withUndo(notify: Notify, done: string, work: () => Promise<unknown>, back: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
  } catch (error) {
    notifyError(notify)(error);
    return false;
  }
  notify(done, { name: "Take it back", run: () => void back().then(() => notify("Taken back."), notifyError(notify)) });
  return true;
}
