/** Bringing in a file: choose it, or drop it anywhere on the shelf; watch it being read, see what came of it. */
import { Box, Button, Center, Flex, Heading, Progress, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "wouter";
import { api, type Summary } from "../api/client";
import { useJob } from "../api/useJob";
import { FileInput } from "../theme/FileInput";
import { NotedList } from "../theme/NotedList";
import { counted } from "../words";

/** A file that is being brought in, or was last. */
export function useBringIn() {
  const [name, setName] = useState("");
  const [summary, setSummary] = useState<Summary | null>(null);
  const queries = useQueryClient();
  const reading = useJob((job) => {
    setSummary(job.summary ?? null);
    void queries.invalidateQueries({ queryKey: ["shelf"] });
  });
  const take = (file: File | undefined) => {
    if (!file || reading.running) return;
    setSummary(null);
    setName(file.name);
    void reading.begin(() => api.bringIn(file));
  };
  return { reading, name, summary, take };
}

type BringingIn = ReturnType<typeof useBringIn>;

/** The button, and the whole window as the place to drop a file on. */
export function BringIn({ bringing: { reading, take } }: { bringing: BringingIn }) {
  const input = useRef<HTMLInputElement>(null);
  const over = useDroppedFile(take);
  return (
    <>
      <Button variant="outline" bg="raised" borderColor="quiet" disabled={reading.running} onClick={() => input.current?.click()}>
        Bring in a file
      </Button>
      <FileInput ref={input} label="File to bring in" accept=".docx,.md,.markdown,.html,.htm,.txt" take={take} />
      {over && (
        <Center position="fixed" inset="3" zIndex="overlay" bg="irisWash" borderWidth="3px" borderStyle="dashed" borderColor="iris" rounded="lg" pointerEvents="none">
          <Text fontFamily="heading" fontSize="26px" color="iris">
            Let go, and it is brought in
          </Text>
        </Center>
      )}
    </>
  );
}

/** Takes a file that is dropped anywhere in the window; whether one is being dragged over it. */
function useDroppedFile(take: (file: File | undefined) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  useEffect(() => {
    const holdsFile = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;
    const drag = (event: DragEvent) => {
      if (!holdsFile(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => {
      if (event.relatedTarget === null) setOver(false);
    };
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!holdsFile(event)) return;
      event.preventDefault();
      latest.current(event.dataTransfer?.files[0]);
    };
    window.addEventListener("dragover", drag);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", drag);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return over;
}

/** How far the reading is, and what came of it: at the head of the shelf, where one looks. */
export function BroughtIn({ bringing: { reading, name, summary } }: { bringing: BringingIn }) {
  return (
    <>
      {reading.running && reading.job && (
        <Flex mt="5" gap="4" align="center" role="status">
          <Text flexShrink="0">Reading {name} …</Text>
          <Progress.Root flex="1" value={reading.job.done} max={reading.job.total} size="sm" aria-label={`Reading ${name}`}>
            <Progress.Track bg="edge">
              <Progress.Range bg="iris" />
            </Progress.Track>
          </Progress.Root>
          <Button size="sm" variant="outline" borderColor="quiet" onClick={reading.cancel}>
            Cancel
          </Button>
        </Flex>
      )}
      {reading.job?.state === "cancelled" && (
        <Text mt="4" role="status">
          Stopped. Nothing of {name} was kept.
        </Text>
      )}
      {reading.trouble && (
        <Text mt="4" role="alert" color="gone">
          <b>{name}</b>: {reading.trouble}
        </Text>
      )}
      {summary && <WhatCame summary={summary} />}
    </>
  );
}

function WhatCame({ summary }: { summary: Summary }) {
  const parts: [number, string][] = [
    [summary.paragraphs, "paragraph"],
    [summary.headings, "heading"],
    [summary.pictures, "picture"],
    [summary.data_tables, "data table"],
  ];
  return (
    <Box mt="5" p="5" bg="raised" rounded="md" borderWidth="1px" borderColor="edge" role="status">
      <Heading as="h3" fontFamily="heading" fontSize="20px">
        “{summary.title}” is on your shelf
      </Heading>
      <Text mt="1">
        {parts
          .filter(([count]) => count > 0)
          .map(([count, name]) => counted(count, name))
          .join(" · ")}
      </Text>
      {summary.headings === 0 && (
        <Text mt="1">No paragraph in it is marked as a heading yet. Mark them with the tags in the margin of the text.</Text>
      )}
      {summary.notes.length > 0 ? (
        <Box mt="3">
          <Text>Not everything came along as it is in the file.</Text>
          <NotedList notes={summary.notes} />
        </Box>
      ) : (
        <Text mt="2" color="level">
          All of it came along.
        </Text>
      )}
      <Button asChild mt="4" bg="iris" color="leaf">
        <Link href={`/reports/${summary.report}`}>Open it</Link>
      </Button>
    </Box>
  );
}
