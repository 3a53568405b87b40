/** What is changed among words: a word out of a list, and a figure. */
import { Box } from "@chakra-ui/react";
import { useEffect, useRef, useState, type ReactNode } from "react";
import "./looks.css";

export const VARIOUS = "various";

interface Common {
  name: string;
  remark?: string;
  disabled?: boolean;
}

const described = ({ name, remark }: Common) => (remark ? `${name}, ${remark}` : name);

interface ChoiceProps extends Common {
  value: string | undefined;
  choices: readonly (readonly [value: string, name: string])[];
  set: (value: string) => void;
}

/** A word out of a list of words. */
export const Choice = ({ value, choices, set, ...common }: ChoiceProps) => (
  <select
    className={common.remark ? "word marked" : "word"}
    aria-label={described(common)}
    title={described(common)}
    disabled={common.disabled}
    value={value ?? VARIOUS}
    onChange={(event) => set(event.target.value)}
  >
    {value === undefined && (
      <option value={VARIOUS} disabled>
        {VARIOUS}
      </option>
    )}
    {choices.map(([key, text]) => (
      <option key={key} value={key}>
        {text}
      </option>
    ))}
    {value !== undefined && !choices.some(([key]) => key === value) && <option value={value}>{value}</option>}
  </select>
);

interface FigureProps extends Common {
  value: number | undefined;
  least: number;
  most: number;
  step: number;
  before: ReactNode;
  after: ReactNode;
  set: (value: number) => void;
  live?: (value: number) => void;
  /** What an emptied field means; without it, nothing. */
  clear?: () => void;
}

/** Milliseconds after the last digit at which a figure counts as given. */
const PAUSE = 700;

/** A figure among words. It counts once Enter is pressed, the field is left, or nobody has typed for a moment. */
export function Figure({ value, least, most, step, before, after, set, live, clear, ...common }: FigureProps) {
  const shown = value === undefined ? "" : String(Math.round(value * 100) / 100);
  const [typed, setTyped] = useState<string | null>(null);
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const number = Number(typed);
  const wrong = typed !== null && typed !== "" && !(number >= least && number <= most);

  const give = (text: string | null) => {
    window.clearTimeout(timer.current);
    if (text === null || text === shown) return;
    if (text === "") return clear?.();
    const wanted = Number(text);
    if (wanted >= least && wanted <= most) set(wanted);
  };

  return (
    <label className={common.remark ? "word figure marked" : "word figure"} title={described(common)}>
      {before}
      <input
        type="number"
        aria-label={described(common)}
        aria-invalid={wrong}
        disabled={common.disabled}
        min={least}
        max={most}
        step={step}
        placeholder={value === undefined ? "…" : undefined}
        value={typed ?? shown}
        onChange={(event) => {
          const text = event.target.value;
          setTyped(text);
          const wanted = Number(text);
          if (text !== "" && wanted >= least && wanted <= most) live?.(wanted);
          window.clearTimeout(timer.current);
          timer.current = window.setTimeout(() => give(text), PAUSE);
        }}
        onBlur={() => {
          give(typed);
          setTyped(null);
        }}
        onKeyDown={(event) => {
          if (event.key === "Enter") give(typed);
        }}
      />
      {after}
      {wrong && (
        <Box as="span" role="alert" className="remedy">
          {least} to {most}
        </Box>
      )}
    </label>
  );
}
