/** What captions are called and how they are counted: the labels of a report. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { LabelShown, ReportShown } from "../../../api/client";
import { Choice } from "../../controls/Figure";
import { NameForm, PanelTitle } from "../../controls/parts";
import type { Sheet } from "./useSheet";
import { useTyped } from "../../controls/useTyped";

interface Props {
  report: ReportShown;
  mayWrite: boolean;
  sheet: Sheet;
}

export const Labels = ({ report, mayWrite, sheet }: Props) => (
  <Box mt="4">
    <PanelTitle>Labels of captions</PanelTitle>
    {report.labels.map((label) => (
      <OneLabel key={label.id} label={label} disabled={!mayWrite} change={(values) => sheet.changeLabel(label.id, values)} />
    ))}
    {mayWrite && (
      <NameForm label="Name of the new label" action="Make" give={async (name) => void (await sheet.makeLabel(name))}>
        A new label, such as Map or Plate
      </NameForm>
    )}
  </Box>
);

interface LabelProps {
  label: LabelShown;
  disabled: boolean;
  change: (values: Partial<LabelShown>) => Promise<unknown>;
}

const LEVELS = [["0", "through the report"], ...[1, 2, 3].map((level) => [String(level), `anew in each section of level ${level}`] as const)] as const;

function OneLabel({ label, disabled, change }: LabelProps) {
  const name = useTyped(label.name, async (typed) => typed.trim() && change({ name: typed.trim() }));
  const behind = useTyped(label.behind, (typed) => change({ behind: typed }));
  return (
    <Flex role="group" aria-label={`Label ${label.name}`} wrap="wrap" align="center" columnGap="1" py="1" borderTopWidth="1px" borderColor="edge">
      <Input size="xs" bg="raised" w="84px" maxLength={40} aria-label={`Name of the label ${label.name}`} disabled={disabled} {...name} />
      <Text as="span" color="quiet">
        {label.by_level ? "2-3" : "3"}
      </Text>
      <Input size="xs" bg="raised" w="44px" maxLength={8} aria-label={`What stands behind the number of ${label.name}`} disabled={disabled} {...behind} />
      <Choice
        name={`Where captions of ${label.name} are put`}
        value={label.place}
        choices={[["below", "below"], ["above", "above"]]}
        disabled={disabled}
        set={(place) => void change({ place: place as LabelShown["place"] })}
      />
      <Choice
        name={`How ${label.name} is counted`}
        value={String(label.by_level)}
        choices={LEVELS}
        disabled={disabled}
        set={(level) => void change({ by_level: Number(level) })}
      />
    </Flex>
  );
}
