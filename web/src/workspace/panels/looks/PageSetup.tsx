/** The page: paper, margins, and where its number stands. */
import { RANGES } from "../../../api/settings";
import { Box, Text, VisuallyHidden } from "@chakra-ui/react";
import { memo } from "react";
import type { PageShown, ReportShown } from "../../../api/client";
import { LANGUAGES } from "../../controls/languages";
import { Choice, Figure } from "../../controls/LookWords";
import { useRoom } from "../../room/useRoom";
import type { Panel, PanelProps } from "../panel";
import { PanelTitle, Row, TakeBack, Tick } from "../../controls/parts";
import { mm, pointsOf } from "./settings";
import { useSheet, type Sheet } from "./useSheet";

/** Sizes in points: ISO 216, and the usual ones of North America (ANSI/ASME Y14.1 A, and legal). */
const PAPERS: readonly (readonly [name: string, width: number, height: number])[] = [
  ["A4", 595.28, 841.89],
  ["A5", 419.53, 595.28],
  ["Letter, 8½ × 11 in", 612, 792],
  ["Legal, 8½ × 14 in", 612, 1008],
];

const SAYS = [
  ["figure", "2"],
  ["page", "Page 2"],
  ["of", "Page 2 of 38"],
] as const;

const FRONT = [
  ["counted", "front pages counted along"],
  ["roman", "front pages i, ii, iii; body from 1"],
] as const;

interface Props {
  report: ReportShown;
  pages: number;
  mayWrite: boolean;
  sheet: Sheet;
}

const PageSetup = memo(function PageSetup({ report, pages, mayWrite, sheet }: Props) {
  const { page } = report;
  const change = (values: Partial<PageShown>) => void sheet.changePage(values);
  const paper = PAPERS.findIndex(([, width, height]) => Math.abs(width - page.width) < 0.5 && Math.abs(height - page.height) < 0.5);
  const figure = (name: keyof PageShown & ("width" | "height" | "top" | "bottom" | "left" | "right"), label: string, before: string) => (
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
      <Row label="Language">
        <Choice name="Language of the report" value={page.language} disabled={!mayWrite} choices={LANGUAGES} set={(language) => change({ language })} />
      </Row>
      <Text color="quiet">Press where its number is to stand.</Text>
      <Sheetlet page={page} pages={pages} mayWrite={mayWrite} change={change} />
      <Row label="Number">
        <Choice name="Page numbers" value={page.number_says} choices={SAYS} disabled={!mayWrite} set={(says) => change({ number_says: says as PageShown["number_says"] })} />
        <Tick ticked={page.number_at !== "none"} disabled={!mayWrite} set={(on) => change({ number_at: on ? "foot" : "none" })}>
          printed
        </Tick>
        <Tick ticked={page.number_first} disabled={!mayWrite} set={(number_first) => change({ number_first })}>
          on the first page too
        </Tick>
        <Choice name="Front pages" value={page.front} choices={FRONT} disabled={!mayWrite} set={(front) => change({ front: front as PageShown["front"] })} />
      </Row>
      <Row label="Paper">
        <Choice
          name="Paper"
          value={String(paper)}
          choices={[...PAPERS.map(([name], at) => [String(at), name] as const), ...(paper < 0 ? [["-1", "a size of your own"] as const] : [])]}
          disabled={!mayWrite}
          set={(at) => {
            const [, width, height] = PAPERS[Number(at)] ?? [];
            if (width && height) change({ width, height });
          }}
        />
        {figure("width", "Paper width", "")}
        {figure("height", "Paper height", "×")}
      </Row>
      <Row label="Margins">
        {figure("top", "Upper margin", "top")}
        {figure("bottom", "Lower margin", "bottom")}
        {figure("left", "Left margin", "left")}
        {figure("right", "Right margin", "right")}
      </Row>
    </Box>
  );
});

function Show({ report, room, writer, mayWrite, notify }: PanelProps) {
  const pages = useRoom(room, "view").labels.length;
  return <PageSetup report={report} pages={pages} mayWrite={mayWrite} sheet={useSheet(report, room, writer, notify)} />;
}

export const pageSetup: Panel = { key: "page", group: "Looks", name: "Page", Show };

interface SheetletProps {
  page: PageShown;
  pages: number;
  mayWrite: boolean;
  change: (values: Partial<PageShown>) => void;
}

const WIDTH = 150;

/** The page to scale, with the six places where its number may stand. */
function Sheetlet({ page, pages, mayWrite, change }: SheetletProps) {
  const scale = WIDTH / page.width;
  const label = { figure: "2", page: "Page 2", of: `Page 2 of ${Math.max(pages, 2)}` }[page.number_says];
  return (
    <Box position="relative" bg="leaf" borderWidth="1px" borderColor="quiet" my="3" mx="auto" style={{ width: WIDTH, height: page.height * scale }} role="group" aria-label="Where page numbers stand">
      <Box
        position="absolute"
        css={{ backgroundImage: "repeating-linear-gradient(var(--chakra-colors-edge) 0 1px, transparent 1px 7px)" }}
        style={{ top: page.top * scale, bottom: page.bottom * scale, left: page.left * scale, right: page.right * scale }}
      />
      {(["head", "foot"] as const).map((at) =>
        (["left", "center", "right"] as const).map((align) => {
          const chosen = page.number_at === at && page.number_align === align;
          return (
            <Box
              as="button"
              key={at + align}
              position="absolute"
              w="33.3%"
              minH="24px"
              fontSize="10px"
              lineHeight="24px"
              cursor={mayWrite ? "pointer" : "default"}
              whiteSpace="nowrap"
              color={chosen ? "iris" : "transparent"}
              fontWeight="600"
              borderWidth="1px"
              borderStyle="dashed"
              borderColor={chosen ? "iris" : "edge"}
              _hover={{ borderColor: "iris", color: "quiet" }}
              _focusVisible={{ color: "quiet" }}
              aria-pressed={chosen}
              style={{
                [at === "head" ? "top" : "bottom"]: 2,
                left: { left: "0", center: "33.3%", right: "66.6%" }[align],
                textAlign: align,
              }}
              onClick={() => {
                if (mayWrite) change({ number_at: at, number_align: align });
              }}
            >
              <VisuallyHidden>{`At the ${at}, ${{ left: "left", center: "in the middle", right: "right" }[align]}: `}</VisuallyHidden>
              {chosen ? label : "2"}
            </Box>
          );
        }),
      )}
    </Box>
  );
}
