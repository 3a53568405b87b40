/** The ladder: the nine heading levels in one place, the title above and body text below them. */
import { RANGES } from "../../../api/settings";
import { Box, Flex, Text, VisuallyHidden } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { memo, useCallback, useState, type ReactNode } from "react";
import type { LevelNumber, StyleShown } from "../../../api/client";
import { counted, shortened } from "../../../words";
import { Choice, Figure } from "../../controls/Figure";
import { LookWords } from "../../controls/LookWords";
import type { Property } from "../../controls/look";
import { forRole, styleOf } from "../../text-leaf/styles";
import type { Room } from "../../room/room";
import { useRoom } from "../../room/useRoom";
import type { FoundLook, View } from "../../view";
import { Look, Summary } from "./ByHand";
import type { Panel, PanelProps } from "../panel";
import { PanelTitle, Press, Row, Specimen, TakeBack, Tick } from "../../controls/parts";
import { Uses } from "./Uses";
import { RuleForm, useRules } from "./Rules";
import { FIGURES, SCHEMES } from "./settings";
import { useByHand } from "./useByHand";
import type { Sheet } from "./useSheet";
import { useTyped } from "../../controls/useTyped";
import { useLooks, type LooksProps } from "./useLooks";

const NO_MARKS: ReadonlyMap<Property, string> = new Map();

interface Props extends LooksProps {
  room: Room;
  view: View;
  /** There for whoever may write. */
  writer: Editor | null;
  /** The text's editor, once it is there. */
  editor: Editor | null;
  openStyle: (id: string) => void;
  notify: (notice: string) => void;
}

const Ladder = memo(function Ladder(props: Props) {
  const { report, room, view, writer, editor, uses, mayWrite, sheet, goTo, openStyle, notify } = props;
  const [open, setOpen] = useState<number | null>(null);
  const byHand = useByHand(report, room, view, writer, notify);
  const rules = useRules(report.key, useRoom(room, "renewed"), notify);
  const { numbering, styles } = report;
  const title = styleOf(styles, forRole(styles, "title"));
  const body = styleOf(styles, forRole(styles, "body"));
  const levels = new Map(styles.map((style) => [style.id, style.outline_level]));
  const found = (look: FoundLook) => {
    const number = look.key.startsWith("rule-") ? Number(look.key.slice(5)) : null;
    const forget = number === null ? undefined : () => void rules.save(rules.rules.filter((_, index) => index !== number));
    return <Look key={look.key} look={look} byHand={byHand} report={report} editor={editor} mayWrite={mayWrite} goTo={goTo} forget={forget} />;
  };
  const looksFor = (wanted: (style: string | null) => boolean): ReactNode => (
    <Some>{byHand.looks.filter((look) => wanted(byHand.styleOf(look))).map(found)}</Some>
  );
  const isCover = (style: string | null) => style !== null && styles.some(({ id, role }) => id === style && (role === "title" || role === "subtitle"));
  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>The ladder</PanelTitle>
      <Text color="quiet" mb="3">
        A rung for each level of headings: its look, its number, how its sections begin.
      </Text>
      <Summary byHand={byHand} mayWrite={mayWrite} goTo={goTo} />
      <TakeBack what={mayWrite ? report.to_take_back : ""} takeBack={sheet.takeBack} />
      <Row label="Numbers">
        <Choice
          name="Numbers of headings"
          value={numbering.scheme ?? ""}
          choices={numbering.scheme ? SCHEMES : [...SCHEMES, ["", "your own"]]}
          disabled={!mayWrite}
          set={(scheme) => void (scheme && sheet.renumber({ scheme: scheme as (typeof SCHEMES)[number][0], appendix: false }))}
        />
      </Row>
      {title && <Beside style={title} words={uses.get(title.id)?.words} openStyle={openStyle} />}
      {looksFor(isCover)}
      <Box as="ol" listStyleType="none" my="1" borderLeftWidth="3px" borderRightWidth="3px" borderColor="edge">
        {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => (
          <Rung key={level} level={level} open={open === level} setOpen={() => setOpen(open === level ? null : level)} {...props}>
            {looksFor((style) => style !== null && levels.get(style) === level)}
          </Rung>
        ))}
      </Box>
      {body && <Beside style={body} words={uses.get(body.id)?.words} openStyle={openStyle} />}
      {looksFor((style) => style === null || (!levels.get(style) && !isCover(style)))}
      {mayWrite && <RuleForm report={report} editor={writer} rules={rules} />}
    </Box>
  );
});

