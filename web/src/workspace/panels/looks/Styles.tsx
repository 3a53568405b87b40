/** The styles of a report: each changed on its specimen. */
import { Box, Flex, Input } from "@chakra-ui/react";
import { memo, useCallback, useState } from "react";
import type { StyleShown } from "../../../api/client";
import { shortened } from "../../../words";
import { Choice, Figure } from "../../controls/Figure";
import { LookWords } from "../../controls/LookWords";
import { OF_STYLES, valueInWords, type Property } from "../../controls/look";
import { styleOf } from "../../text-leaf/styles";
import { Labels } from "./Labels";
import { RANGES } from "../../../api/settings";
import type { Panel, PanelProps } from "../panel";
import { NameForm, PanelTitle, Press, Row, Specimen, TakeBack, Tick } from "../../controls/parts";
import { Uses } from "./Uses";
import { FIGURES } from "./settings";
import type { Sheet } from "./useSheet";
import { useTyped } from "../../controls/useTyped";
import { useLooks, type LooksProps } from "./useLooks";

interface Props extends LooksProps {
  /** The style at hand, by id. */
  chosen: string | null;
  choose: (id: string) => void;
}

const Styles = memo(function Styles(props: Props) {
  const { report, chosen, choose, uses, mayWrite, sheet } = props;
  const style = styleOf(report.styles, chosen);
  const [away, setAway] = useState(false);
  if (!style) return null;
  const shown = report.styles.filter((one) => away || !one.put_away || one.id === style.id);
  const unused = report.styles.filter((one) => !one.put_away && !one.role && !uses.has(one.id));
  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>Style sheet</PanelTitle>
      <TakeBack what={mayWrite ? report.to_take_back : ""} takeBack={sheet.takeBack} />
      <Row label="Style">
        <Choice name="Style to look at" value={style.id} choices={shown.map((one) => [one.id, one.name])} set={choose} />
        {report.styles.some((one) => one.put_away) && (
          <Tick ticked={away} set={setAway}>
            those put away too
          </Tick>
        )}
      </Row>
      <OneStyle key={style.id} style={style} {...props} />
      {style.role === "caption" && <Labels report={report} mayWrite={mayWrite} sheet={sheet} />}
      {mayWrite && <NewStyle key={`new-${style.id}`} like={style} make={sheet.makeStyle} choose={choose} />}
      {mayWrite && unused.length > 0 && (
        <Press
          type="button"
          mt="2"
          onClick={() => void unused.reduce(async (before, one) => ((await before), sheet.changeStyle(one.id, { put_away: true })), Promise.resolve(true))}
        >
          Put the {unused.length} unused away
        </Press>
      )}
    </Box>
  );
});

function Show(given: PanelProps) {
  const { of, show } = given;
  return <Styles {...useLooks(given)} chosen={of} choose={useCallback((id: string) => show("styles", id), [show])} />;
}

export const styles: Panel = { key: "styles", group: "Looks", name: "Styles", Show };

function OneStyle({ style, report, uses, at, mayWrite, sheet, goTo, choose }: Props & { style: StyleShown }) {
  const base = report.styles.find((one) => one.id === style.based_on);
  const use = uses.get(style.id);
  const change = (values: Partial<StyleShown>) => void sheet.changeStyle(style.id, values);
  const own = base ? OF_STYLES.filter((property) => style.declared.includes(property)) : [];
  const marked = new Map(base ? own.map((name): [Property, string] => [name, `${base.name} says ${valueInWords(name, base[name])}`]) : []);
  const others = report.styles.filter((one) => one.id !== style.id);
  return (
    <Box mt="2">
      <Box bg="leaf" borderWidth="1px" borderColor="edge" rounded="md" p="3" mb="2" overflow="hidden">
        <Specimen style={style}>{shortened(use?.words ?? "", style.size > 14 ? 70 : 140) || `How ${style.name} looks.`}</Specimen>
      </Box>
      <Flex wrap="wrap" columnGap="1px" mb="1">
        <LookWords look={style} marked={marked} disabled={!mayWrite} set={(property, value) => change({ [property]: value })} />
      </Flex>
      {base && own.length > 0 && mayWrite && (
        <Row label="Says itself">
          {own.map((name) => (
            <Press
              key={name}
              type="button"
              mb="1"
              title={`Back to ${base.name}: ${valueInWords(name, base[name])}`}
              aria-label={`${valueInWords(name, style[name])}: back to ${base.name}, ${valueInWords(name, base[name])}`}
              onClick={() => void sheet.changeStyle(style.id, {}, [name])}
            >
              {valueInWords(name, style[name])} ×
            </Press>
          ))}
        </Row>
      )}
      <Name style={style} disabled={!mayWrite} set={(name) => sheet.changeStyle(style.id, { name })} />
      <Row label="Based on">
        <Choice
          name="Based on"
          value={style.based_on ?? ""}
          choices={[["", "no other style"], ...others.map((one) => [one.id, one.name] as const)]}
          disabled={!mayWrite}
          set={(id) => change({ based_on: id || null })}
        />
      </Row>
      <Row label="Next">
        <Choice
          name="Style that follows at Enter"
          value={style.next}
          choices={report.styles.map((one) => [one.id, one.name])}
          disabled={!mayWrite}
          set={(next) => change({ next })}
        />
      </Row>
      <Row label="Counts as">
        <Choice
          name="Heading level"
          value={String(style.outline_level ?? "")}
          choices={[["", "no heading"], ...[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => [String(level), `heading of level ${level}`] as const)]}
          disabled={!mayWrite}
          set={(level) => change({ outline_level: level ? Number(level) : null })}
        />
      </Row>
      <ListItems key={style.marker ?? ""} style={style} disabled={!mayWrite} change={(values) => sheet.changeStyle(style.id, values)} />
      <Row label="On pages">
        <Tick ticked={style.new_page} disabled={!mayWrite} set={(new_page) => change({ new_page })}>
          begins a new one
        </Tick>
        <Tick ticked={style.keep_with_next} disabled={!mayWrite} set={(keep_with_next) => change({ keep_with_next })}>
          stays with what follows
        </Tick>
        <Tick ticked={style.hyphenate} disabled={!mayWrite} set={(hyphenate) => change({ hyphenate })}>
          parts words at the ends of lines
        </Tick>
        <Tick ticked={style.keep_together} disabled={!mayWrite} set={(keep_together) => change({ keep_together })}>
          keeps its lines together
        </Tick>
      </Row>
      {!style.keep_together && (
        <Row label="Parted">
          <Figure name="Lines left at the foot of a page" value={style.orphans} {...RANGES.style.orphans} step={1} before="leaves at least" after="lines," disabled={!mayWrite} set={(orphans) => change({ orphans })} />
          <Figure name="Lines taken to the next page" value={style.widows} {...RANGES.style.widows} step={1} before="takes at least" after="along" disabled={!mayWrite} set={(widows) => change({ widows })} />
        </Row>
      )}
      <Row label="In the text">
        <Uses use={use} one="paragraph" at={at} goTo={goTo} />
      </Row>
      {mayWrite && (
        <Row label="Put away">
          <Tick ticked={style.put_away} set={(put_away) => change({ put_away })}>
            not offered where a style is chosen
          </Tick>
        </Row>
      )}
      {mayWrite && !style.role && <Delete style={style} others={others} uses={use?.ids.length ?? 0} sheet={sheet} choose={choose} />}
    </Box>
  );
}

