/** A bare button. */
import { chakra } from "@chakra-ui/react";

export const Press = chakra("button");
