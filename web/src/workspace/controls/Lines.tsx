/** Lines around something among words: at which sides they are, and how wide, of what kind and colour. */
import { bordersAsText, bordersOf, LINE_KINDS, sidesOf, WHERE, whereInWords, type Border, type Side } from "./borders";
import { Choice, Figure } from "./Figure";

interface Props {
  /** What has the lines: "the paragraph", "the cells". */
  name: string;
  /** Nothing where they differ among what is looked at. */
  value: string | undefined;
  remark?: string;
  disabled?: boolean;
  set: (value: string) => void;
}

const USUAL: Omit<Border, "side"> = { width: 0.75, colour: "#26222b", kind: "solid" };

export function Lines({ name, value, remark, disabled, set }: Props) {
  const borders = bordersOf(value);
  const first = borders[0];
  const sides = value === undefined ? undefined : sidesOf(borders);
  const at = (given: string) => given.split(" ").filter(Boolean).map((side) => ({ ...(first ?? USUAL), ...borders.find((one) => one.side === side), side: side as Side }));
  const change = (values: Partial<Border>) => set(bordersAsText(borders.map((one) => ({ ...one, ...values }))));
  const choices = sides === undefined || WHERE.some(([one]) => one === sides) ? WHERE : [...WHERE, [sides, whereInWords(sides)] as const];
  return (
    <span role="group" aria-label={remark ? `${name}, ${remark}` : name} className={remark ? "stops marked" : "stops"} title={remark}>
      <Choice name={name} value={sides} choices={choices} disabled={disabled} set={(given) => set(bordersAsText(at(given)))} />
      {first && (
        <span className="stop">
          <Figure name={`${name}: width`} value={first.width} least={0.1} most={20} step={0.25} before="line" after="pt wide" disabled={disabled} set={(width) => change({ width })} />
          <Choice name={`${name}: kind`} value={first.kind} choices={LINE_KINDS} disabled={disabled} set={(kind) => change({ kind: kind as Border["kind"] })} />
          <input
            type="color"
            className="word"
            aria-label={`${name}: colour`}
            title={`${name}: colour`}
            disabled={disabled}
            value={first.colour}
            onChange={(event) => change({ colour: event.target.value })}
          />
        </span>
      )}
    </span>
  );
}