function Name({ style, disabled, set }: { style: StyleShown; disabled: boolean; set: (name: string) => Promise<unknown> }) {
  const field = useTyped(style.name, async (typed) => typed.trim() && set(typed));
  return (
    <Row label="Name">
      <Input size="xs" bg="raised" aria-label="Name of the style" maxLength={80} disabled={disabled} {...field} />
    </Row>
  );
}

interface ListProps {
  style: StyleShown;
  disabled: boolean;
  change: (values: Partial<StyleShown>) => Promise<unknown>;
}

/** Whether paragraphs of a style are items of a list, and what hangs in front of them. */
function ListItems({ style, disabled, change }: ListProps) {
  const { marker } = style;
  const level = style.list_level ?? 1;
  const bulleted = marker === "bullet";
  const usual = bulleted ? "" : `%${level}.`;
  const written = useTyped(style.marker_text || usual, (typed) => change({ marker_text: typed === usual ? "" : typed }));
  return (
    <Row label="In lists">
      <Choice
        name="Marker of list items"
        value={marker ?? ""}
        choices={[["", "no list item"], ["bullet", "•"], ...FIGURES]}
        disabled={disabled}
        set={(value) =>
          void change({
            marker: (value || null) as StyleShown["marker"],
            list_level: value ? level : null,
            // How numbers are written is no sign, and a sign no number.
            ...((value === "bullet") !== bulleted && { marker_text: "" }),
          })
        }
      />
      {marker && (
        <Choice
          name="Level of list items"
          value={String(level)}
          choices={[1, 2, 3, 4, 5, 6, 7, 8, 9].map((one) => [String(one), `of level ${one}`] as const)}
          disabled={disabled}
          set={(value) => void change({ list_level: Number(value) })}
        />
      )}
      {marker && (
        <>
          {bulleted ? "sign" : "written"}
          <label
            className="word figure"
            title={bulleted ? "Leave it empty for the usual sign of its level" : `%${level} stands for the figure of this level, %1 for that of level 1`}
          >
            <input
              type="text"
              aria-label={bulleted ? "Sign of list items" : "How markers are written"}
              placeholder={bulleted ? "as usual" : undefined}
              disabled={disabled}
              maxLength={60}
              style={{ maxWidth: "14ch", minWidth: "4ch", textAlign: "left" }}
              {...written}
            />
          </label>
        </>
      )}
    </Row>
  );
}

interface DeleteProps {
  style: StyleShown;
  others: readonly StyleShown[];
  uses: number;
  sheet: Sheet;
  choose: (id: string) => void;
}

function Delete({ style, others, uses, sheet, choose }: DeleteProps) {
  const [instead, setInstead] = useState(style.based_on ?? others[0]?.id ?? "");
  const run = async () => {
    if (await sheet.deleteStyle(style.id, instead)) choose(instead);
  };
  return (
    <Row label="Delete">
      {uses > 0 && (
        <Choice name="Style for its paragraphs" value={instead} choices={others.map((one) => [one.id, `its ${uses} become ${one.name}`])} set={setInstead} />
      )}
      <Press type="button" color="gone" onClick={() => void run()}>
        Delete “{style.name}”
      </Press>
    </Row>
  );
}

interface NewProps {
  like: StyleShown;
  make: Sheet["makeStyle"];
  choose: (id: string) => void;
}

function NewStyle({ like, make, choose }: NewProps) {
  const give = async (name: string) => {
    const id = await make(name, like.id);
    if (id) choose(id);
  };
  return (
    <NameForm label="Name of the new style" action="Make" give={give}>
      A new style, based on {like.name}
    </NameForm>
  );
}
