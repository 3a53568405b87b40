/** Looks of headings made by hand: they stand at the ladder, each by the rung that it is proposed for, until they are marked. */
import { Box, Button, Flex, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useMemo, useState } from "react";
import type { ReportShown } from "../../../api/client";
import { LongList } from "../../../theme/LongList";
import { counted, notMarked } from "../../../words";
import { Choice } from "../../controls/Figure";
import { offered, styleOf } from "../../text-leaf/styles";
import { unmarked, type FoundLook } from "../../view";
import "./byHand.css";
import { Press, Specimen, Tick } from "../../controls/parts";
import { SCHEMES } from "./settings";
import type { ByHand } from "./useByHand";

const STAYS = "";

interface SummaryProps {
  byHand: ByHand;
  mayWrite: boolean;
  goTo: (id: string) => void;
}

/** What was found, what else is done with it, and the button that does it. */
export function Summary({ byHand, mayWrite, goTo }: SummaryProps) {
  const { looks, leftovers, options, setOptions, wanted, preview, busy } = byHand;
  const count = unmarked(looks);
  const [contents, rows] = [leftovers.contents, leftovers.rows];
  if (looks.length === 0 && contents.length === 0 && rows.length === 0) return null;
  const scheme = SCHEMES.find(([id]) => id === preview?.scheme)?.[1];
  const nothing = wanted === 0 && !(options.contents && contents.length > 0) && !(options.rows && rows.length > 0);
  return (
    <Box as="section" aria-label="Made by hand" className="by-hand" mb="3">
      {count > 0 && (
        <Text fontWeight="600" color="behindInk">
          ◇ {notMarked(count)}
        </Text>
      )}
      {count > 0 && (
        <Text color="quiet" mb="1">
          {count === 1 ? "It stands below, at the rung it would go to." : "They stand below, each at the rung it would go to."}
        </Text>
      )}
      {mayWrite && (
        <Flex direction="column" align="flex-start">
          {preview && preview.typed > 0 && (
            <Tick ticked={options.numbers} set={(numbers) => setOptions({ numbers })}>
              take out {counted(preview.typed, "typed number")}
              {scheme && `; number as ${scheme}`}
            </Tick>
          )}
          {contents.length > 0 && (
            <Option ticked={options.contents} set={(ticked) => setOptions({ contents: ticked })} first={contents[0]} goTo={goTo} what="the typed contents">
              exchange the typed contents for a table
            </Option>
          )}
          {rows.length > 0 && (
            <Option ticked={options.rows} set={(ticked) => setOptions({ rows: ticked })} first={rows[0]} goTo={goTo} what="the first row">
              exchange {counted(rows.length, "row")} of empty paragraphs for page breaks
            </Option>
          )}
          {options.numbers && preview && preview.differ.length > 0 && <Differing byHand={byHand} goTo={goTo} />}
          <Button size="sm" mt="2" bg="iris" color="leaf" disabled={nothing} loading={busy} onClick={() => void byHand.mark()}>
            {wanted > 0 ? `Mark ${counted(wanted, "paragraph")}` : "Exchange these"}
          </Button>
        </Flex>
      )}
    </Box>
  );
}

interface OptionProps {
  ticked: boolean;
  set: (ticked: boolean) => void;
  first: string | undefined;
  what: string;
  goTo: (id: string) => void;
  children: React.ReactNode;
}

const Option = ({ ticked, set, first, what, goTo, children }: OptionProps) => (
  <Flex align="center" gap="1">
    <Tick ticked={ticked} set={set}>
      {children}
    </Tick>
    {first !== undefined && (
      <Press type="button" aria-label={`Go to ${what}`} onClick={() => goTo(first)}>
        ↗
      </Press>
    )}
  </Flex>
);

/** Numbers that will read otherwise than they were typed. */
function Differing({ byHand: { preview }, goTo }: { byHand: ByHand; goTo: (id: string) => void }) {
  const [all, setAll] = useState(false);
  const differ = preview?.differ ?? [];
  const shown = all ? differ : differ.slice(0, 3);
  return (
    <Box ps="1.5" py="1">
      <Text>{differ.length === 1 ? "One number will read otherwise:" : `${counted(differ.length, "number")} will read otherwise:`}</Text>
      <Flex wrap="wrap" gap="1">
        {shown.map(({ block, typed, made }) => (
          <Press key={block} type="button" onClick={() => goTo(block)}>
            {typed} → {made || "none"}
          </Press>
        ))}
        {!all && differ.length > shown.length && (
          <Press type="button" onClick={() => setAll(true)}>
            all {differ.length}
          </Press>
        )}
      </Flex>
    </Box>
  );
}

interface LookProps {
  look: FoundLook;
  byHand: ByHand;
  report: ReportShown;
  editor: Editor | null;
  mayWrite: boolean;
  goTo: (id: string) => void;
  /** Takes a rule away. */
  forget?: () => void;
}

