/** The S key: Alt+S, then one key. While it waits, all keys are on screen. */
import { Box, Flex, Grid, Kbd, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";

export interface Chord {
  key: string;
  does: string;
  run: () => void;
}

export function Chords({ chords }: { chords: Chord[] }) {
  const [waiting, setWaiting] = useState(false);
  const latest = useRef({ chords, waiting });
  useEffect(() => {
    latest.current = { chords, waiting };
  });

  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.altKey && !event.ctrlKey && !event.metaKey && event.code === "KeyS") {
        event.preventDefault();
        event.stopPropagation();
        setWaiting(!latest.current.waiting);
        return;
      }
      if (!latest.current.waiting || ["Alt", "Shift", "Control", "Meta"].includes(event.key)) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.key === "?") return;
      setWaiting(false);
      const digit = /^(?:Digit|Numpad)(\d)$/.exec(event.code)?.[1];
      const key = digit ?? event.key.toLowerCase();
      latest.current.chords.find((chord) => chord.key === key)?.run();
    };
    const leave = () => setWaiting(false);
    window.addEventListener("keydown", press, true);
    window.addEventListener("blur", leave);
    window.addEventListener("mousedown", leave);
    return () => {
      window.removeEventListener("keydown", press, true);
      window.removeEventListener("blur", leave);
      window.removeEventListener("mousedown", leave);
    };
  }, []);

  if (!waiting) return null;
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
              {chord.key.toUpperCase()}
            </Kbd>
            <Text as="dd">{chord.does}</Text>
          </Flex>
        ))}
      </Grid>
    </Box>
  );
}
