/** Words that somebody wrote in what another had removed: they stand nowhere in the text, and wait here for somebody to deal with them. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { when } from "../../../words";
import { PanelTitle, Press } from "../../controls/parts";
import type { Kept as One } from "../../view";
import type { Returning } from "./useReturning";

interface Props {
  kept: readonly One[];
  /** For whoever may write. */
  returning: Returning | null;
  goTo: (id: string) => void;
}

export const Kept = ({ kept, returning, goTo }: Props) => (
  <Box as="section" aria-label="Kept words" mb="5">
    <PanelTitle>Kept words</PanelTitle>
    <Text color="quiet" mb="2">
      They stand nowhere in the text.
    </Text>
    {kept.map((one) => (
      <div key={one.id} className="kept">
        <button type="button" className="place" disabled={!one.place} title="Go to where it stood" onClick={() => goTo(one.place)}>
          {one.text}
          <span className="about">{when(one.at)}</span>
        </button>
        <blockquote>
          {one.paragraphs.map((words, index) => (
            // They are never put into another order.
            <p key={index}>{words.trim()}</p>
          ))}
        </blockquote>
        {returning && (
          <Flex gap="1" wrap="wrap">
            <Press type="button" aria-label={`Put it back: ${one.text}`} onClick={() => void returning.putBack(one)}>
              Put it back
            </Press>
            <Press type="button" aria-label={`Put in at the cursor: ${one.text}`} onClick={() => void returning.putHere(one)}>
              Put in at the cursor
            </Press>
            <Press type="button" aria-label={`Let it go: ${one.text}`} onClick={() => void returning.letGo(one)}>
              Let it go
            </Press>
          </Flex>
        )}
      </div>
    ))}
  </Box>
);
