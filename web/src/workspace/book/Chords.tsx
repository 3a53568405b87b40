/** The S key: Alt+S, then one key. While it waits, all keys are on screen. */
import { Box, Flex, Grid, Kbd, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";

export interface Chord {
  key: string;
  does: string;
  run: () => void;
  /** Whether others of its kind may follow without Alt+S. */
  goesOn?: boolean;
}

/** The arrows by the signs on them. */
const SIGNS: Readonly<Record<string, string>> = { arrowup: "↑", arrowdown: "↓", arrowleft: "←", arrowright: "→", delete: "Del" };

/** What is waited for: nothing, any of the keys, or those that go on with what was begun. */
type Waits = "none" | "any" | "more";

export function Chords({ chords }: { chords: Chord[] }) {
  const [waiting, setWaiting] = useState<Waits>("none");
  const latest = useRef({ chords, waiting });
  useEffect(() => {
    latest.current = { chords, waiting };
  });

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.altKey && !event.ctrlKey && !event.metaKey && event.code === "KeyS") {
        event.preventDefault();
        event.stopPropagation();
        setWaiting(latest.current.waiting === "any" ? "none" : "any");
        return;
      }
      const { chords, waiting } = latest.current;
      if (waiting === "none" || ["Alt", "Shift", "Control", "Meta"].includes(event.key)) return;
      const digit = /^(?:Digit|Numpad)(\d)$/.exec(event.code)?.[1];
      const key = digit ?? event.key.toLowerCase();
      const chord = chords.find((one) => one.key === key);
      if (waiting === "more" && !chord?.goesOn) {
        setWaiting("none");
        if (event.key !== "Escape") return; // it is meant for the text
      }
      event.preventDefault();
      event.stopPropagation();
      if (event.key === "?") return;
      setWaiting(chord?.goesOn ? "more" : "none");
      if (waiting === "any" || chord?.goesOn) chord?.run();
    };
    const leave = () => setWaiting("none");
    window.addEventListener("keydown", press, true);
    window.addEventListener("blur", leave);
    window.addEventListener("mousedown", leave);
    return () => {
      window.removeEventListener("keydown", press, true);
      window.removeEventListener("blur", leave);
      window.removeEventListener("mousedown", leave);
    };
  }, []);

  if (waiting === "none") return null;
  if (waiting === "more") {
    return (
      <Box position="fixed" insetX="0" bottom="0" zIndex="popover" bg="spine" color="rib" px="6" py="2" shadow="2xl" role="status">
        ↑ ↓ ← → go on with it; any other key is for the text again.
      </Box>
    );
  }
  return (
    <Box position="fixed" insetX="0" bottom="0" zIndex="popover" bg="spine" color="rib" px="6" py="4" shadow="2xl" role="status">
      <Flex gap="3" mb="3" align="baseline">
        <Text fontFamily="heading" fontSize="18px">
          Now one key
        </Text>
        <Text color="ribQuiet">Escape lets it be. These keys follow Alt+S; besides them, Ctrl+Enter gives a page break.</Text>
      </Flex>
      <Grid templateColumns="repeat(auto-fill, minmax(210px, 1fr))" gapX="6" gapY="1.5" as="dl">
        {chords.map((chord) => (
          <Flex key={chord.key} gap="3" align="center">
            <Kbd as="dt" bg="rib" color="spine" minW="26px" justifyContent="center">
              {SIGNS[chord.key] ?? chord.key.toUpperCase()}
            </Kbd>
            <Text as="dd">{chord.does}</Text>
          </Flex>
        ))}
      </Grid>
    </Box>
  );
}
