import { useSyncExternalStore } from "react";

/** Set on the page while marks for citations and the index are not to be seen in the text. */
const HIDDEN = "without-marks";

const listeners = new Set<() => void>();

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => {
    listeners.delete(listener);
  };
};

/** Whether marks for citations and the index are seen in the text: for this person, until the page is left. */
export function useMarksShown(): [shown: boolean, show: (shown: boolean) => void] {
  const shown = useSyncExternalStore(subscribe, () => !document.documentElement.classList.contains(HIDDEN));
  const show = (now: boolean) => {
    document.documentElement.classList.toggle(HIDDEN, !now);
    for (const listener of listeners) listener();
  };
  return [shown, show];
}
