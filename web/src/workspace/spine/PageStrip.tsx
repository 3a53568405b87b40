/** All pages to scale in a thin strip: the main sections as bands, the page in sight as a window. */
import { Box } from "@chakra-ui/react";
import { memo, useMemo } from "react";
import type { Whereabouts } from "../text-leaf/whereabouts";
import type { View } from "../view";

interface Props {
  view: View;
  here: Whereabouts;
  goTo: (id: string) => void;
}

export const PageStrip = memo(function PageStrip({ view, here, goTo }: Props) {
  const count = Math.max(view.labels.length, 1);
  const bands = useMemo(() => {
    const main = view.headings.filter((heading) => heading.level === 1);
    return main.map((heading, index) => ({
      heading,
      from: heading.page - 1,
      to: Math.max(main[index + 1]?.page ?? count + 1, heading.page + 1) - 1,
    }));
  }, [view.headings, count]);
  const share = (pages: number) => `${(100 * pages) / count}%`;
  const page = Math.max(view.labels.indexOf(here.page) + 1, 1);
  return (
    // The ribs say the same in words and take the keyboard; this is for the eye and the mouse.
    <Box aria-hidden w="14px" flex="1" my="3" position="relative" bg="whiteAlpha.100" rounded="sm">
      {bands.map(({ heading, from, to }, index) => (
        <Box
          key={heading.id}
          position="absolute"
          insetX="0"
          cursor="pointer"
          bg={index % 2 ? "whiteAlpha.400" : "whiteAlpha.200"}
          _hover={{ bg: "behindOnSpine" }}
          title={`${heading.text}, page ${heading.label}`}
          style={{ top: share(from), height: share(Math.max(to - from, 0)) }}
          onClick={() => goTo(heading.id)}
        />
      ))}
      <Box
        position="absolute"
        insetX="-2px"
        borderWidth="2px"
        borderColor="rib"
        rounded="sm"
        pointerEvents="none"
        transition="top 150ms"
        style={{ top: share(page - 1), height: `max(8px, ${share(1)})` }}
      />
    </Box>
  );
});