function Show(given: PanelProps) {
  const { room, writer, editor, notify, show } = given;
  const view = useRoom(room, "view");
  return <Ladder {...useLooks(given)} room={room} view={view} writer={writer} editor={editor} notify={notify} openStyle={useCallback((id: string) => show("styles", id), [show])} />;
}

export const ladder: Panel = { key: "ladder", group: "Looks", name: "Ladder", Show };

const SOME = 30;

/** The first of many, and the rest when asked for. */
function Some({ children }: { children: ReactNode[] }) {
  const [shown, setShown] = useState(SOME);
  return (
    <>
      {children.slice(0, shown)}
      {children.length > shown && (
        <Press type="button" ms="30px" mb="2" onClick={() => setShown(shown + 10 * SOME)}>
          {counted(children.length - shown, "more look")} …
        </Press>
      )}
    </>
  );
}

/** What stands above and below the rungs. */
const Beside = ({ style, words, openStyle }: { style: StyleShown; words: string | undefined; openStyle: (id: string) => void }) => (
  <Box as="button" w="100%" textAlign="left" px="3" py="1.5" cursor="pointer" _hover={{ bg: "raised" }} onClick={() => openStyle(style.id)}>
    <Text color="quiet">{style.name}</Text>
    <Box overflow="hidden">
      <Specimen style={style} oneLine>{shortened(words ?? "", 90) || style.name}</Specimen>
    </Box>
  </Box>
);

interface RungProps extends Props {
  level: number;
  open: boolean;
  setOpen: () => void;
  /** The looks that stand at it. */
  children: ReactNode;
}

function Rung({ level, open, setOpen, children, ...props }: RungProps) {
  const { report, view, uses } = props;
  const styles = report.styles.filter((style) => style.outline_level === level);
  const style = styles[0];
  const first = view.headings.find((heading) => heading.level === level && heading.by_hand !== "put in");
  const ids = styles.flatMap((one) => uses.get(one.id)?.ids ?? []);
  if (!style) {
    return (
      <Box as="li" px="3" py="1.5" borderTopWidth="1px" borderColor="edge" color="quiet">
        {level} · No style is a heading of this level.
      </Box>
    );
  }
  return (
    <Box as="li" borderTopWidth="1px" borderColor="edge" bg={open ? "raised" : undefined}>
      <Flex
        as="button"
        w="100%"
        textAlign="left"
        gap="2"
        px="3"
        py="1.5"
        align="baseline"
        cursor="pointer"
        aria-expanded={open}
        _hover={{ bg: "raised" }}
        onClick={setOpen}
      >
        <VisuallyHidden>{`Level ${level}, ${style.name}, ${counted(ids.length, "heading")}: `}</VisuallyHidden>
        <Box as="span" className="rung-tag" aria-hidden>
          H{level}
        </Box>
        <Box flex="1" minW="0" opacity={ids.length ? 1 : 0.75}>
          <Specimen style={{ ...style, align: "left" }} oneLine>
            {first?.number && <>{first.number}&ensp;</>}
            {first?.text ?? style.name}
          </Specimen>
        </Box>
        <Text as="span" color="quiet" whiteSpace="nowrap" aria-hidden>
          {style.new_page && <span title="Its sections begin on a new page">⤓ </span>}
          {ids.length || "none"}
        </Text>
      </Flex>
      {open && <Settings level={level} style={style} ids={ids} {...props} />}
      {children}
    </Box>
  );
}

interface SettingsProps extends Props {
  level: number;
  style: StyleShown;
  ids: readonly string[];
}

