/** What has just happened, said at the foot of the workspace for a few seconds. */
import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useState } from "react";

const SHOWN_FOR = 5000;

/** The notice, and the means to give another. */
export function useNotice(): [notice: string, say: (notice: string) => void] {
  const [notice, say] = useState("");
  useEffect(() => {
    if (!notice) return;
    const timer = window.setTimeout(() => say(""), SHOWN_FOR);
    return () => window.clearTimeout(timer);
  }, [notice]);
  return [notice, say];
}

export const Notice = ({ notice }: { notice: string }) => (
  <Flex position="absolute" bottom="16" insetX="0" justify="center" pointerEvents="none" role="status" aria-live="polite">
    {notice && (
      <Box bg="spine" color="rib" px="4" py="2" rounded="md" shadow="lg" fontSize="14px" maxW="60ch">
        {notice}
      </Box>
    )}
  </Flex>
);
