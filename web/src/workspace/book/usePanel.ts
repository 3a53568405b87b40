/** Which panel the table leaf shows: it is part of the address, so that going back and coming again find it. */
import { useCallback } from "react";
import { flushSync } from "react-dom";
import { useLocation, useParams } from "wouter";

/** The address of a panel of a report, and of something in it. The first panel is that of the report itself. */
export const addressOf = (report: string, panel: string, of?: string): string =>
  ["/reports", report, ...(panel === "tables" && !of ? [] : [panel]), ...(of ? [encodeURIComponent(of)] : [])].join("/");

interface PanelAtHand {
  panel: string | null;
  of: string | null;
  show: (panel: string, of?: string) => void;
}

export function usePanel(report: string): PanelAtHand {
  const { panel = null, of = null } = useParams<{ panel?: string; of?: string }>();
  const [, go] = useLocation();
  const show = useCallback(
    // At once, so that the next key already reaches it. The place that an address may name stays in it.
    (wanted: string, what?: string) => flushSync(() => go(addressOf(report, wanted, what) + window.location.hash)),
    [report, go],
  );
  return { panel, of, show };
}
