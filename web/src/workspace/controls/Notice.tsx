/** What has just happened, said at the foot of the workspace for a few seconds. */
import { Box, Flex } from "@chakra-ui/react";
import { useCallback, useEffect, useState } from "react";
import { BareButton } from "./BareButton";

/** What can be done about it, in a word or two. */
interface Action {
  name: string;
  run: () => void;
}

export type Notify = (notice: string, action?: Action) => void;

interface Given {
  text: string;
  action?: Action;
}

const NOTHING: Given = { text: "" };
const SHOWN_FOR = 5000;
const WITH_ACTION = 12000;

/** The notice, and the means to give another. */
export function useNotice(): [notice: Given, notify: Notify] {
  const [notice, setNotice] = useState(NOTHING);
  const notify = useCallback<Notify>((text, action) => setNotice({ text, action }), []);
  useEffect(() => {
    if (!notice.text) return;
    const timer = window.setTimeout(() => setNotice(NOTHING), notice.action ? WITH_ACTION : SHOWN_FOR);
    return () => window.clearTimeout(timer);
  }, [notice]);
  return [notice, notify];
}

export const Notice = ({ notice: { text, action }, notify }: { notice: Given; notify: Notify }) => (
  <Flex position="absolute" bottom="20" insetX="0" justify="center" pointerEvents="none" role="status" aria-live="polite">
    {text && (
      <Box bg="spine" color="rib" px="4" py="2" rounded="md" shadow="lg" fontSize="14px" maxW="60ch">
        {text}
        {action && (
          <BareButton
            type="button"
            pointerEvents="auto"
            ms="3"
            px="2"
            minH="24px"
            rounded="sm"
            borderWidth="1px"
            borderColor="rib"
            fontWeight="600"
            _focusVisible={{ outlineColor: "rib" }}
            onClick={() => {
              notify("");
              action.run();
            }}
          >
            {action.name}
          </BareButton>
        )}
      </Box>
    )}
  </Flex>
);
