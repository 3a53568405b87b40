/** House sheets: what a report would look like by rules that somebody set, and where it departs from its own. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { memo, useMemo, useState } from "react";
import { api, type Departure, type HouseSheet, type ReportShown } from "../../../api/client";
import { counted, shortened } from "../../../words";
import type { Panel, PanelProps } from "../panel";
import { forHeading, forRole } from "../../text-leaf/styles";
import { NameForm, PanelTitle, Press, Specimen, TakeBack, Tick } from "../../controls/parts";
import { departed } from "./settings";
import { useSheet, type Sheet } from "./useSheet";
import { useUses } from "./useUses";

interface Props {
  report: ReportShown;
  /** Words of the first headings and of body text, for samples. */
  words: readonly string[];
  mayWrite: boolean;
  sheet: Sheet;
  notify: (notice: string) => void;
}

/** Largest size in points at which a sample is set. */
const LARGEST = 15;

/** How a house sheet looks, in words of this report: two headings, and some body text. */
const Sample = ({ house, words }: { house: HouseSheet; words: readonly string[] }) => (
  <Box bg="leaf" borderWidth="1px" borderColor="edge" rounded="md" px="3" py="1.5" mt="1.5" overflow="hidden">
    {house.sample.map((style, at) => (
      <Specimen key={style.id} style={{ ...style, size: Math.min(style.size, LARGEST) }} oneLine>
        {words[at] ?? style.name}
      </Specimen>
    ))}
  </Box>
);

const HouseSheets = memo(function HouseSheets({ report, words, mayWrite, sheet, notify }: Props) {
  const houses = useQuery({ queryKey: ["house-sheets"], queryFn: api.houseSheets });
  const [open, setOpen] = useState<string>(report.house_sheet);
  const queries = useQueryClient();
  const forget = async (key: string) => {
    try {
      await api.forgetHouseSheet(key);
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ["house-sheets"] });
  };
  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>House sheets</PanelTitle>
      <Text color="quiet" mb="3">
        Styles, numbers, pages and the make of tables under one name, for every report that follows the same rules.
      </Text>
      <TakeBack what={mayWrite ? report.to_take_back : ""} takeBack={sheet.takeBack} />
      {houses.isError && <Text color="gone">{houses.error.message}</Text>}
      {houses.data?.map((house) => (
        <Box key={house.key} borderTopWidth="1px" borderColor="edge" py="2">
          <Flex gap="2" align="baseline">
            <Box
              as="button"
              flex="1"
              minW="0"
              textAlign="left"
              cursor="pointer"
              aria-expanded={open === house.key}
              onClick={() => setOpen(open === house.key ? "" : house.key)}
            >
              <Text fontWeight="600">
                {house.name}
                {house.key === report.house_sheet && (
                  <Text as="span" color="level" fontWeight="400">
                    {" "}
                    · of this report
                  </Text>
                )}
              </Text>
              {house.about && <Text color="quiet">{house.about}</Text>}
              <Sample house={house} words={words} />
            </Box>
            {!house.ships && (
              <Press type="button" aria-label={`Forget the house sheet ${house.name}`} title="Forget it; reports stay as they are" onClick={() => void forget(house.key)}>
                ×
              </Press>
            )}
          </Flex>
          {open === house.key && <Departures house={house} report={report} mayWrite={mayWrite} sheet={sheet} />}
        </Box>
      ))}
      <Keep report={report} notify={notify} />
    </Box>
  );
});

function Show({ report, room, editor, writer, mayWrite, notify }: PanelProps) {
  const uses = useUses(editor);
  const { styles } = report;
  const words = useMemo(() => {
    const ids = [forHeading(styles, 1), forHeading(styles, 2), forRole(styles, "body")];
    return ids.map((id, at) => shortened(uses.get(id)?.words ?? "", 60) || ["A heading", "A heading beneath it", "Body text."][at] || "");
  }, [styles, uses]);
  return <HouseSheets report={report} words={words} mayWrite={mayWrite} sheet={useSheet(report, room, writer, notify)} notify={notify} />;
}

export const houseSheets: Panel = { key: "house-sheets", group: "Looks", name: "House sheets", Show };

const keyOf = (departure: Departure) => departure.path.join(" ");

interface DeparturesProps extends Omit<Props, "notify" | "words"> {
  house: HouseSheet;
}

function Departures({ house, report, mayWrite, sheet }: DeparturesProps) {
  const found = useQuery({
    queryKey: ["report", report.key, "house", house.key],
    queryFn: () => api.departures(report.key, house.key),
  });
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  if (found.isError) return <Text color="gone">{found.error.message}</Text>;
  if (!found.data) return <Text color="quiet">Comparing …</Text>;
  if (found.data.length === 0) return <Text color="level">◆ This report is as the house sheet says.</Text>;
  const chosen = found.data.filter((one) => !left.has(keyOf(one)));
  const groups = [...Map.groupBy(found.data, (one) => one.path[0] === "tables" ? `Table: ${one.style}` : one.style || (one.path[0] === "page" ? "Page" : "Numbers"))];
  const tick = (departures: readonly Departure[], ticked: boolean) =>
    setLeft((before) => {
      const now = new Set(before);
      for (const one of departures) if (ticked) now.delete(keyOf(one));
      else now.add(keyOf(one));
      return now;
    });
  return (
    <Box mt="1">
      <Text color="behindInk" mb="1">
        ◇ The report departs from it in {counted(found.data.length, "setting")}.
      </Text>
      {mayWrite && (
        <Flex gap="2" mb="2" wrap="wrap">
          <Press type="button" bg="iris" color="leaf" borderColor="iris" disabled={chosen.length === 0}
            onClick={() => void sheet.giveHouseSheet(house.key, left.size ? chosen.map((one) => one.path) : null)}>
            {left.size ? `Give the ${counted(chosen.length, "chosen setting")}` : "Give all of it"}
          </Press>
        </Flex>
      )}
      {groups.map(([name, departures]) => (
        <Box as="details" key={name} mb="1">
          <Box as="summary" cursor="pointer" minH="26px">
            {name} <Text as="span" color="quiet">{departures.length}</Text>
          </Box>
          {mayWrite && departures.length > 1 && (
            <Tick ticked={departures.every((one) => !left.has(keyOf(one)))} set={(ticked) => tick(departures, ticked)}>
              all of {name}
            </Tick>
          )}
          {departures.map((one) => (
            <Box key={keyOf(one)} pl="2">
              {mayWrite ? (
                <Tick ticked={!left.has(keyOf(one))} set={(ticked) => tick([one], ticked)}>
                  {departed(one)}
                </Tick>
              ) : (
                departed(one)
              )}
              {one.rule && (
                <Text color="quiet" pl="5" fontSize="12px">
                  {one.rule}
                </Text>
              )}
            </Box>
          ))}
        </Box>
      ))}
    </Box>
  );
}

function Keep({ report, notify }: Pick<Props, "report" | "notify">) {
  const queries = useQueryClient();
  const save = async (name: string) => {
    try {
      await api.saveHouseSheet(report.key, name);
      notify(`“${name.trim()}” is among your house sheets now.`);
    } catch (error) {
      notify((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: ["house-sheets"] });
  };
  return (
    <NameForm label="Name of the house sheet" action="Keep" give={save}>
      Keep how this report looks as a house sheet of yours
    </NameForm>
  );
}
