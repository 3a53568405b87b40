/** What can be done about findings: a plan that is shown and then carried out, and setting them aside. */
import type { Editor } from "@tiptap/core";
import { useMemo } from "react";
import { api, type RemedyPlan } from "../../../api/client";
import { counted } from "../../../words";
import type { Room } from "../../room/room";
import { carryOut } from "../../text-leaf/plan";
import type { Finding } from "../../view";

export interface Remedies {
  /** What mending these findings of one kind would change; null if it cannot be said, which is told. */
  plan: (findings: readonly Finding[]) => Promise<RemedyPlan | null>;
  mend: (findings: readonly Finding[]) => Promise<void>;
  setAside: (findings: readonly Finding[], reason: string) => Promise<boolean>;
  takeUp: (finding: Finding) => Promise<boolean>;
}

export function useRemedies(key: string, room: Room, editor: Editor | null, notify: (notice: string) => void): Remedies {
  return useMemo(() => {
    const attempt = async <T>(work: () => Promise<T>, otherwise: T): Promise<T> => {
      try {
        return await work();
      } catch (error) {
        notify((error as Error).message);
        return otherwise;
      }
    };
    const plan = async (findings: readonly Finding[]) => {
      await room.caughtUp();
      return api.planRemedy(key, findings[0]?.kind ?? "", findings.map(({ place }) => place));
    };
    return {
      plan: (findings) => attempt(() => plan(findings), null),
      // Asked for anew: others may have written since it was shown.
      mend: (findings) =>
        attempt(async () => {
          const made = await plan(findings);
          if (!editor) return;
          // First, so that what follows from the mending is counted once.
          if (made.scheme) await api.renumber(key, { scheme: made.scheme as "decimal", appendix: false });
          if (carryOut(editor, made.plan)) notify(`${counted(made.count, "place")} in the text changed. Undo (Ctrl+Z) takes it back.`);
        }, undefined),
      setAside: (findings, reason) =>
        attempt(async () => {
          await api.setAside(key, findings.map(({ id }) => id), reason);
          return true;
        }, false),
      takeUp: (finding) =>
        attempt(async () => {
          await api.takeUp(key, [finding.id]);
          return true;
        }, false),
    };
  }, [key, room, editor, notify]);
}
