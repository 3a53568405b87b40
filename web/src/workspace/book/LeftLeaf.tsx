/** The table leaf: its chooser of three words, what belongs to the chosen one beneath it, and the panel that is shown. */
import { Box, chakra, Flex } from "@chakra-ui/react";
import { Activity, memo, useEffect, useLayoutEffect, useRef, useState } from "react";
import { Link } from "wouter";
import { inGroup, PANELS, panelOf } from "../panels";
import { GROUPS, type Group, type PanelProps } from "../panels/panel";
import { addressOf } from "./usePanel";

const Word = chakra(Link, {
  base: {
    display: "inline-flex",
    alignItems: "center",
    minH: "28px",
    px: "1.5",
    color: "quiet",
    borderBottomWidth: "2px",
    borderStyle: "dashed",
    borderColor: "transparent",
    _hover: { color: "ink" },
    _currentPage: { color: "ink", fontWeight: "600", borderColor: "iris" },
  },
});

interface Props extends Omit<PanelProps, "of"> {
  panel: string | null;
  of: string | null;
}

export const LeftLeaf = memo(function LeftLeaf({ panel: key, ...given }: Props) {
  const panel = panelOf(key);
  const { scroller } = given;
  const report = given.report.key;
  /** The panels that were opened, each with what of it was shown last. */
  const [opened, setOpened] = useState<ReadonlyMap<string, string | null>>(new Map());
  if (!opened.has(panel.key) || opened.get(panel.key) !== given.of) setOpened(new Map([...opened, [panel.key, given.of]]));
  const address = (key: string) => addressOf(report, key, opened.get(key) ?? undefined);
  /** What each group showed last. */
  const [last, setLast] = useState<Partial<Record<Group, string>>>({});
  if (last[panel.group] !== panel.key) setLast({ ...last, [panel.group]: panel.key });
  usePlaceInEach(panel.key, scroller);
  const beside = inGroup(panel.group);
  return (
    <>
      <Box position="sticky" top="0" zIndex="1" bg="tableLeaf" px="3" pt="1" pb="1" borderBottomWidth="1px" borderColor="edge">
        <Flex as="nav" aria-label="What the table leaf shows" columnGap="3" fontFamily="heading" fontSize="17px">
          {GROUPS.map((group) => (
            <Word key={group} href={address(last[group] ?? inGroup(group)[0]?.key ?? "")} aria-current={panel.group === group ? "page" : undefined}>
              {group}
            </Word>
          ))}
        </Flex>
        {beside.length > 1 && (
          <Flex as="nav" aria-label={panel.group} wrap="wrap" columnGap="1.5" fontSize="14px">
            {beside.map(({ key, name }) => (
              <Word key={key} href={address(key)} aria-current={key === panel.key ? "page" : undefined} px="1">
                {name}
              </Word>
            ))}
          </Flex>
        )}
      </Box>
      {/* A panel that was left stays as it was, and follows nothing until somebody comes back to it. */}
      {PANELS.filter(({ key }) => opened.has(key)).map(({ key, Show }) => (
        <Activity key={key} mode={key === panel.key ? "visible" : "hidden"}>
          <Show {...given} of={opened.get(key) ?? null} />
        </Activity>
      ))}
    </>
  );
});

/** Keeps how far each panel was scrolled. */
function usePlaceInEach(panel: string, scroller: HTMLElement | null): void {
  const places = useRef(new Map<string, number>());
  useEffect(() => {
    const scrolled = () => places.current.set(panel, scroller?.scrollTop ?? 0);
    scroller?.addEventListener("scroll", scrolled, { passive: true });
    return () => scroller?.removeEventListener("scroll", scrolled);
  }, [panel, scroller]);
  useLayoutEffect(() => {
    scroller?.scrollTo({ top: places.current.get(panel) ?? 0 });
  }, [panel, scroller]);
}
