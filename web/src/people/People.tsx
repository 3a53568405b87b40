/** The accounts of this application, and making further ones. */
import { Box, Button, Field, Flex, Heading, Input, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Person } from "../api/client";
import { Page, PageTitle } from "../theme/Page";

export function People({ person }: { person: Person }) {
  const queries = useQueryClient();
  const people = useQuery({ queryKey: ["people"], queryFn: api.people });
  const [given, setGiven] = useState({ name: "", full: "", password: "" });
  const add = useMutation({
    mutationFn: () => api.addPerson(given.name, given.full, given.password),
    onSuccess: () => {
      setGiven({ name: "", full: "", password: "" });
      return queries.invalidateQueries({ queryKey: ["people"] });
    },
  });
  const field = (key: keyof typeof given, label: string, type: string, complete: string) => (
    <Field.Root>
      <Field.Label>{label}</Field.Label>
      <Input
        bg="raised"
        borderColor="quiet"
        type={type}
        autoComplete={complete}
        value={given[key]}
        onChange={(event) => setGiven({ ...given, [key]: event.target.value })}
      />
    </Field.Root>
  );

  return (
    <Page person={person}>
      <PageTitle>People</PageTitle>
      <Flex gap="10" mt="6" direction={{ base: "column", md: "row" }}>
        <Stack as="ul" listStyleType="none" flex="1" gap="0" bg="raised" borderWidth="1px" borderColor="edge" rounded="md" alignSelf="start">
          {people.data?.map((one) => (
            <Flex as="li" key={one.id} px="4" py="3" gap="3" align="center" borderTopWidth="1px" borderColor="edge" _first={{ borderTopWidth: 0 }}>
              <Box w="3" h="3" rounded="full" style={{ background: one.colour }} />
              <Text>{one.name}</Text>
              {one.may_add_people && <Text color="quiet">makes accounts</Text>}
            </Flex>
          ))}
        </Stack>
        <form
          style={{ flex: 1 }}
          onSubmit={(event) => {
            event.preventDefault();
            add.mutate();
          }}
        >
          <Stack gap="4" maxW="400px">
            <Heading as="h2" fontFamily="heading" fontSize="22px">
              A new account
            </Heading>
            {field("name", "Name to sign in with", "text", "off")}
            {field("full", "Name that others see", "text", "off")}
            {field("password", "First password", "password", "new-password")}
            {add.isError && (
              <Text role="alert" color="gone">
                {add.error.message}
              </Text>
            )}
            {add.isSuccess && (
              <Text role="status" color="level">
                {add.data.name} can sign in now.
              </Text>
            )}
            <Box>
              <Button type="submit" bg="iris" color="leaf" disabled={!given.name || !given.password} loading={add.isPending}>
                Make the account
              </Button>
            </Box>
          </Stack>
        </form>
      </Flex>
    </Page>
  );
}
