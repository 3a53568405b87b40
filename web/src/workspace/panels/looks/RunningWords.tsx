/** What stands at one place of the head or foot: words and fields, each to be changed, moved off, or joined by another. */
import { Box, Flex, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { PageShown } from "../../../api/client";
import { Press } from "../../controls/parts";
import { FIELDS, fieldName, NUMBERS, piecesOf, sample, saidBy, slotName, slotWords, withSaid, type Piece, type Samples, type Slot, type Which } from "./running";

interface Props {
  page: PageShown;
  which: Which;
  slot: Slot;
  samples: Samples;
  change: (values: Partial<PageShown>) => void;
}

/** What is offered where nothing stands yet, beside the ways to print the page's number. */
const WHOLE = ["{title}", "{section 1}", "{number 1} {section 1}", "{date}", "{version}", "{picture}"] as const;

const wholeName = (said: string): string =>
  piecesOf(said)
    .flatMap((piece) => ("field" in piece ? [fieldName(piece.field)] : []))
    .join(" and ")
    .replace("its number and main section", "main section with its number");

export function RunningWords({ page, which, slot, samples, change }: Props) {
  const said = page[slotName(which, slot)];
  const pieces = piecesOf(said);
  const say = (words: string) => change(withSaid(page, which, slot, words));
  const put = (piece: Piece) => say(saidBy([...pieces, ...(pieces.length ? [{ words: " " }] : []), piece]));
  const without = (at: number) => say(saidBy(pieces.filter((_, index) => index !== at)).trim());
  return (
    <Box mb="3" px="2" py="2" bg="leaf" borderWidth="1px" borderColor="edge" rounded="sm" role="group" aria-label={slotWords(slot)}>
      <Flex justify="space-between" align="center" mb="1">
        <Text fontWeight="600">{slotWords(slot)}</Text>
        {said && (
          <Press type="button" onClick={() => say("")}>
            Take out
          </Press>
        )}
      </Flex>
      {pieces.length === 0 ? (
        <Flex wrap="wrap" gap="1">
          {NUMBERS.map((one) => (
            <Press key={one} type="button" onClick={() => say(one)}>
              {sample(one, samples)}
            </Press>
          ))}
          {WHOLE.map((one) => (
            <Press key={one} type="button" onClick={() => say(one)}>
              {wholeName(one)}
            </Press>
          ))}
          <Words key="" words="" name="Words of your own" set={say} />
        </Flex>
      ) : (
        <>
          <Flex wrap="wrap" gap="1" align="center">
            {pieces.map((piece, at) =>
              "field" in piece ? (
                <Press key={`${at} ${piece.field}`} type="button" bg="irisWash" title="Take it out" aria-label={`${fieldName(piece.field)}: take it out`} onClick={() => without(at)}>
                  {fieldName(piece.field)} <span aria-hidden>&nbsp;×</span>
                </Press>
              ) : (
                <Words key={`${at} words`} words={piece.words} name="Words" set={(words) => say(saidBy(pieces.map((one, index) => (index === at ? { words } : one))))} />
              ),
            )}
          </Flex>
          <Flex wrap="wrap" gap="1" mt="2" align="center">
            <select className="word" aria-label="Put in behind it" value="" onChange={(event) => put(event.target.value === "words" ? { words: "…" } : { field: event.target.value })}>
              <option value="" disabled>
                and …
              </option>
              {FIELDS.map(([field, name]) => (
                <option key={field} value={field}>
                  {name}
                </option>
              ))}
              <option value="words">words of your own</option>
            </select>
          </Flex>
        </>
      )}
    </Box>
  );
}

interface WordsProps {
  words: string;
  name: string;
  set: (words: string) => void;
}

/** Words among the fields; spaces at their ends count. */
function Words({ words, name, set }: WordsProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const give = () => {
    if (typed !== null && typed !== words) set(typed);
    setTyped(null);
  };
  const shown = typed ?? words;
  return (
    <input
      className="word"
      aria-label={name}
      placeholder={name}
      maxLength={120}
      value={shown}
      style={{ width: `${Math.max(shown.length, shown ? 2 : name.length) + 2}ch`, maxWidth: "100%", minHeight: 26 }}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={give}
      onKeyDown={(event) => {
        if (event.key === "Enter") give();
        if (event.key === "Escape") setTyped(null);
      }}
    />
  );
}
