/** A look said in words; each word is where it is changed. */
import { useContext } from "react";
import { Choice, Figure, VARIOUS } from "./Figure";
import { OwnFamilies, standIn } from "./fonts";
import { FORMS, OF_STYLES, inWords, type Form, type Look, type Property } from "./look";
import { Lines } from "./Lines";
import { TabStops } from "./TabStops";
import "./looks.css";

type Said = readonly [value: string, said: string];

interface Props {
  /** Those that are said; all that styles have, if it is not said which. */
  of?: readonly Property[];
  look: Look;
  /** Properties that are marked, and what is said about each. */
  marked: ReadonlyMap<Property, string>;
  disabled?: boolean;
  set: (property: Property, value: unknown) => void;
}

export const LookWords = ({ of = OF_STYLES, look, marked, disabled, set }: Props) => (
  <>
    {of.map((property) => (
      <Word
        key={property}
        form={FORMS[property]}
        value={look[property]}
        remark={marked.get(property)}
        disabled={disabled}
        set={(value) => set(property, value)}
      />
    ))}
  </>
);

interface WordProps {
  form: Form;
  value: unknown;
  remark?: string;
  disabled?: boolean;
  set: (value: unknown) => void;
  /** Hears each value that is typed, before it counts as given. */
  live?: (value: unknown) => void;
}

/** The report's own families among others, and the one that is asked for but not here. */
function withFamilies(choices: readonly Said[], own: readonly string[], asked: unknown): readonly Said[] {
  const here = [...choices, ...own.map((font): Said => [font, font])];
  const name = typeof asked === "string" ? here.find(([font]) => font.toLowerCase() === asked.toLowerCase())?.[0] : asked;
  if (typeof asked !== "string" || name === asked) return here;
  return [...here, [asked, name ? String(name) : `${asked} (shown in ${standIn(asked)})`]];
}

/** A value in words, which is pressed to change it. */
export function Word({ form, value, remark, disabled, set, live }: WordProps) {
  const common = { remark, name: form.name, disabled };
  const own = useContext(OwnFamilies);
  if (form.kind === "switch") {
    return (
      <button
        type="button"
        className={remark ? "word marked" : "word"}
        aria-label={`${form.name}: ${value === undefined ? VARIOUS : inWords(form, value)}${remark ? `, ${remark}` : ""}`}
        title={remark ? `${form.name}: ${remark}` : form.name}
        aria-pressed={value === undefined ? "mixed" : Boolean(value)}
        disabled={disabled}
        onMouseDown={(event) => event.preventDefault()}
        onClick={() => set(value !== true)}
      >
        {value === undefined ? `${form.on} in part` : inWords(form, value)}
      </button>
    );
  }
  if (form.kind === "number") {
    return <Figure {...common} {...form} value={value as number | undefined} set={set} live={live} />;
  }
  if (form.kind === "lines") return <Lines name={form.name} remark={remark} disabled={disabled} value={value as string | undefined} set={set} />;
  if (form.kind === "stops") return <TabStops remark={remark} disabled={disabled} value={value as string | undefined} set={set} />;
  return (
    <>
      <Choice {...common} value={value as string | undefined} choices={form.families ? withFamilies(form.choices, own, value) : form.choices} set={set} />
      {form.colour && (
        <input
          type="color"
          className="word"
          aria-label={`Any other ${form.name.toLowerCase()}`}
          title={`Any other ${form.name.toLowerCase()}`}
          disabled={disabled}
          value={typeof value === "string" && value.startsWith("#") ? value : form.choices.some(([one]) => one === "none") ? "#ffffff" : "#000000"}
          onChange={(event) => set(event.target.value)}
        />
      )}
    </>
  );
}
