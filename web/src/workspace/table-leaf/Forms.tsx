/** The forms of a table, each as a small true picture of this very table. */
import { Box, chakra, Flex, Grid, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type TableForm } from "../../api/client";
import { NameForm, PanelTitle, Press, Tick } from "../controls/parts";
import type { Tables } from "../tables/useTables";

interface Props {
  report: string;
  table: string;
  tables: Tables;
  mayWrite: boolean;
  close: () => void;
}

const Card = chakra("button", {
  base: {
    display: "block",
    w: "100%",
    textAlign: "left",
    bg: "raised",
    borderWidth: "1px",
    borderColor: "edge",
    rounded: "md",
    overflow: "hidden",
    cursor: "pointer",
    _hover: { borderColor: "iris" },
    _pressed: { borderColor: "iris", boxShadow: "0 0 0 1px var(--chakra-colors-iris)" },
    _disabled: { cursor: "default" },
  },
});

export function Forms({ report, table, tables, mayWrite, close }: Props) {
  const forms = useQuery({ queryKey: ["table", report, table, "forms"], queryFn: () => api.tableForms(report, table), refetchOnWindowFocus: false });
  const [everywhere, setEverywhere] = useState(false);
  return (
    <Box mt="3">
      <Flex justify="space-between" align="baseline">
        <PanelTitle>Forms</PanelTitle>
        <Press type="button" onClick={close}>
          Done
        </Press>
      </Flex>
      {forms.isPending && <Text color="quiet">The pictures are being made …</Text>}
      {forms.isError && <Text color="gone">{forms.error.message}</Text>}
      <Grid as="ul" templateColumns="1fr 1fr" gap="2" listStyleType="none" mt="1">
        {forms.data?.map((form) => (
          <Box as="li" key={form.key} minW="0">
            <Card
              type="button"
              aria-pressed={form.at_hand}
              disabled={!mayWrite}
              title={form.description}
              onClick={() => void tables.chooseForm(form.key)}
            >
              <Picture form={form} />
              <Text px="2" py="1" fontSize="13px" fontWeight="600" borderTopWidth="1px" borderColor="edge">
                {form.at_hand ? "✓ " : ""}
                {form.name}
              </Text>
            </Card>
            {form.own && mayWrite && (
              <Press type="button" mt="1" aria-label={`Forget the form ${form.name}`} onClick={() => void tables.forgetForm(form.key)}>
                Forget
              </Press>
            )}
          </Box>
        ))}
      </Grid>
      {mayWrite && (
        <>
          <NameForm label="Name of the form" action="Keep" give={(name) => tables.saveForm(name, everywhere)}>
            Keep this table’s look as a form of your own:
          </NameForm>
          <Tick ticked={everywhere} set={setEverywhere}>
            For all my reports
          </Tick>
        </>
      )}
    </Box>
  );
}

/** What stands on the page, as the core draws it; its words are those of the table beside it, and are not read out twice. */
const Picture = ({ form }: { form: TableForm }) => (
  <svg className="form-picture" viewBox={`-8 -4 ${form.width + 16} ${form.height + 4}`} aria-hidden width="100%">
    {form.rules.map(([x, y, width, weight, colour], index) => (
      <line key={index} x1={x} x2={x + width} y1={y} y2={y} strokeWidth={weight} stroke={colour} />
    ))}
    {form.words.map(([x, y, text, font, bold, italic, size, colour, step], index) => (
      <text
        key={index}
        x={x}
        y={y}
        style={{ fontFamily: `"${font}"`, fontWeight: bold ? "bold" : "normal", fontStyle: italic ? "italic" : "normal", fontSize: `${size}px` }}
        fill={colour}
        xmlSpace="preserve"
        textLength={step ? step * text.length : undefined}
      >
        {text}
      </text>
    ))}
  </svg>
);
