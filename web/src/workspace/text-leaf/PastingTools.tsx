/** How what was pasted last can be had, and what of it did not come along: in the look line, until the next key in the text. */
import { Box, Flex } from "@chakra-ui/react";
import { useState, useSyncExternalStore } from "react";
import { NotedList } from "../../theme/NotedList";
import { counted } from "../../words";
import { BareButton } from "../controls/BareButton";
import type { Offer, Pasting, Way } from "./pasting";

const WAYS: Record<Way, string> = { here: "as here", there: "as it looked there", words: "words alone" };

export function PastingTools({ pasting }: { pasting: Pasting }) {
  const state = useSyncExternalStore(pasting.subscribe, pasting.get);
  return (
    <Box role="status">
      {state === "reading" && (
        <Box as="span" color="quiet" px="1">
          Reading what was pasted …
        </Box>
      )}
      {state !== null && state !== "reading" && <Ways offer={state} />}
    </Box>
  );
}

function Ways({ offer: { way, notes, have } }: { offer: Offer }) {
  const [open, setOpen] = useState(false);
  const others = (Object.keys(WAYS) as Way[]).filter((one) => one !== way);
  return (
    <>
      {open && (
        <Box role="group" pb="1" maxH="9em" overflowY="auto" tabIndex={0} aria-label="What did not come along">
          <NotedList notes={notes} />
        </Box>
      )}
      <Flex role="group" aria-label="What was pasted" align="center" wrap="wrap" columnGap="1px">
        <Box as="span" color="quiet" px="1">
          Pasted {WAYS[way]}; rather
        </Box>
        {others.map((one) => (
          <BareButton key={one} type="button" className="word" color="iris" fontWeight="600" onClick={() => have(one)}>
            {WAYS[one]}
          </BareButton>
        ))}
        {notes.length > 0 && (
          <BareButton type="button" className="word" color="iris" aria-expanded={open} onClick={() => setOpen(!open)}>
            {counted(notes.length, "thing")} not as there
          </BareButton>
        )}
      </Flex>
    </>
  );
}
