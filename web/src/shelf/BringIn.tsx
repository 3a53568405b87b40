/** Bringing in a file: choose or drop it, watch it being read, see what came of it. */
import { Box, Button, Flex, Heading, Progress, Stack, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "wouter";
import { api, type Summary } from "../api/client";
import { useJob } from "../api/useJob";
import { counted } from "../words";

export function BringIn() {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
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

  return (
    <Box
      as="section"
      aria-labelledby="bring-in"
      mt="8"
      p="6"
      rounded="md"
      borderWidth="2px"
      borderStyle="dashed"
      borderColor={over ? "iris" : "edge"}
      bg={over ? "irisWash" : "leaf"}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        take(event.dataTransfer.files[0]);
      }}
    >
      <Flex gap="6" align="center" justify="space-between" wrap="wrap">
        <Box>
          <Heading as="h2" id="bring-in" fontFamily="heading" fontSize="20px">
            Bring in a file
          </Heading>
          <Text color="quiet">Office Open XML (.docx), Markdown or plain text. Drop it here, or choose it.</Text>
        </Box>
        <Button variant="outline" bg="raised" borderColor="quiet" disabled={reading.running} onClick={() => input.current?.click()}>
          Choose a file
        </Button>
        <input
          ref={input}
          type="file"
          aria-label="File to bring in"
          accept=".docx,.md,.markdown,.txt"
          style={{ display: "none" }}
          onChange={(event) => {
            take(event.target.files?.[0]);
            event.target.value = "";
          }}
        />
      </Flex>
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
    </Box>
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
        <Stack as="section" mt="3" gap="1">
          <Text fontWeight="600">Not everything was understood:</Text>
          <Box as="ul" pl="5" listStyleType="square">
            {summary.notes.map((note) => (
              <li key={note.what}>
                {note.what}
                {note.count > 1 && <Text as="span" color="quiet">{` (${note.count} times)`}</Text>}
              </li>
            ))}
          </Box>
        </Stack>
      ) : (
        <Text mt="2" color="level">
          All of it was understood.
        </Text>
      )}
      <Button asChild mt="4" bg="iris" color="leaf">
        <Link href={`/reports/${summary.report}`}>Open it</Link>
      </Button>
    </Box>
  );
}
