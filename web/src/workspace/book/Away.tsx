/** A report that is not there yet, or not any more. */
import { Center, Spinner, Stack, Text } from "@chakra-ui/react";
import { Link } from "wouter";
import { Again, Kept } from "./Condition";

export const Opening = () => (
  <Center h="100%" gap="3" role="status">
    <Spinner size="sm" color="iris" />
    <Text color="quiet">Opening the report …</Text>
  </Center>
);

export const Away = ({ message, kept = "" }: { message: string; kept?: string }) => (
  <Center h="100%">
    <Stack gap="4" align="center" maxW="40ch" textAlign="center">
      <Text role="alert" fontSize="18px">
        {message}
      </Text>
      {kept && (
        <>
          <Text>What you wrote last is not saved; copy it here if you need it.</Text>
          <Kept words={kept} />
        </>
      )}
      <Again words="Load the page again" />
      <Link href="/" style={{ textDecoration: "underline" }}>
        To your shelf
      </Link>
    </Stack>
  </Center>
);
