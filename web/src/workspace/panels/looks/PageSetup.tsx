/** The page: paper, margins, columns, head and foot; of the whole report, or of a part of it. */
import { CHOICES, RANGES } from "../../../api/settings";
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useMemo, useRef, useState } from "react";
import { api, type PageShown, type ReportShown } from "../../../api/client";
import { FileInput } from "../../../theme/FileInput";
import { LANGUAGES } from "../../controls/languages";
import { Choice, Figure } from "../../controls/Figure";
import { PanelTitle, Press, Row, TakeBack, Tick } from "../../controls/parts";
import { FIRST, ownOf, partOf, partsOf, type PartOnPages } from "../../controls/partsOf";
import { useTyped } from "../../controls/useTyped";
import { useRoom } from "../../room/useRoom";
import { partsIn, removePart } from "../../text-leaf/kinds/part";
import type { View } from "../../view";
import type { Panel, PanelProps } from "../panel";
import { DrawnSheet } from "./DrawnSheet";
import { NOTE_CHOICES, NoteSettings } from "./NoteSettings";
import { PartSettings } from "./PartSettings";
import { RunningWords } from "./RunningWords";
import type { Samples, Slot, Which } from "./running";
import { mm, pointsOf } from "./settings";
import { useSheet } from "./useSheet";

/** Upright sizes in points: ISO 216 (A and B), and the usual ones of North America (ANSI/ASME Y14.1 A, and legal). */
const PAPERS: readonly (readonly [name: string, width: number, height: number])[] = [
  ["A3", 841.89, 1190.55],
  ["A4", 595.28, 841.89],
  ["A5", 419.53, 595.28],
  ["A6", 297.64, 419.53],
  ["B4", 708.66, 1000.63],
  ["B5", 498.9, 708.66],
  ["B6", 354.33, 498.9],
  ["Letter, 8½ × 11 in", 612, 792],
  ["Legal, 8½ × 14 in", 612, 1008],
];

const LEFT_PAGES = [
  ["same", "the same on left-hand pages"],
  ["mirrored", "left for right on left-hand pages"],
  ["own", "something else on left-hand pages"],
] as const;

const FIRST_PAGE = [
  ["same", "the same on the first page"],
  ["none", "nothing on the first page"],
  ["own", "something else on the first page"],
] as const;

const FRONT = [
  ["counted", "front pages counted along"],
  ["roman", "front pages i, ii, iii; body from 1"],
] as const;

const COLUMNS = ["1", "2", "3", "4"].map((one) => [one, one === "1" ? "one column" : `${one} columns`] as const);

const near = (one: number, other: number) => Math.abs(one - other) < 0.5;

/** Its place among the papers, upright or on its side; -1 for a size of one's own. */
const paperOf = ({ width, height }: PageShown) => PAPERS.findIndex(([, short, long]) => near(short, Math.min(width, height)) && near(long, Math.max(width, height)));

