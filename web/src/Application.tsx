/** Which page is shown: sign-in until somebody has signed in, then the address decides. */
import { Button, Center, Spinner, Stack, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense } from "react";
import { ErrorBoundary } from "react-error-boundary";
import { Route, Switch, useLocation } from "wouter";
import { api } from "./api/client";
import { People } from "./people/People";
import { SignIn } from "./session/SignIn";
import { Shelf } from "./shelf/Shelf";

const Workspace = lazy(() => import("./workspace/book/Workspace"));

const waiting = (
  <Center h="100%" gap="3" role="status">
    <Spinner size="sm" color="iris" />
    <Text color="quiet">Opening …</Text>
  </Center>
);

const notShown = (
  <Center h="100%">
    <Stack gap="4" align="center" maxW="44ch" textAlign="center" textWrap="balance">
      <Text role="alert" fontSize="18px">
        This page could not be shown. Check the connection, then load it again; what was saved is safe.
      </Text>
      <Button bg="iris" color="leaf" onClick={() => location.reload()}>
        Load it again
      </Button>
    </Stack>
  </Center>
);

export function Application() {
  const [address] = useLocation();
  const session = useQuery({ queryKey: ["session"], queryFn: api.session });
  if (session.isPending) return waiting;
  if (session.isError) {
    return (
      <Center h="100%">
        <Text role="alert">{session.error.message}</Text>
      </Center>
    );
  }
  const person = session.data.person;
  if (!person) return <SignIn people={session.data.demonstration} />;
  return (
    <ErrorBoundary fallback={notShown} onError={(error) => reportError(error)} resetKeys={[address]}>
      <Suspense fallback={waiting}>
        <Switch>
          <Route<{ key: string; panel?: string; of?: string }> path="/reports/:key/:panel?/:of?">{({ key }) => <Workspace key={key} report={key} person={person} />}</Route>
          <Route path="/people">{person.may_add_people ? <People person={person} /> : <Shelf person={person} />}</Route>
          <Route>
            <Shelf person={person} />
          </Route>
        </Switch>
      </Suspense>
    </ErrorBoundary>
  );
}
