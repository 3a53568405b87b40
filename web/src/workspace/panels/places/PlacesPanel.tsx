/** The frame of the panels about places. */
import { Box } from "@chakra-ui/react";
import type { ReactNode } from "react";

export const PlacesPanel = ({ children }: { children: ReactNode }) => (
  <Box px="4" py="3" fontSize="13px">
    {children}
  </Box>
);