function Settings({ level, style, ids, report, at, mayWrite, sheet, goTo, openStyle }: SettingsProps) {
  const change = (values: Partial<StyleShown>) => void sheet.changeStyle(style.id, values);
  return (
    <Box px="3" pb="3">
      <Flex wrap="wrap" columnGap="1px" mb="1">
        <LookWords look={style} marked={NO_MARKS} disabled={!mayWrite} set={(property, value) => change({ [property]: value })} />
      </Flex>
      <Row label="Begins">
        <Tick ticked={style.new_page} disabled={!mayWrite} set={(new_page) => change({ new_page })}>
          on a new page
        </Tick>
        <Tick ticked={style.keep_with_next} disabled={!mayWrite} set={(keep_with_next) => change({ keep_with_next })}>
          never last on one
        </Tick>
      </Row>
      <LevelNumbers level={level} appendix={false} of={report.numbering.levels[level - 1]} mayWrite={mayWrite} sheet={sheet} />
      <LevelNumbers level={level} appendix of={report.numbering.appendix[level - 1]} mayWrite={mayWrite} sheet={sheet} />
      <Row label="In the text">
        <Uses use={{ ids, words: "" }} one="heading" at={at} goTo={goTo} />
      </Row>
      {mayWrite && ids.length > 0 && (
        <Row label="Move all">
          <Choice
            name={`Move all headings of level ${level}`}
            value=""
            choices={[
              ["", "to another level …"],
              ...[1, 2, 3, 4, 5, 6, 7, 8, 9].filter((one) => one !== level).map((one) => [String(one), `to level ${one}`] as const),
            ]}
            set={(to) => void (to && sheet.moveLevel(level, Number(to)))}
          />
        </Row>
      )}
      <Press type="button" mt="2" onClick={() => openStyle(style.id)}>
        The style “{style.name}”
      </Press>
    </Box>
  );
}

interface NumberProps {
  level: number;
  appendix: boolean;
  of: LevelNumber | undefined;
  mayWrite: boolean;
  sheet: Sheet;
}

/** How the headings of a level are numbered, in the body or in the appendices. */
function LevelNumbers({ level, appendix, of, mayWrite, sheet }: NumberProps) {
  if (!of) return null;
  const change = (values: Partial<LevelNumber>) => sheet.renumber({ level, appendix, values });
  const place = appendix ? "in appendices" : "in the body";
  return (
    <Row label={appendix ? "Appendices" : "Number"}>
      <Tick ticked={of.on} disabled={!mayWrite} set={(on) => change(on && !of.pattern ? { on, pattern: `%${level}` } : { on })}>
        {appendix ? "numbered," : "has one,"}
      </Tick>
      {of.on && (
        <>
          written
          <Pattern name={`Pattern of numbers ${place}`} level={level} pattern={of.pattern} disabled={!mayWrite} set={(pattern) => change({ pattern })} />
          in
          <Choice name={`Figures ${place}`} value={of.figures} choices={FIGURES} disabled={!mayWrite} set={(figures) => void change({ figures: figures as LevelNumber["figures"] })} />
          {!appendix && (
            <>
              <Figure name="First number" value={of.start} {...RANGES.level_number.start} step={1} before="from" after="" disabled={!mayWrite} set={(start) => void change({ start })} />
              {level > 1 && (
                <Tick ticked={of.restarts} disabled={!mayWrite} set={(restarts) => change({ restarts })}>
                  anew in each section
                </Tick>
              )}
            </>
          )}
        </>
      )}
    </Row>
  );
}

interface PatternProps {
  name: string;
  level: number;
  pattern: string;
  disabled: boolean;
  set: (pattern: string) => Promise<unknown>;
}

function Pattern({ name, level, pattern, disabled, set }: PatternProps) {
  const lacking = (written: string) => !written.includes(`%${level}`);
  const field = useTyped(pattern, async (typed) => !lacking(typed) && set(typed));
  const lacks = lacking(field.value);
  return (
    <label className="word figure" title={`%1 stands for the number of level 1, %${level} for that of this level`}>
      <input
        type="text"
        aria-label={name}
        aria-invalid={lacks}
        disabled={disabled}
        maxLength={60}
        style={{ maxWidth: "14ch", minWidth: "4ch", textAlign: "left" }}
        {...field}
      />
      {lacks && (
        <span role="alert" className="remedy">
          Write %{level} where the number goes
        </span>
      )}
    </label>
  );
}
