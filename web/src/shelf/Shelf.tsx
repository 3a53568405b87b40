/** The shelf: a person's reports as book spines lying on their side, each saying how far its tables are behind. */
import { Box, Button, Flex, Input, SimpleGrid, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation } from "wouter";
import { focusWhenItAppears } from "../theme/focus";
import { api, type Card, type News, type Person } from "../api/client";
import { Disc } from "../theme/Disc";
import { Page, PageTitle } from "../theme/Page";
import { counted, howFarBehind, NOTHING_TO_LIST, when } from "../words";
import { BringIn, BroughtIn, useBringIn } from "./BringIn";

const ROLES = { owner: "yours", editor: "you write in it", reader: "you read it" };

export function Shelf({ person }: { person: Person }) {
  const bringing = useBringIn();
  const shelf = useQuery({ queryKey: ["shelf"], queryFn: api.shelf, refetchInterval: 15_000 });
  return (
    <Page person={person}>
      <Flex justify="space-between" align="end" gap="4" wrap="wrap">
        <Box>
          <PageTitle>Your shelf</PageTitle>
          <Text color="quiet" mt="1">
            Office Open XML (.docx), Markdown, HTML and plain text can be dropped anywhere here.
          </Text>
        </Box>
        <Flex gap="3" wrap="wrap">
          <BringIn bringing={bringing} />
          <NewReport />
        </Flex>
      </Flex>
      <BroughtIn bringing={bringing} />
      {shelf.isError && (
        <Text role="alert" mt="6" color="gone">
          {shelf.error.message}
        </Text>
      )}
      {shelf.data && (
        <SimpleGrid as="ul" listStyleType="none" columns={{ base: 1, lg: 2 }} gap="5" mt="7">
          {shelf.data.map((card) => (
            <Book key={card.key} card={card} />
          ))}
        </SimpleGrid>
      )}
      {shelf.data?.length === 0 && (
        <Text mt="2" mb="6" fontSize="18px" color="quiet">
          Nothing stands here yet. Start a report, or bring in a file that you have.
        </Text>
      )}
    </Page>
  );
}

function Book({ card }: { card: Card }) {
  return (
    <Box as="li" minW="0">
      <Link href={`/reports/${card.key}`}>
        <Flex
          bg="raised"
          borderWidth="1px"
          borderColor="edge"
          rounded="md"
          overflow="hidden"
          h="100%"
          transition="border-color 150ms, transform 150ms"
          _hover={{ borderColor: "iris", transform: "translateX(3px)" }}
        >
          <Box w="14px" flexShrink="0" bg="spine" position="relative">
            <Box
              position="absolute"
              insetY="3"
              left="6px"
              borderLeftWidth="2px"
              borderStyle="dashed"
              borderColor={card.behind.length === 0 ? "ribQuiet" : card.behind.some(Boolean) ? "behindOnSpine" : "levelOnSpine"}
            />
          </Box>
          <Stack gap="1" px="5" py="4" flex="1" minW="0">
            <Text fontFamily="heading" fontSize="22px" fontWeight="600" lineHeight="1.2" lineClamp="2">
              {card.title}
            </Text>
            <Text color="quiet">
              {counted(card.pages, "page")} · {counted(card.headings, "heading")} · {ROLES[card.role]}
            </Text>
            <Flex columnGap="3" wrap="wrap">
              <Behind counts={card.behind} empty={card.empty} />
              {card.findings > 0 && <Text color="quiet">{counted(card.findings, "finding")} in the check-up</Text>}
            </Flex>
            {card.news && <Text fontSize="14px">{newsInWords(card.news)}</Text>}
            <Flex align="center" gap="2" mt="2" color="quiet" fontSize="14px">
              <Flex aria-label={`With ${card.people.map((one) => one.name).join(", ")}`} role="img">
                {card.people.slice(0, 6).map((one) => (
                  <Box key={one.id} mr="1px">
                    <Disc name={one.name} colour={one.colour} size={24} />
                  </Box>
                ))}
              </Flex>
              <Text>Changed {when(card.changed_at)}</Text>
            </Flex>
          </Stack>
        </Flex>
      </Link>
    </Box>
  );
}

const DONE = [
  ["added", "added"],
  ["removed", "removed"],
  ["moved", "moved"],
  ["renamed", "renamed"],
  ["level", "put at another level"],
] as const;

/** "2 sections added, 1 removed since 3 November, by Maren Lisk". */
function newsInWords({ since, sections, people }: News): string {
  const said = DONE.flatMap(([kind, words]) => (sections[kind] ? [[sections[kind], words] as const] : []));
  const what = said.map(([count, words], index) => (index === 0 ? `${counted(count, "section")} ${words}` : `${count} ${words}`)).join(", ");
  const by = new Intl.ListFormat("en-GB").format(people);
  return `${what || "Written in"} since ${when(since)}, by ${by}`;
}

function Behind({ counts, empty }: { counts: number[]; empty: number }) {
  if (counts.length === 0) return <Text color="quiet">{empty ? NOTHING_TO_LIST : "No table in it yet"}</Text>;
  const worst = Math.max(...counts);
  return (
    <Text color={worst ? "behindInk" : "level"} fontWeight="600">
      {worst ? "◇ " : "◆ "}
      {howFarBehind(counts.reduce((sum, count) => sum + count, 0))}
    </Text>
  );
}

function NewReport() {
  const [open, setOpen] = useState(false);
  const [title, setTitle] = useState("");
  const [, go] = useLocation();
  const queries = useQueryClient();
  const start = useMutation({
    mutationFn: () => api.startReport(title),
    onSuccess: async ({ key }) => {
      await queries.invalidateQueries({ queryKey: ["shelf"] });
      go(`/reports/${key}`);
    },
  });
  if (!open) {
    return (
      <Button bg="iris" color="leaf" onClick={() => setOpen(true)}>
        Start a report
      </Button>
    );
  }
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        start.mutate();
      }}
    >
      <Flex gap="2">
        <Input
          aria-label="Name of the report"
          placeholder="Name of the report"
          bg="raised"
          borderColor="quiet"
          maxLength={300}
          ref={focusWhenItAppears}
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setOpen(false)}
        />
        <Button type="submit" bg="iris" color="leaf" disabled={!title.trim()} loading={start.isPending}>
          Start
        </Button>
      </Flex>
      {start.isError && (
        <Text role="alert" color="gone">
          {start.error.message}
        </Text>
      )}
    </form>
  );
}
