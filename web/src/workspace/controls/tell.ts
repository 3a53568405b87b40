/** What is done to rows of a report, and how it went. */
import type { Say } from "./Notice";

/** For what was refused: the sentence that came with it. */
export const heard = (say: Say) => (error: unknown) => say((error as Error).message);

/** Does something that is not in the text, where Ctrl+Z is not for it: says so, with the way back. */
export async function tell(say: Say, done: string, work: () => Promise<unknown>, back: () => Promise<unknown>): Promise<boolean> {
  try {
    await work();
  } catch (error) {
    heard(say)(error);
    return false;
  }
  say(done, { name: "Take it back", run: () => void back().then(() => say("Taken back."), heard(say)) });
  return true;
}
