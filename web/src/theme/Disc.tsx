import { Box } from "@chakra-ui/react";
import { initials } from "../words";

interface Props {
  name: string;
  colour: string;
  /** In pixels. */
  size: number;
}

/** A person: a disc in their colour, with their initials. */
export const Disc = ({ name, colour, size }: Props) => (
  <Box
    title={name}
    w={`${size}px`}
    h={`${size}px`}
    rounded="full"
    color="white"
    fontSize={`${Math.round(size * 0.43)}px`}
    fontWeight="700"
    lineHeight={`${size}px`}
    textAlign="center"
    style={{ background: colour }}
  >
    {initials(name.replace(/ \(you\)$/, ""))}
  </Box>
);
