/** A button without a frame, such as a word among others. */
import { chakra } from "@chakra-ui/react";

export const BareButton = chakra("button");
