/** Signing in: by name and password, or in the demonstration by pressing one of its people. */
import { Box, Button, Field, Flex, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Session } from "../api/client";
import { Mark } from "../theme/Mark";

export function SignIn({ people }: { people: Session["demonstration"] }) {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const queries = useQueryClient();
  const enter = useMutation({
    mutationFn: (given: { name: string; password: string }) => api.signIn(given.name, given.password),
    onSuccess: (session) => queries.setQueryData(["session"], session),
  });

  return (
    <Flex minH="100%" direction={{ base: "column", md: "row" }}>
      <Flex
        bg="spine"
        color="rib"
        w={{ base: "100%", md: "42%" }}
        px={{ base: "6", md: "12" }}
        py={{ base: "8", md: "12" }}
        direction="column"
        justify="center"
        borderRightWidth={{ md: "3px" }}
        borderRightStyle="dashed"
        borderColor="behindOnSpine"
      >
        <Box ml="-10px">
          <Mark size={56} />
        </Box>
        <Heading as="h1" fontFamily="heading" fontSize={{ base: "36px", md: "48px" }} fontWeight="600" lineHeight="1.1" mt="6">
          Mellow Spine
        </Heading>
        <Text mt="4" fontSize="18px" maxW="30ch" color="ribQuiet">
          Long reports, written together, with contents that stay true.
        </Text>
      </Flex>
      <Flex as="main" flex="1" align="center" px={{ base: "6", md: "14" }} py="8">
        <Stack gap="9" w="100%" maxW="430px">
          {people.length > 0 && (
            <Stack gap="3" as="section" aria-labelledby="press">
              <Heading as="h2" id="press" fontFamily="heading" fontSize="22px">
                Come in as
              </Heading>
              {people.map(({ name: key, full_name, does }) => (
                <Button
                  key={key}
                  h="auto"
                  py="3"
                  px="4"
                  variant="outline"
                  bg="raised"
                  borderColor="edge"
                  justifyContent="space-between"
                  _hover={{ borderColor: "iris", bg: "irisWash" }}
                  loading={enter.isPending && enter.variables?.name === key}
                  onClick={() => enter.mutate({ name: key, password: "" })}
                >
                  <Text as="span" fontWeight="600">
                    {full_name}
                  </Text>
                  <Text as="span" color="quiet" fontWeight="400">
                    {does}
                  </Text>
                </Button>
              ))}
            </Stack>
          )}
          <form
            onSubmit={(event) => {
              event.preventDefault();
              enter.mutate({ name, password });
            }}
          >
            <Stack gap="4">
              <Heading as="h2" fontFamily="heading" fontSize="22px">
                {people.length > 0 ? "Or sign in with a name of your own" : "Sign in"}
              </Heading>
              <Field.Root>
                <Field.Label>Name</Field.Label>
                <Input bg="raised" borderColor="quiet" autoComplete="username" value={name} onChange={(e) => setName(e.target.value)} />
              </Field.Root>
              <Field.Root>
                <Field.Label>Password</Field.Label>
                <Input
                  bg="raised"
                  borderColor="quiet"
                  type="password"
                  autoComplete="current-password"
                  value={password}
                  onChange={(e) => setPassword(e.target.value)}
                />
              </Field.Root>
              {enter.isError && (
                <Text role="alert" color="gone">
                  {enter.error.message}
                </Text>
              )}
              <Box>
                <Button type="submit" bg="iris" color="leaf" disabled={!name || !password}>
                  Sign in
                </Button>
              </Box>
            </Stack>
          </form>
        </Stack>
      </Flex>
    </Flex>
  );
}
