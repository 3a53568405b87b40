/** All pages to scale in a thin strip: the main sections as bands, parts as bands beside them, the page in sight as a window. */
import { Box } from "@chakra-ui/react";
import { memo, useMemo } from "react";
import type { ReportShown } from "../../api/client";
import { partsOf } from "../controls/partsOf";
import type { Whereabouts } from "../text-leaf/whereabouts";
import type { View } from "../view";

interface Props {
  report: ReportShown;
  view: View;
  here: Whereabouts;
  goTo: (id: string) => void;
  setUpPage: (part?: string) => void;
}

export const PageStrip = memo(function PageStrip({ report, view, here, goTo, setUpPage }: Props) {
  const count = Math.max(view.labels.length, 1);
  const bands = useMemo(() => {
    const main = view.headings.filter((heading) => heading.level === 1);
    return main.map((heading, index) => ({
      heading,
      from: heading.page - 1,
      to: Math.max(main[index + 1]?.page ?? count + 1, heading.page + 1) - 1,
    }));
  }, [view.headings, count]);
  const parts = useMemo(() => partsOf(report, view), [report, view]);
  const share = (pages: number) => `${(100 * pages) / count}%`;
  const { page } = here;
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
      {parts.length > 1 &&
        parts.map(({ id, first, last, name, numbers }, index) => (
          <Box
            key={id}
            position="absolute"
            left="-6px"
            w="4px"
            cursor="pointer"
            bg={index % 2 ? "ribQuiet" : "rib"}
            _hover={{ bg: "behindOnSpine" }}
            title={`${name}, ${numbers}`}
            style={{ top: share(first - 1), height: `calc(${share(last - first + 1)} - 1px)` }}
            onClick={() => setUpPage(id)}
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
