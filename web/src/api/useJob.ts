/** Follows long work on the server: begin it, watch its progress, cancel it. */
import { useCallback, useEffect, useState } from "react";
import { api, type Job } from "./client";

const PAUSE = 250;

export function useJob(done: (job: Job) => void) {
  const [job, setJob] = useState<Job | null>(null);
  const [trouble, setTrouble] = useState("");
  const running = job?.state === "running" ? job.key : null;

  const settle = (now: Job) => {
    setJob(now);
    if (now.state === "done") done(now);
    if (now.state === "refused") setTrouble(now.message);
  };

  useEffect(() => {
    if (!running) return;
    let over = false;
    const look = async () => {
      while (!over) {
        await new Promise((resolve) => setTimeout(resolve, PAUSE));
        if (over) return;
        try {
          const now = await api.job(running);
          if (over) return;
          settle(now);
          if (now.state !== "running") return;
        } catch (error) {
          setTrouble((error as Error).message);
          setJob(null);
          return;
        }
      }
    };
    void look();
    return () => {
      over = true;
    };
    // `settle` calls `done` once, when the job is; a new function in between changes nothing.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [running]);

  const begin = async (start: () => Promise<Job>) => {
    setTrouble("");
    try {
      settle(await start());
    } catch (error) {
      setJob(null);
      setTrouble((error as Error).message);
    }
  };
  const cancel = useCallback(() => {
    if (running) void api.cancel(running).then(setJob, () => setJob(null));
  }, [running]);

  return { job, running: running !== null, trouble, begin, cancel };
}
