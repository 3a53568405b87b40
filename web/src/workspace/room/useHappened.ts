/** What happened to the sections of a report since a time. */
import { useQuery, type UseQueryResult } from "@tanstack/react-query";
import { api, type HappenedSince } from "../../api/client";

/** Under which name it is at hand; without a time, since one was last here. */
export const happenedKey = (report: string, since?: string) => ["happened", report, ...(since === undefined ? [] : [since])];

export const useHappened = (report: string, since?: string, ready = true): UseQueryResult<HappenedSince> =>
  useQuery({
    queryKey: happenedKey(report, since),
    queryFn: () => api.happened(report, since),
    enabled: ready,
    // It is asked for again when sections change, by whoever looks at it.
    staleTime: Infinity,
    refetchOnWindowFocus: false,
  });
