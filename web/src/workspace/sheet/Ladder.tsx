/** The ladder: the nine heading levels in one place, the title above and body text below them. */
import { Box, Flex, Text, VisuallyHidden } from "@chakra-ui/react";
import { memo, useState } from "react";
import type { LevelNumber, ReportShown, StyleShown } from "../../api/client";
import { counted } from "../../words";
import { Choice, Figure, LookWords } from "../looks/LookWords";
import type { Property } from "../looks/look";
import { forRole, styleOf } from "../text-leaf/styles";
import type { Heading } from "../view";
import { PanelTitle, Press, Row, Specimen, TakeBack, Tick, Uses } from "./parts";
import type { Sheet } from "./useSheet";
import type { Use } from "./useUses";

export const SCHEMES = [
  ["none", "no numbers"],
  ["decimal", "1, 1.1, 1.1.1"],
  ["outline", "I., A., 1., a."],
  ["legal", "Article 1, § 1.1, (a)"],
  ["chapters", "Part I, Chapter 1, 1.1"],
] as const;

export const FIGURES = [
  ["decimal", "1, 2, 3"],
  ["upper-roman", "I, II, III"],
  ["lower-roman", "i, ii, iii"],
  ["upper-letter", "A, B, C"],
  ["lower-letter", "a, b, c"],
] as const;

const NO_MARKS: ReadonlyMap<Property, string> = new Map();

interface Props {
  report: ReportShown;
  headings: readonly Heading[];
  uses: ReadonlyMap<string, Use>;
  /** The block that somebody is at. */
  at: () => string | null;
  mayWrite: boolean;
  sheet: Sheet;
  goTo: (id: string) => void;
  openStyle: (id: string) => void;
}

export const Ladder = memo(function Ladder(props: Props) {
  const { report, uses, mayWrite, sheet, openStyle } = props;
  const [open, setOpen] = useState<number | null>(null);
  const { numbering, styles } = report;
  const title = styleOf(styles, forRole(styles, "title"));
  const body = styleOf(styles, forRole(styles, "body"));
  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>The ladder</PanelTitle>
      <Text color="quiet" mb="3">
        A rung for each level of headings: its look, its number, how its sections begin.
      </Text>
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
      <Box as="ol" listStyleType="none" my="1" borderLeftWidth="3px" borderRightWidth="3px" borderColor="edge">
        {[1, 2, 3, 4, 5, 6, 7, 8, 9].map((level) => (
          <Rung key={level} level={level} open={open === level} setOpen={() => setOpen(open === level ? null : level)} {...props} />
        ))}
      </Box>
      {body && <Beside style={body} words={uses.get(body.id)?.words} openStyle={openStyle} />}
    </Box>
  );
});

/** What stands above and below the rungs. */
const Beside = ({ style, words, openStyle }: { style: StyleShown; words: string | undefined; openStyle: (id: string) => void }) => (
  <Box as="button" w="100%" textAlign="left" px="3" py="1.5" cursor="pointer" _hover={{ bg: "raised" }} onClick={() => openStyle(style.id)}>
    <Text color="quiet">{style.name}</Text>
    <Box overflow="hidden">
      <Specimen style={style} oneLine>{words?.slice(0, 90) || style.name}</Specimen>
    </Box>
  </Box>
);

interface RungProps extends Props {
  level: number;
  open: boolean;
  setOpen: () => void;
}

function Rung({ level, open, setOpen, ...props }: RungProps) {
  const { report, headings, uses } = props;
  const styles = report.styles.filter((style) => style.outline_level === level);
  const style = styles[0];
  const first = headings.find((heading) => heading.level === level && heading.byHand !== "put in");
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
  const change = (values: Partial<LevelNumber>) => void sheet.renumber({ level, appendix, values });
  const place = appendix ? "in appendices" : "in the body";
  return (
    <Row label={appendix ? "Appendices" : "Number"}>
      <Tick ticked={of.on} disabled={!mayWrite} set={(on) => change(on && !of.pattern ? { on, pattern: `%${level}` } : { on })}>
        {appendix ? "numbered," : "has one,"}
      </Tick>
      {of.on && (
        <>
          written
          <Pattern key={of.pattern} name={`Pattern of numbers ${place}`} level={level} pattern={of.pattern} disabled={!mayWrite} set={(pattern) => change({ pattern })} />
          in
          <Choice name={`Figures ${place}`} value={of.figures} choices={FIGURES} disabled={!mayWrite} set={(figures) => change({ figures: figures as LevelNumber["figures"] })} />
          {!appendix && (
            <>
              <Figure name="First number" value={of.start} least={0} most={9999} step={1} before="from" behind="" disabled={!mayWrite} set={(start) => change({ start })} />
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
  set: (pattern: string) => void;
}

function Pattern({ name, level, pattern, disabled, set }: PatternProps) {
  const [typed, setTyped] = useState(pattern);
  const lacks = !typed.includes(`%${level}`);
  const give = () => {
    if (typed === pattern) return;
    if (lacks) setTyped(pattern);
    else set(typed);
  };
  return (
    <label className="word figure" title={`%1 stands for the number of level 1, %${level} for that of this level`}>
      <input
        type="text"
        aria-label={name}
        aria-invalid={lacks}
        disabled={disabled}
        maxLength={60}
        value={typed}
        style={{ maxWidth: "14ch", minWidth: "4ch", textAlign: "left" }}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={give}
        onKeyDown={(event) => {
          if (event.key === "Enter") give();
        }}
      />
      {lacks && (
        <span role="alert" className="remedy">
          Write %{level} where the number goes
        </span>
      )}
    </label>
  );
}
