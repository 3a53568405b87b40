/** The page to scale: its margins, which are dragged, and what stands at its head and foot, which is pressed. */
import { Box, VisuallyHidden } from "@chakra-ui/react";
import { useRef, useState, type CSSProperties, type PointerEvent } from "react";
import type { PageShown } from "../../../api/client";
import { RANGES } from "../../../api/settings";
import { EDGES, PLACES, sample, slotName, slotWords, type Samples, type Slot, type Which } from "./running";
import { mm, pointsOf } from "./settings";

const SIDES = ["top", "bottom", "left", "right"] as const;
type Side = (typeof SIDES)[number];

/** Pixels in which a page is drawn at most. */
const WIDEST = 212;
const HIGHEST = 290;
/** Points that margins leave for the text at least, as the core says (`LEAST_AREA`). */
const LEAST = 72;

interface Props {
  page: PageShown;
  which: Which;
  samples: Samples;
  slot: Slot | null;
  choose: (slot: Slot | null) => void;
  mayWrite: boolean;
  change: (values: Partial<PageShown>) => void;
}

export function DrawnSheet({ page, which, samples, slot, choose, mayWrite, change }: Props) {
  /** A margin that is being dragged, in points. */
  const [dragged, setDragged] = useState<{ side: Side; points: number } | null>(null);
  const sheet = useRef<HTMLDivElement>(null);
  const scale = Math.min(WIDEST / page.width, HIGHEST / page.height);
  const turned = page.mirrored && which === "left_";
  const marginOf = (side: Side): number => {
    const kept = turned && side === "left" ? "right" : turned && side === "right" ? "left" : side;
    return dragged?.side === kept ? dragged.points : page[kept];
  };
  const inset = Object.fromEntries(SIDES.map((side) => [side, marginOf(side) * scale])) as Record<Side, number>;

  const drag = (side: Side) => (event: PointerEvent<HTMLElement>) => {
    if (!mayWrite || event.button !== 0) return;
    event.preventDefault();
    const kept = turned && side === "left" ? "right" : turned && side === "right" ? "left" : side;
    const area = sheet.current?.getBoundingClientRect();
    if (!area) return;
    const { least, most } = RANGES.page[kept];
    const across = side === "left" || side === "right";
    const opposite = { top: "bottom", bottom: "top", left: "right", right: "left" } as const;
    const room = (across ? page.width : page.height) - page[opposite[kept]] - LEAST;
    const pointsAt = (x: number, y: number) => {
      const pixels = { top: y - area.top, bottom: area.bottom - y, left: x - area.left, right: area.right - x }[side];
      // In whole millimetres, as the figures beneath.
      return pointsOf(Math.round(mm(Math.min(Math.max(pixels / scale, least), most, room))));
    };
    const element = event.currentTarget;
    element.setPointerCapture(event.pointerId);
    let points = page[kept];
    const move = (moved: globalThis.PointerEvent) => {
      points = pointsAt(moved.clientX, moved.clientY);
      setDragged({ side: kept, points });
    };
    const done = (ended: globalThis.PointerEvent) => {
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerup", done);
      element.removeEventListener("pointercancel", done);
      setDragged(null);
      if (ended.type === "pointerup" && points !== page[kept]) change({ [kept]: points });
    };
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerup", done);
    element.addEventListener("pointercancel", done);
  };

  const line = (side: Side): CSSProperties => {
    const across = side === "left" || side === "right";
    return {
      [side]: inset[side] - 7,
      ...(across ? { top: inset.top, bottom: inset.bottom, width: 14 } : { left: inset.left, right: inset.right, height: 14 }),
      cursor: mayWrite ? (across ? "ew-resize" : "ns-resize") : "default",
    };
  };
  const columns = page.columns > 1 ? `repeating-linear-gradient(90deg, transparent 0 calc((100% - ${(page.columns - 1) * page.column_gap * scale}px) / ${page.columns}), var(--chakra-colors-leaf) 0 calc((100% + ${page.column_gap * scale}px) / ${page.columns})), ` : "";

  return (
    <Box ref={sheet} position="relative" isolation="isolate" bg="leaf" borderWidth="1px" borderColor="quiet" my="3" mx="auto" style={{ width: page.width * scale, height: page.height * scale }} role="group" aria-label="The page to scale">
      <Box position="absolute" style={{ ...inset, backgroundImage: `${columns}repeating-linear-gradient(var(--chakra-colors-edge) 0 1px, transparent 1px 7px)` }} />
      {EDGES.map((edge) => {
        const rule = edge === "head" ? page.head_rule : page.foot_rule;
        return rule && <Box key={edge} position="absolute" h="1px" bg="quiet" style={{ left: inset.left, right: inset.right, [edge === "head" ? "top" : "bottom"]: Math.max(inset[edge === "head" ? "top" : "bottom"] - 4, 0) }} />;
      })}
      {SIDES.map((side) => (
        // The figures beneath do the same, and take the keyboard.
        <Box key={side} aria-hidden position="absolute" zIndex="1" data-margin={side} touchAction="none" style={line(side)} onPointerDown={drag(side)}>
          <Box
            position="absolute"
            bg={dragged?.side === side ? "iris" : "edge"}
            style={side === "left" || side === "right" ? { left: 6, width: 1, top: 0, bottom: 0 } : { top: 6, height: 1, left: 0, right: 0 }}
          />
        </Box>
      ))}
      {dragged && (
        <Box position="absolute" inset="0" m="auto" w="fit-content" h="fit-content" px="2" rounded="sm" bg="raised" borderWidth="1px" borderColor="iris" fontSize="12px">
          {mm(dragged.points)} mm
        </Box>
      )}
      {EDGES.flatMap((edge) =>
        PLACES.map((place) => {
          const said = page[slotName(which, { edge, place })];
          const chosen = slot?.edge === edge && slot.place === place;
          return (
            <Box
              as="button"
              key={edge + place}
              position="absolute"
              zIndex="2"
              h="24px"
              px="1"
              fontSize="10px"
              lineHeight="22px"
              cursor={mayWrite ? "pointer" : "default"}
              truncate
              color={said ? "ink" : "transparent"}
              bg={chosen ? "irisWash" : "transparent"}
              borderWidth="1px"
              borderStyle={said || chosen ? "solid" : "dashed"}
              borderColor={chosen ? "iris" : "edge"}
              _hover={{ borderColor: "iris", color: said ? "ink" : "quiet" }}
              _focusVisible={{ color: said ? "ink" : "quiet" }}
              aria-pressed={chosen}
              style={{
                [edge === "head" ? "top" : "bottom"]: 2,
                left: `calc(${PLACES.indexOf(place)} * 100% / 3 + 2px)`,
                width: "calc(100% / 3 - 4px)",
                textAlign: place === "middle" ? "center" : place,
              }}
              onClick={() => {
                if (mayWrite) choose(chosen ? null : { edge, place });
              }}
            >
              <VisuallyHidden>{`${slotWords({ edge, place })}: `}</VisuallyHidden>
              {sample(said, samples) || <span aria-hidden>+</span>}
              {!said && <VisuallyHidden>nothing</VisuallyHidden>}
            </Box>
          );
        }),
      )}
    </Box>
  );
}
