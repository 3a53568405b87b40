/** What is not as it should be with the report, in words, above the leaves; nothing where all is well. */
import { Box, Button, Flex, Text, Textarea } from "@chakra-ui/react";
import type { Aside, Room } from "../room/room";
import { useRoom } from "../room/useRoom";

export function Condition({ room }: { room: Room }) {
  const aside = useRoom(room, "aside");
  return (
    <>
      {aside && <SetAside aside={aside} forget={room.forget} />}
      <Faults room={room} />
    </>
  );
}

function Faults({ room }: { room: Room }) {
  const line = useRoom(room, "line");
  const role = useRoom(room, "role");
  const saving = useRoom(room, "saving");
  const lacking = useRoom(room, "lacking");
  const trouble = useRoom(room, "trouble");
  const kept = useRoom(room, "kept");
  if (line === "stuck")
    return (
      <Strip words={`${trouble} The report is opened again without it in a moment; what you wrote is kept here for you to copy.`}>
        <Kept words={kept} />
      </Strip>
    );
  if (trouble && role === "reader")
    return (
      <Strip words={kept ? `${trouble} What you wrote last is not saved; copy it here if you need it.` : trouble}>
        <Kept words={kept} />
        {kept && <Again words="Show the report as it is" />}
      </Strip>
    );
  if (!saving && role !== "reader")
    return (
      <Strip words="Nothing is being saved at present: the server cannot write to its disk. Go on writing, and keep this page open; all of it is saved as soon as that is possible." />
    );
  if (lacking.length > 0)
    return (
      <Strip
        words={`This could not be computed, through a fault of ours: ${inWords(lacking)}. What you write is saved; it is tried again with your next change.`}
      />
    );
  return null;
}

function SetAside({ aside: { why, words }, forget }: { aside: Aside; forget: () => void }) {
  const rest = words ? "It has been put aside here, for you to copy; all else is saved, and you can go on writing." : "It has been left out; all else is saved, and you can go on writing.";
  return (
    <Strip words={`${why} ${rest}`}>
      <Kept words={words} />
      <Button size="sm" variant="outline" bg="raised" color="ink" borderColor="quiet" flexShrink="0" onClick={forget}>
        {words ? "I have copied what I need" : "Go on"}
      </Button>
    </Strip>
  );
}

/** What could not be computed, by the names under which the server computes it; all else hangs on these. */
const LACKING: Record<string, string> = {
  outline: "the structure",
  markers: "the numbers of lists",
  pages: "pages",
  tables: "what is behind",
  found: "headings made by hand",
  checked: "the check-up",
};

const inWords = (lacking: readonly string[]) => {
  const said = Object.keys(LACKING).filter((name) => lacking.includes(name));
  return said.map((name) => LACKING[name]).join(", ") || "what follows from the text";
};

function Strip({ words, children }: { words: string; children?: React.ReactNode }) {
  return (
    <Box bg="behindWash" borderBottomWidth="1px" borderColor="behind" px="4" py="2" color="behindInk">
      <Flex align="center" gap="4" wrap="wrap">
        <Text role="alert" fontWeight="600" fontSize="14px" flex="1" minW="240px">
          {words}
        </Text>
        {children}
      </Flex>
    </Box>
  );
}

/** Words that their author can still copy, although they are not saved. */
export function Kept({ words }: { words: string }) {
  if (!words) return null;
  return (
    <Textarea
      readOnly
      aria-label="What you wrote and is not saved"
      value={words}
      rows={Math.min(5, words.split("\n").length)}
      w="100%"
      maxW="60ch"
      fontSize="14px"
      bg="raised"
      color="ink"
      borderColor="behind"
      onFocus={(event) => event.target.select()}
    />
  );
}

export const Again = ({ words }: { words: string }) => (
  <Button
    size="sm"
    variant="outline"
    bg="raised"
    color="ink"
    borderColor="quiet"
    flexShrink="0"
    onClick={(event) => {
      // What is not saved has been shown for copying: no second question.
      event.currentTarget.disabled = true;
      window.location.reload();
    }}
  >
    {words}
  </Button>
);