function Show({ report, room, writer, mayWrite, of, show, goTo, notify }: PanelProps) {
  const view = useRoom(room, "view");
  const sheet = useSheet(report, room, writer, notify);
  const parts = useMemo(() => partsOf(report, view), [report, view]);
  const part = of === null ? null : partOf(report, of);
  const page: PageShown = useMemo(() => ({ ...report.page, ...(part && ownOf(part)) }), [report.page, part]);
  const [which, setWhich] = useState<Which>("");
  const [slot, setSlot] = useState<Slot | null>(null);
  const samples = useMemo(() => samplesOf(report, view, parts.find(({ id }) => id === of)), [report, view, parts, of]);
  const change = (values: Partial<PageShown>) => void (of === null ? sheet.changePage(values) : sheet.changePart(of, { page: values }));
  const version = useTyped(page.version, (typed) => sheet.changePage({ version: typed }));

  const drawn: Which = which === "left_" && page.left_pages !== "own" ? "" : which === "first_" && page.first_page !== "own" ? "" : which;
  const whiches = ([["", page.left_pages === "own" ? "right-hand pages" : "all pages"], ["left_", "left-hand pages"], ["first_", "the first page"]] as const).filter(
    ([one]) => one === "" || page[one === "left_" ? "left_pages" : "first_page"] === "own",
  );
  const says = (field: string) => Object.values(page).some((said) => typeof said === "string" && said.includes(`{${field}}`));
  const file = useRef<HTMLInputElement>(null);
  const takePicture = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      const { source, width, height } = await api.addPicture(report.key, chosen);
      await sheet.changePage({ picture: source, picture_ratio: width / height });
    } catch (error) {
      notify((error as Error).message);
    }
  };
  const inText = writer && of !== null && partsIn(writer).includes(of);
  const style = report.styles.find(({ role }) => role === "running");
  const noteStyle = report.styles.find(({ role }) => role === "note");
  const paper = paperOf(page);
  const sideways = page.width > page.height;
  const figure = (name: "width" | "height" | "top" | "bottom" | "left" | "right" | "column_gap" | "picture_height", label: string, before: string) => (
    <Figure
      name={label}
      value={mm(page[name])}
      least={Math.ceil(mm(RANGES.page[name].least))}
      most={Math.floor(mm(RANGES.page[name].most))}
      step={1}
      before={before}
      after="mm"
      disabled={!mayWrite}
      set={(value) => change({ [name]: pointsOf(value) })}
    />
  );
  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>The page</PanelTitle>
      <TakeBack what={mayWrite ? report.to_take_back : ""} takeBack={sheet.takeBack} />
      {(parts.length > 1 || of !== null) && (
        <Flex as="nav" aria-label="Which pages are set up" wrap="wrap" gap="1" mb="3">
          <Press type="button" aria-current={of === null} bg={of === null ? "irisWash" : "raised"} onClick={() => show("page")}>
            The report
          </Press>
          {parts.map(({ id, name, numbers }) => (
            <Press key={id} type="button" title={numbers} aria-current={of === id} bg={of === id ? "irisWash" : "raised"} maxW="100%" onClick={() => show("page", id)}>
              <Box as="span" truncate>
                {name}
              </Box>
            </Press>
          ))}
        </Flex>
      )}
      {of !== null && part ? (
        <PartSettings
          key={of}
          id={of}
          part={part}
          mayWrite={mayWrite}
          change={(values) => sheet.changePart(of, values)}
          goTo={inText ? () => goTo(of) : null}
          takeAway={
            inText
              ? () => {
                  removePart(writer, of);
                  show("page");
                }
              : null
          }
        />
      ) : (
        <Row label="Language">
          <Choice name="Language of the report" value={page.language} disabled={!mayWrite} choices={LANGUAGES} set={(language) => change({ language })} />
        </Row>
      )}
      <Text color="quiet">{mayWrite ? "Press a place at the head or foot to say what stands there. Drag the edges of the text." : "What stands at the head and foot."}</Text>
      {whiches.length > 1 && (
        <Flex wrap="wrap" gap="1" mt="2" role="group" aria-label="Which of its pages is shown">
          {whiches.map(([one, name]) => (
            <Press key={one} type="button" aria-pressed={drawn === one} bg={drawn === one ? "irisWash" : "raised"} onClick={() => setWhich(one)}>
              {name}
            </Press>
          ))}
        </Flex>
      )}
      <DrawnSheet page={page} which={drawn} samples={samples} slot={slot} choose={setSlot} mayWrite={mayWrite} change={change} />
      {slot && mayWrite && <RunningWords key={`${drawn} ${slot.edge} ${slot.place}`} page={page} which={drawn} slot={slot} samples={samples} change={change} />}
      {says("picture") && (
        <Row label="Picture">
          {page.picture && <img src={api.picture(report.key, page.picture)} alt="At head and foot" style={{ height: 32, maxWidth: 120, objectFit: "contain" }} />}
          {mayWrite && (
            <Press type="button" onClick={() => file.current?.click()}>
              {page.picture ? "Another picture …" : "Choose a picture …"}
            </Press>
          )}
          {figure("picture_height", "Height of the picture", "high")}
          <FileInput ref={file} label="Picture for head and foot" accept="image/png,image/jpeg,image/gif,image/webp" take={(chosen) => void takePicture(chosen)} />
        </Row>
      )}
      {says("version") && of === null && (
        <Row label="Version">
          <Input size="xs" bg="raised" aria-label="What the version is called" placeholder="Draft 3" maxLength={80} disabled={!mayWrite} {...version} />
        </Row>
      )}
      <Row label="Head, foot">
        <Choice name="Left-hand pages" value={page.left_pages} choices={LEFT_PAGES} disabled={!mayWrite} set={(given) => change({ left_pages: given as PageShown["left_pages"] })} />
        <Choice name="First page" value={page.first_page} choices={FIRST_PAGE} disabled={!mayWrite} set={(given) => change({ first_page: given as PageShown["first_page"] })} />
        <Tick ticked={page.head_rule} disabled={!mayWrite} set={(head_rule) => change({ head_rule })}>
          line under the head
        </Tick>
        <Tick ticked={page.foot_rule} disabled={!mayWrite} set={(foot_rule) => change({ foot_rule })}>
          line over the foot
        </Tick>
        {style && (
          <Press type="button" onClick={() => show("styles", style.id)}>
            Set in “{style.name}”
          </Press>
        )}
      </Row>
      <Row label="Paper">
        <Choice
          name="Paper"
          value={String(paper)}
          choices={[...PAPERS.map(([name], at) => [String(at), name] as const), ...(paper < 0 ? [["-1", "a size of your own"] as const] : [])]}
          disabled={!mayWrite}
          set={(at) => {
            const [, short, long] = PAPERS[Number(at)] ?? [];
            if (short && long) change(sideways ? { width: long, height: short } : { width: short, height: long });
          }}
        />
        <Choice
          name="How the paper lies"
          value={sideways ? "sideways" : "upright"}
          choices={[["upright", "upright"], ["sideways", "on its side"]]}
          disabled={!mayWrite || page.width === page.height}
          set={(lies) => {
            if ((lies === "sideways") !== sideways) change({ width: page.height, height: page.width });
          }}
        />
        {figure("width", "Paper width", "")}
        {figure("height", "Paper height", "×")}
      </Row>
      <Row label="Margins">
        {figure("top", "Upper margin", "top")}
        {figure("bottom", "Lower margin", "bottom")}
        {figure("left", page.mirrored ? "Inner margin" : "Left margin", page.mirrored ? "inside" : "left")}
        {figure("right", page.mirrored ? "Outer margin" : "Right margin", page.mirrored ? "outside" : "right")}
        <Tick ticked={page.mirrored} disabled={!mayWrite} set={(mirrored) => change({ mirrored })}>
          mirrored on left-hand pages
        </Tick>
      </Row>
      <Row label="Columns">
        <Choice name="Columns" value={String(page.columns)} choices={COLUMNS} disabled={!mayWrite} set={(columns) => change({ columns: Number(columns) })} />
        {page.columns > 1 && figure("column_gap", "Room between columns", "apart")}
      </Row>
      {of === null && <NoteSettings page={page} mayWrite={mayWrite} change={change} toStyle={noteStyle ? { name: noteStyle.name, go: () => show("styles", noteStyle.id) } : null} />}
      {of === null && parts.length === 1 && parts[0]?.id === FIRST && (
        <>
          <Row label="Numbers">
            <Choice name="Front pages" value={page.front} choices={FRONT} disabled={!mayWrite} set={(front) => change({ front: front as PageShown["front"] })} />
          </Row>
          <Text color="quiet" mt="2">
            A part with paper or page numbers of its own begins where you put its start into the text: rest the pointer between two paragraphs, or press Alt+S and i.
          </Text>
        </>
      )}
    </Box>
  );
}

/** What stands on the second page of the report or part, more or less: the numbers are true, the sections the report's first. */
function samplesOf({ title, page: { version, language } }: ReportShown, view: View, part?: PartOnPages): Samples {
  const found: Record<string, string> = {
    page: view.labels[Math.min(part?.first ?? 1, (part?.last ?? 2) - 1)] ?? "2",
    last: view.labels[(part?.last ?? view.labels.length) - 1] ?? "2",
    pages: String(Math.max(view.labels.length, 2)),
    title,
    part: part?.part.name ?? "",
    picture: "▣",
    version: version || "Version",
    date: new Date().toLocaleDateString(language, { dateStyle: "long" }),
  };
  for (const { level, text, number } of view.headings) {
    found[`section ${level}`] ??= text;
    found[`number ${level}`] ??= number;
  }
  return found;
}

export const pageSetup: Panel = { key: "page", group: "Looks", name: "Page", Show };

// What the core lets be chosen and this offers is the same.
({ left_pages: LEFT_PAGES, first_page: FIRST_PAGE, front: FRONT, ...NOTE_CHOICES }) satisfies { [Name in keyof typeof CHOICES.page]: readonly (readonly [(typeof CHOICES.page)[Name][number], string])[] };
