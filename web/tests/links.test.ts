/** What is a link is the same for the editor as for the core, which is held to the same file. */
import { expect, test } from "vitest";
import { isSafeLink } from "../src/workspace/text-leaf/links";
import cases from "./links.json";

test.each([...cases, ["https://x.org/" + "x".repeat(1986), true], ["https://x.org/" + "x".repeat(1987), false]] as [string, boolean][])(
  "%j is a link: %s",
  (address, isSafe) => expect(isSafeLink(address)).toBe(isSafe),
);
