/** What panels are made of. */
import { Box, chakra, Flex, Input, Text } from "@chakra-ui/react";
import { useEffect, useRef, useState, type CSSProperties, type ReactNode } from "react";
import type { StyleShown } from "../../api/client";
import { familyOf } from "./fonts";

export const Press = chakra("button", {
  base: {
    display: "inline-flex",
    alignItems: "center",
    minH: "26px",
    px: "2",
    rounded: "sm",
    fontSize: "13px",
    borderWidth: "1px",
    borderColor: "edge",
    bg: "raised",
    cursor: "pointer",
    _hover: { borderColor: "iris" },
    _disabled: { color: "quiet", cursor: "default", bg: "transparent" },
  },
});

/** Largest size at which a specimen is set, in points: beyond it only its name tells how large it is. */
const LARGEST = 20;

const specimenStyle = (style: StyleShown): CSSProperties => ({
  fontFamily: familyOf(style.font),
  fontSize: `${Math.min(style.size, LARGEST)}pt`,
  fontWeight: style.bold ? "bold" : "normal",
  fontStyle: style.italic ? "italic" : "normal",
  textDecoration: style.underline ? "underline" : undefined,
  textAlign: style.align,
  lineHeight: Math.min(style.line_spacing, 1.3),
  color: style.colour === "#000000" ? undefined : `color-mix(in oklab, ${style.colour}, var(--specimen-mix, black 0%))`,
});

/** Words set in a style. */
export const Specimen = ({ style, oneLine, children }: { style: StyleShown; oneLine?: boolean; children: ReactNode }) => (
  <Box className="specimen" truncate={oneLine} style={specimenStyle(style)}>
    {children}
  </Box>
);

export const PanelTitle = ({ children }: { children: ReactNode }) => (
  <Text as="h2" fontFamily="heading" fontSize="20px" mb="1">
    {children}
  </Text>
);

interface TakeBackProps {
  what: string;
  takeBack: () => Promise<boolean>;
}

/** Takes back what somebody changed last about the sheet. */
export const TakeBack = ({ what, takeBack }: TakeBackProps) =>
  what ? (
    <Press type="button" mb="3" maxW="100%" title={`Take back: ${what}`} onClick={() => void takeBack()}>
      <Box as="span" truncate>
        ↶ Take back: {what}
      </Box>
    </Press>
  ) : null;

/** A labelled row of settings. */
export const Row = ({ label, children }: { label: string; children: ReactNode }) => (
  <Flex align="baseline" gap="2" py="0.5" wrap="wrap">
    <Text as="span" color="quiet" minW="74px">
      {label}
    </Text>
    <Flex flex="1" wrap="wrap" align="baseline" columnGap="1" minW="0">
      {children}
    </Flex>
  </Flex>
);

interface NameFormProps {
  /** What is named, and what happens then. */
  children: ReactNode;
  label: string;
  action: string;
  give: (name: string) => Promise<void>;
}

/** A name, and one thing to do with it. */
export function NameForm({ children, label, action, give }: NameFormProps) {
  const [name, setName] = useState("");
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void give(name).then(() => setName((now) => (now === name ? "" : now)));
      }}
    >
      <Text color="quiet" mt="4" mb="1">
        {children}
      </Text>
      <Flex gap="2">
        <Input size="xs" bg="raised" aria-label={label} placeholder="Name" maxLength={80} value={name} onChange={(event) => setName(event.target.value)} />
        <Press type="submit" disabled={!name.trim()}>
          {action}
        </Press>
      </Flex>
    </form>
  );
}

interface TickProps {
  ticked: boolean;
  disabled?: boolean;
  /** What is done elsewhere gives a promise: of false, or none that is kept, where it was refused. */
  set: (ticked: boolean) => unknown;
  children: ReactNode;
}

/** Milliseconds after the answer within which what follows from it is here as well. */
const FOLLOWS_WITHIN = 2000;

/** A tick shows at once what somebody wants, and is taken back if that is refused. */
export function Tick({ ticked, disabled, set, children }: TickProps) {
  const [wanted, setWanted] = useState<boolean | null>(null);
  if (wanted === ticked) setWanted(null);
  const timer = useRef(0);
  useEffect(() => () => window.clearTimeout(timer.current), []);
  const change = (on: boolean) => {
    const answer = set(on);
    if (!(answer instanceof Promise)) return;
    window.clearTimeout(timer.current);
    setWanted(on);
    const refused = () => setWanted(null);
    answer.then((done) => {
      if (done === false) refused();
      else timer.current = window.setTimeout(refused, FOLLOWS_WITHIN);
    }, refused);
  };
  return (
    <chakra.label display="inline-flex" alignItems="center" gap="1.5" minH="26px" px="1.5" cursor="pointer">
      <input
        type="checkbox"
        checked={wanted ?? ticked}
        disabled={disabled}
        onChange={(event) => change(event.target.checked)}
        style={{ accentColor: "var(--chakra-colors-iris)" }}
      />
      {children}
    </chakra.label>
  );
}
