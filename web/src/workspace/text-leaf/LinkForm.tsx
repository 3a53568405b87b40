/** Gives the selected words a link, changes it, or takes it away. */
import { Flex, Input } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useState } from "react";
import { Press } from "./controls";

/** The address as a web or mail address, whatever was left out of it. */
const whole = (address: string) =>
  /^[a-z]+:/i.test(address) ? address : address.includes("@") ? `mailto:${address}` : `https://${address}`;

export function LinkForm({ editor, done }: { editor: Editor; done: () => void }) {
  const [address, setAddress] = useState((editor.getAttributes("link").href as string | undefined) ?? "");
  const set = () => {
    const given = address.trim();
    const chain = editor.chain().focus().extendMarkRange("link");
    if (given) chain.setLink({ href: whole(given) }).run();
    else chain.unsetLink().run();
    done();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        set();
      }}
    >
      <Flex gap="1" mt="1">
        <Input
          size="xs"
          aria-label="Web or mail address; empty takes the link away"
          placeholder="Web or mail address; empty takes the link away"
          ref={(element) => element?.focus()}
          value={address}
          onChange={(event) => setAddress(event.target.value)}
        />
        <Press type="submit" px="3" rounded="sm" bg="iris" color="leaf" fontSize="13px">
          Set
        </Press>
      </Flex>
    </form>
  );
}
