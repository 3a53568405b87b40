/** The frame of the pages outside the workspace: name on the left, person on the right. */
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "wouter";
import { api, type Person } from "../api/client";
import { Mark } from "./Mark";

export function Page({ person, children }: { person: Person; children: ReactNode }) {
  const queries = useQueryClient();
  const leave = async () => {
    await api.signOut().catch(() => undefined);
    queries.clear();
    window.location.assign("/");
  };
  return (
    <Box minH="100%" bg="tableLeaf">
      <Flex as="header" align="center" gap="3" px={{ base: "4", md: "8" }} py="3" bg="spine" color="rib" flexWrap="wrap">
        <Link href="/" aria-label="Mellow Spine: to the shelf">
          <Flex align="center" gap="3">
            <Mark />
            <Text fontFamily="heading" fontSize="20px">
              Mellow Spine
            </Text>
          </Flex>
        </Link>
        <Box flex="1" />
        {person.may_add_people && (
          <Link href="/people">
            <Text textDecoration="underline" textUnderlineOffset="3px">
              People
            </Text>
          </Link>
        )}
        <Text>{person.name}</Text>
        <Button size="sm" variant="outline" color="rib" borderColor="ribQuiet" _hover={{ bg: "whiteAlpha.200" }} onClick={() => void leave()}>
          Sign out
        </Button>
      </Flex>
      <Box as="main" maxW="1120px" mx="auto" px={{ base: "4", md: "8" }} py="8">
        {children}
      </Box>
    </Box>
  );
}

export function PageTitle({ children }: { children: ReactNode }) {
  return (
    <Heading as="h1" fontFamily="heading" fontWeight="600" fontSize="32px" lineHeight="1.15">
      {children}
    </Heading>
  );
}
