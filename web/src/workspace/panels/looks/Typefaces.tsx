/** The typefaces that the report asks for: which are here, what the others are shown in, and the files that it has of its own. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Family } from "../../../api/client";
import { FileInput } from "../../../theme/FileInput";
import { familyOf } from "../../controls/fonts";
import { PanelTitle, Press } from "../../controls/parts";
import type { Panel, PanelProps } from "../panel";

/** Milliseconds after which it is asked again what the text asks for. */
const LOOKED = 10_000;

const weightOf = ({ bold, italic }: Family["faces"][number]) => (bold ? (italic ? "bold italic" : "bold") : italic ? "italic" : "regular");

/** What is said of a family beneath its name. */
function said({ name, shown_in, as_wide, faces }: Family): string {
  if (faces.length > 0) return "Of this report";
  if (shown_in === name) return "Ships with the application";
  return as_wide ? `Not here: shown in ${shown_in}, whose letters are as wide` : `Not here: shown in ${shown_in}, whose letters have other widths, so that lines end elsewhere`;
}

interface SampleProps {
  of: string;
  face?: Family["faces"][number];
  words: string;
}

/** Words of the report as a face shows them: its name is not always written in what the face has. */
const Sample = ({ of, face, words }: SampleProps) => (
  <Text
    aria-hidden
    fontSize="17px"
    lineHeight="1.4"
    truncate
    style={{ fontFamily: familyOf(of), fontWeight: face?.bold ? "bold" : "normal", fontStyle: face?.italic ? "italic" : "normal" }}
  >
    {words}
  </Text>
);

function Show({ report, mayWrite, notify }: PanelProps) {
  const { key } = report;
  const queries = useQueryClient();
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  // What words ask for follows from the text, of which no word is said here.
  const found = useQuery({ queryKey: ["report", key, "typefaces"], queryFn: () => api.typefaces(key), refetchInterval: LOOKED });

  const change = async (work: () => Promise<unknown>, done: string) => {
    setBusy(true);
    try {
      await work();
      notify(done);
    } catch (error) {
      notify((error as Error).message);
    } finally {
      setBusy(false);
      await queries.invalidateQueries({ queryKey: ["report", key] });
    }
  };
  const bringIn = (file: File | undefined) => {
    if (file) void change(() => api.bringInTypeface(key, file), `${file.name} was brought in; everybody in the report has it now.`);
  };
  const takeOut = (family: Family, face: Family["faces"][number]) =>
    void change(() => api.takeOutTypeface(key, face.key), `${family.name}, ${weightOf(face)}, was taken out. The text still asks for it; its file can be brought in again.`);

  return (
    <Box px="4" py="4" fontSize="13px">
      <PanelTitle>Typefaces</PanelTitle>
      <Text color="quiet" mb="3">
        What the styles and words of the report ask for.
        {mayWrite && " A face that is not here can be brought in as a TrueType file (.ttf), if its licence lets it be embedded."}
      </Text>
      {mayWrite && (
        <>
          <Press type="button" mb="3" disabled={busy} onClick={() => input.current?.click()}>
            {busy ? "Bringing in …" : "Bring in a typeface file"}
          </Press>
          <FileInput ref={input} label="Typeface file to bring in" accept=".ttf,font/ttf" take={bringIn} />
        </>
      )}
      {found.isError && <Text color="gone">{found.error.message}</Text>}
      <Box as="ul" listStyleType="none" aria-label="Typefaces of the report">
        {found.data?.map((family) => (
          <Box as="li" key={family.name} borderTopWidth="1px" borderColor="edge" py="2">
            <Text fontWeight="600" overflowWrap="anywhere">
              {family.name}
            </Text>
            {family.faces.length === 0 && <Sample of={family.name} words={report.title} />}
            <Text color="quiet">
              {said(family)}
              {!family.used && " · not used"}
            </Text>
            {family.faces.map((face) => (
              <Flex key={face.key} align="center" gap="2" mt="1">
                <Box flex="1" minW="0">
                  <Sample of={family.name} face={face} words={report.title} />
                  <Text color="quiet">{weightOf(face)}</Text>
                </Box>
                {mayWrite && (
                  <Press type="button" disabled={busy} aria-label={`Take out ${family.name}, ${weightOf(face)}`} onClick={() => takeOut(family, face)}>
                    Take out
                  </Press>
                )}
              </Flex>
            ))}
          </Box>
        ))}
      </Box>
    </Box>
  );
}

export const typefaces: Panel = { key: "typefaces", group: "Looks", name: "Faces", Show };
