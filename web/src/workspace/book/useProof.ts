/** The proof in the place of the text: whether it is shown, from which page on, and how one goes on in either. */
import { useCallback, useEffect, useRef, useState, type RefObject } from "react";
import { flushSync } from "react-dom";
import type { ProofHandle } from "../proof/Proof";
import type { TextLeafHandle } from "../text-leaf/TextLeaf";
import type { Whereabouts } from "../text-leaf/whereabouts";

interface Given {
  here: Whereabouts;
  bringText: () => void;
  /** Goes to a place in the text. */
  goTo: (id: string) => void;
  leaf: RefObject<TextLeafHandle | null>;
}

export function useProof({ here, bringText, goTo: goToInText, leaf }: Given) {
  /** The page with which it begins; null while the text is shown. */
  const [proof, setProof] = useState<number | null>(null);
  const proofRef = useRef<ProofHandle>(null);
  const page = useRef(here.page);
  useEffect(() => {
    page.current = here.page;
  }, [here.page]);
  const leaveProof = useCallback(
    (block: string | null) => {
      // At once, so that the text can be gone to.
      flushSync(() => setProof(null));
      if (block === null) leaf.current?.focus();
      else goToInText(block);
    },
    [leaf, goToInText],
  );
  const toProof = useCallback(() => {
    bringText();
    if (proofRef.current) proofRef.current.leave();
    else setProof(page.current);
  }, [bringText]);
  const goTo = useCallback(
    (id: string) => {
      if (proofRef.current?.goTo(id)) bringText();
      else if (proofRef.current) leaveProof(id);
      else goToInText(id);
    },
    [bringText, goToInText, leaveProof],
  );
  return { proof, proofRef, toProof, leaveProof, goTo };
}
