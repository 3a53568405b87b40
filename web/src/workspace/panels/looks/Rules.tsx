/** Rules of the authors' own: which paragraphs, told by how they look, get which style. */
import { RANGES } from "../../../api/settings";
import { Box, Flex, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import type { Editor } from "@tiptap/core";
import { useEffect, useState } from "react";
import { api, type LookRule, type ReportShown } from "../../../api/client";
import { Choice, Figure } from "../../controls/Figure";
import { standIn } from "../../controls/fonts";
import { FORMS } from "../../controls/look";
import { bodyStyle, forHeading, offered } from "../../text-leaf/styles";
import { lookOf } from "../../text-leaf/useLook";
import { Press } from "../../controls/parts";

type Wants = Record<string, unknown>;

const ANY = "";

interface Asked {
  name: string;
  choices: readonly (readonly [value: string, said: string])[];
}

const yesOrNo = (name: string, any: string, yes: string, no: string): Asked => ({
  name,
  choices: [[ANY, any], ["true", yes], ["false", no]],
});

const chosenFrom = (property: "font" | "colour" | "align", any: string): Asked => {
  const form = FORMS[property];
  return { name: form.name, choices: [[ANY, any], ...(form.kind === "choice" ? form.choices : [])] };
};

/** What a rule can ask for, beside size and style: as the core has it (`structure/rules.py`). */
const ASKED: Readonly<Record<string, Asked>> = {
  bold: yesOrNo("Weight", "of any weight", "bold", "not bold"),
  italic: yesOrNo("Slant", "any slant", "italic", "upright"),
  underline: yesOrNo("Underline", "underlined or not", "underlined", "not underlined"),
  capitals: yesOrNo("Capitals", "any letters", "capitals", "not in capitals"),
  font: chosenFrom("font", "any typeface"),
  colour: chosenFrom("colour", "any colour"),
  align: chosenFrom("align", "anywhere"),
  number: {
    name: "Typed number",
    choices: [[ANY, "with or without a number"], ["true", "a typed number"], ["1", "a number such as 2"], ["2", "a number such as 2.1"],
              ["3", "a number such as 2.1.1"], ["false", "no typed number"]],
  },
  tab: yesOrNo("Tab in front", "with or without a tab", "a tab in front", "no tab in front"),
  short: yesOrNo("Length", "of any length", "short", "long"),
  full_stop: yesOrNo("End", "any end", "ends in a full stop", "no full stop at the end"),
};

const read = (value: string): unknown => (value === "true" ? true : value === "false" ? false : /^\d$/.test(value) ? Number(value) : value);

export interface Rules {
  rules: readonly LookRule[];
  save: (rules: readonly LookRule[]) => Promise<boolean>;
}

/** `renewed` counts how often rows of the report have changed. */
export function useRules(key: string, renewed: number, notify: (notice: string) => void): Rules {
  const queries = useQueryClient();
  const queryKey = ["look-rules", key];
  const { data } = useQuery({ queryKey, queryFn: () => api.lookRules(key), refetchOnWindowFocus: false });
  useEffect(() => {
    if (renewed > 0) void queries.invalidateQueries({ queryKey: ["look-rules", key] });
  }, [renewed, queries, key]);
  return {
    rules: data?.rules ?? [],
    save: async (rules) => {
      try {
        await api.saveLookRules(key, rules);
        return true;
      } catch (error) {
        notify((error as Error).message);
        return false;
      } finally {
        await queries.invalidateQueries({ queryKey });
      }
    },
  };
}

interface FormProps {
  report: ReportShown;
  editor: Editor | null;
  rules: Rules;
}

/** A rule is put together in words, or taken from the paragraph with the cursor. */
export function RuleForm({ report, editor, rules }: FormProps) {
  const [open, setOpen] = useState(false);
  const [wants, setWants] = useState<Wants>({});
  const { styles } = report;
  const [style, setStyle] = useState<string>(forHeading(styles, 1));
  /** The families that styles ask for and that do not ship. */
  const others = [...new Set(styles.map(({ font }) => font))].filter((font) => standIn(font) !== font).map((font) => [font, font] as const);
  const ask = (name: string, value: unknown) =>
    setWants((before) => Object.fromEntries(Object.entries({ ...before, [name]: value }).filter(([, one]) => one !== ANY && one !== undefined)));

  if (!open) {
    return (
      <Press type="button" mt="2" onClick={() => setOpen(true)}>
        A rule of your own …
      </Press>
    );
  }
  const fromCursor = () => {
    const body = bodyStyle(styles);
    const look = editor && lookOf(editor, styles)?.look;
    if (!look || !body) return;
    const differing = (["bold", "italic", "underline", "size", "font", "colour", "align"] as const).filter(
      (name) => look[name] !== undefined && look[name] !== body[name],
    );
    setWants(Object.fromEntries(differing.map((name) => [name, look[name]])));
  };
  const save = async () => {
    if (await rules.save([...rules.rules, { name: "", style: style === ANY ? null : style, wants }])) {
      setWants({});
      setOpen(false);
    }
  };
  return (
    <Box as="section" aria-label="A rule of your own" className="by-hand rule" mt="3">
      <Text fontWeight="600">Paragraphs that are</Text>
      <Flex wrap="wrap" columnGap="1px">
        {Object.entries(ASKED).map(([name, { name: said, choices }]) => (
          <Choice key={name} name={said} value={wants[name] === undefined ? ANY : String(wants[name])} choices={name === "font" ? [...choices, ...others] : choices} set={(value) => ask(name, value === ANY ? ANY : read(value))} />
        ))}
        <Figure name="Size" value={wants.size as number | undefined} {...RANGES.style.size} step={0.5} before="size" after="pt" set={(value) => ask("size", value)} clear={() => ask("size", ANY)} />
        <Choice name="Style now" value={(wants.style as string | undefined) ?? ANY} choices={[[ANY, "of any style"], ...offered(styles)]} set={(value) => ask("style", value)} />
      </Flex>
      <Flex align="baseline" gap="1" mt="1">
        become
        <Choice name="What they become" value={style} choices={[...offered(styles, style), [ANY, "nothing else: they stay"]]} set={setStyle} />
      </Flex>
      <Flex gap="2" mt="2" wrap="wrap">
        <Press type="button" disabled={Object.keys(wants).length === 0} onClick={() => void save()}>
          Keep the rule
        </Press>
        <Press type="button" disabled={!editor} onClick={fromCursor}>
          As at the cursor
        </Press>
        <Press type="button" onClick={() => setOpen(false)}>
          Leave it
        </Press>
      </Flex>
    </Box>
  );
}
