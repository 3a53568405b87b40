import { useRef, useState, type ChangeEvent, type KeyboardEvent } from "react";

/**
 * The properties of a field over a value that others change too. The value shows, whoever changes it, until somebody types;
 * what they typed is given at Enter or when the field is left, and shows until that is answered. Whatever comes meanwhile,
 * what they have typed since stays.
 */
export function useTyped(value: string, give: (typed: string) => Promise<unknown>) {
  const [typed, setTyped] = useState<string | null>(null);
  const given = useRef<string | null>(null);
  const store = async () => {
    if (typed === null || typed === given.current) return;
    given.current = typed;
    if (typed !== value) await give(typed);
    if (given.current === typed) given.current = null;
    setTyped((now) => (now === typed ? null : now));
  };
  return {
    value: typed ?? value,
    onChange: (event: ChangeEvent<HTMLInputElement>) => setTyped(event.target.value),
    onBlur: () => void store(),
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key === "Enter") void store();
    },
  };
}
