/** Which page is shown: sign-in until somebody has signed in, then the address decides. */
import { Center, Spinner, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { Route, Switch } from "wouter";
import { api } from "./api/client";
import { People } from "./people/People";
import { SignIn } from "./session/SignIn";
import { Shelf } from "./shelf/Shelf";

const workspace = () => import("./workspace/Workspace");
const Workspace = lazy(workspace);

const waiting = (
  <Center h="100%" gap="3" role="status">
    <Spinner size="sm" color="iris" />
    <Text color="quiet">Opening …</Text>
  </Center>
);

export function Application() {
  const session = useQuery({ queryKey: ["session"], queryFn: api.session });
  useEffect(() => {
    // Comes while people look for their report; if it does not, opening one says so.
    workspace().catch(() => undefined);
  }, []);
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
    <Suspense fallback={waiting}>
      <Switch>
        <Route path="/reports/:key">{({ key }) => <Workspace key={key} report={key} person={person} />}</Route>
        <Route path="/people">{person.may_add_people ? <People person={person} /> : <Shelf person={person} />}</Route>
        <Route>
          <Shelf person={person} />
        </Route>
      </Switch>
    </Suspense>
  );
}
