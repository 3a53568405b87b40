/** Tab stops among words: each with where it is, how what follows stands there, and what leads up to it. */
import { BareButton } from "./BareButton";
import { TAB_STOPS } from "../../api/settings";
import { Choice, Figure } from "./Figure";
import { LEADERS, TAB_ALIGNS, tabStopsAsText, tabStopsOf, type TabStop } from "./stops";

interface Props {
  /** Nothing where they differ among what is looked at. */
  value: string | undefined;
  remark?: string;
  disabled?: boolean;
  set: (value: string) => void;
}

export function TabStops({ value, remark, disabled, set }: Props) {
  const stops = tabStopsOf(value ?? "");
  const change = (index: number, values: Partial<TabStop>) => set(tabStopsAsText(stops.map((one, at) => (at === index ? { ...one, ...values } : one))));
  const further = Math.min((stops.at(-1)?.at ?? 0) + 2 * TAB_STOPS.usual, TAB_STOPS.furthest);
  return (
    <span role="group" aria-label={remark ? `Tab stops, ${remark}` : "Tab stops"} className={remark ? "stops marked" : "stops"} title={remark}>
      {stops.length === 0 && <span className="said">{value === undefined ? "various tabs" : `tabs every ${TAB_STOPS.usual} pt`}</span>}
      {stops.map(({ at, align, leader }, index) => {
        const name = `Tab stop ${index + 1}`;
        return (
          <span key={index} className="stop">
            <Figure name={`${name}, from the left`} value={at} least={0} most={TAB_STOPS.furthest} step={1} before="tab at" after="pt" disabled={disabled} set={(at) => change(index, { at })} />
            <Choice name={`${name}, what stands there`} value={align} choices={TAB_ALIGNS} disabled={disabled} set={(one) => change(index, { align: one as TabStop["align"] })} />
            <Choice name={`${name}, what leads to it`} value={leader} choices={LEADERS} disabled={disabled} set={(one) => change(index, { leader: one as TabStop["leader"] })} />
            {!disabled && (
              <BareButton
                type="button"
                className="word"
                aria-label={`Take tab stop ${index + 1} out`}
                title={`Take tab stop ${index + 1} out`}
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => set(tabStopsAsText(stops.filter((_, at) => at !== index)))}
              >
                ×
              </BareButton>
            )}
          </span>
        );
      })}
      {!disabled && stops.length < TAB_STOPS.most && (
        <BareButton type="button" className="word" onMouseDown={(event) => event.preventDefault()} onClick={() => set(tabStopsAsText([...stops, { at: further, align: "left", leader: "" }]))}>
          {stops.length === 0 ? "set a tab stop" : "another tab stop"}
        </BareButton>
      )}
    </span>
  );
}