/** One look: a sample, how many there are, and where they go. Pressed, it shows them all. */
export function Look({ look, byHand, report, editor, mayWrite, goTo, forget }: LookProps) {
  const [open, setOpen] = useState(false);
  const { styles } = report;
  const body = styleOf(styles, "");
  const style = byHand.styleOf(look);
  const texts = useMemo(() => surroundings(editor, open ? look.members : look.members.slice(0, 1)), [editor, open, look.members]);
  const ticked = look.members.filter((id) => byHand.isIn(look, id)).length;
  const sample = texts[0]?.words ?? "";
  return (
    <Box className="found-look">
      <Flex as="button" className="found-sample" aria-expanded={open} onClick={() => setOpen(!open)}>
        <Box flex="1" minW="0">
          {body && look.face && (
            <Specimen style={{ ...body, ...look.face, font: look.face.font as typeof body.font, capitals: body.capitals, align: "left", line_spacing: 1.2 }} oneLine>
              {sample}
            </Specimen>
          )}
          {look.members.length === 0 && <Text color="quiet">No paragraph is so.</Text>}
        </Box>
        <Text as="span" color="quiet" whiteSpace="nowrap">
          {ticked < look.members.length ? `${ticked} of ${look.members.length}` : look.members.length} {open ? "▴" : "▾"}
        </Text>
      </Flex>
      <Text color="quiet" lineHeight="1.35">
        {look.name}
      </Text>
      {look.left.map(([name, count]) => (
        <Text key={name} color="quiet">
          It would take {count} of “{name}” as well; they stay there, since that asks for more.
        </Text>
      ))}
      {look.fault && (
        <Text role="alert" color="gone">
          {look.fault}
        </Text>
      )}
      <Flex align="center" gap="1">
        <Text as="span" aria-hidden>
          →
        </Text>
        <Choice
          name={`What “${sample.slice(0, 40) || look.name}” and its like become`}
          value={style ?? STAYS}
          choices={[...offered(styles, style), [STAYS, "stays as it is"]]}
          disabled={!mayWrite}
          set={(id) => byHand.choose(look, id === STAYS ? null : id)}
        />
        {forget && mayWrite && (
          <Press type="button" aria-label={`Take the rule “${look.name}” away`} onClick={forget}>
            ×
          </Press>
        )}
      </Flex>
      {open && look.why && (
        <Text color="quiet" lineHeight="1.35">
          Proposed since: {look.why}.
        </Text>
      )}
      {open && <Members look={look} texts={texts} byHand={byHand} mayWrite={mayWrite} goTo={goTo} />}
    </Box>
  );
}

interface MembersProps extends Pick<LookProps, "look" | "byHand" | "mayWrite" | "goTo"> {
  texts: readonly Surrounded[];
}

/** Every paragraph of a look with the text around it, to leave single ones out. */
function Members({ look, texts, byHand, mayWrite, goTo }: MembersProps) {
  const [scroller, setScroller] = useState<HTMLElement | null>(null);
  return (
    <Box ref={setScroller} className="members">
      <LongList
        count={texts.length}
        scroller={scroller}
        estimate={74}
        label={`Paragraphs of the look “${look.name}”`}
        keyOf={(index) => texts[index]?.id ?? String(index)}
        row={(index, tabbable) => {
          const text = texts[index];
          if (!text) return null;
          const ticked = byHand.isIn(look, text.id);
          return (
            <div className="member">
              <p className="around">{text.before || " "}</p>
              <div className="middle">
                <button
                  type="button"
                  role="checkbox"
                  aria-checked={ticked}
                  tabIndex={tabbable ? 0 : -1}
                  disabled={!mayWrite}
                  onClick={() => byHand.tick(look, text.id, !ticked)}
                >
                  <span aria-hidden className="box">
                    {ticked ? "✓" : ""}
                  </span>
                  {text.words}
                </button>
                <button type="button" className="there" tabIndex={tabbable ? 0 : -1} aria-label={`Go to “${text.words}”`} onClick={() => goTo(text.id)}>
                  ↗
                </button>
              </div>
              <p className="around">{text.after || " "}</p>
            </div>
          );
        }}
      />
    </Box>
  );
}

interface Surrounded {
  id: string;
  words: string;
  before: string;
  after: string;
}

/** Characters shown of the text around. */
const AROUND = 38;

/** The end of a text, from a word on. */
const endOf = (text: string) => (text.length <= AROUND ? text : `… ${text.slice(-AROUND).replace(/^\S*\s+/, "")}`);

/** The words of paragraphs, with the end of the text before each and the start of the text behind. */
function surroundings(editor: Editor | null, ids: readonly string[]): readonly Surrounded[] {
  if (!editor) return [];
  const wanted = new Set(ids);
  const found: Surrounded[] = [];
  let before = "";
  let last: Surrounded | null = null;
  editor.state.doc.forEach((node) => {
    const words = node.textContent.trim().replace(/\s+/g, " ");
    if (!words) return;
    if (last) last.after = words.slice(0, 2 * AROUND);
    last = null;
    if (wanted.has(node.attrs.id as string)) {
      last = { id: node.attrs.id as string, words, before: endOf(before), after: "" };
      found.push(last);
    }
    before = words;
  });
  return found;
}
