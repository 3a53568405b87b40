/** The settings of the part of a table that is at hand, in words that are pressed to change them. */
import { RANGES } from "../../api/settings";
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import type { ReportShown } from "../../api/client";
import { counted } from "../../words";
import { Choice, Figure, Word } from "../controls/LookWords";
import { FORMS, points, type Form } from "../controls/look";
import { Press, Row } from "../controls/parts";
import { useTyped } from "../controls/useTyped";
import { offered } from "../text-leaf/styles";
import type { Tables } from "../tables/useTables";
import type { Heading, LevelLook, Recipe, Table } from "../view";
import { tableWords } from "../printed/kinds";
import { OwnLine } from "./Own";
import type { Path, Setting } from "../tables/recipe";
import { PartNames, type Part } from "./Shape";

interface Props {
  table: Table;
  tables: Tables;
  report: ReportShown;
  headings: readonly Heading[];
  part: Part;
  choose: (part: Part) => void;
  close: () => void;
}

export function Settings({ part, choose, close, ...props }: Props) {
  const { table } = props;
  return (
    <Box className="table-foot" as="section" aria-label="How the table looks">
      <Flex justify="space-between" align="baseline" mb="1">
        <Text fontSize="13px" color="quiet" role="status">
          Takes {counted(table.pages, "page")}, from page {table.page}
        </Text>
        <Press type="button" onClick={close}>
          Done
        </Press>
      </Flex>
      <PartNames table={table} part={part} choose={choose} />
      <Box fontSize="14px">
        {part.part === "table" && <OfTable {...props} />}
        {part.part === "title" && <OfTitle {...props} />}
        {part.part === "leader" && <OfLeader {...props} />}
        {part.part === "pages" && <OfPages {...props} />}
        {part.part === "numbers" && <OfNumbers {...props} />}
        {part.part === "level" && (
          <>
            {part.source !== undefined && <OwnLine table={table} tables={props.tables} source={part.source} done={() => choose({ part: "level", level: part.level })} />}
            <OfLevel {...props} level={part.level} />
          </>
        )}
      </Box>
    </Box>
  );
}

type Given = Omit<Props, "part" | "choose" | "close">;

type Choices<T extends string> = readonly (readonly [value: T, name: string])[];

/** One setting that is one of a few. */
function OneOf<T extends string>({ tables, table, setting, name, choices }: Given & { setting: keyof Recipe; name: string; choices: Choices<T> }) {
  return <Choice name={name} value={String(table.recipe[setting])} choices={choices} set={(value) => void tables.change([[[setting], value]])} />;
}

/** One setting that is or is not. */
function Either({ tables, table, setting, ...form }: Given & { setting: keyof Recipe; name: string; on: string; off: string }) {
  return <Word form={{ kind: "switch", ...form }} value={table.recipe[setting]} set={(value) => void tables.change([[[setting], value]])} />;
}

const LEVELS = [1, 2, 3, 4, 5, 6, 7, 8, 9];

function OfTable(given: Given) {
  const { table, tables } = given;
  const { recipe } = table;
  const toggle = (level: number) => {
    const levels = recipe.levels.includes(level) ? recipe.levels.filter((one) => one !== level) : [...recipe.levels, level].sort();
    if (levels.length) void tables.change([[["levels"], levels]]);
  };
  const { lists, levels: named } = tableWords(recipe.kind);
  const captions = (
    <Row label="Captions">
      <Choice
        name="Captions that are listed"
        value={recipe.label}
        choices={given.report.labels.map(({ id, name }) => [id, name] as const)}
        set={(label) => void tables.change([[["label"], label]])}
      />
      <Either {...given} setting="first_sentence" name="How much of a caption" on="up to the first full stop" off="all of their words" />
    </Row>
  );
  const levels = (
    <Row label="Levels">
      <Flex gap="1" wrap="wrap" role="group" aria-label="Levels that are listed">
        {(named ? LEVELS.slice(0, named.length) : LEVELS).map((level) => (
          <Press
            key={level}
            type="button"
            px={named ? "1.5" : "0"}
            w={named ? undefined : "26px"}
            justifyContent="center"
            aria-label={named ? undefined : `Level ${level}`}
            aria-pressed={recipe.levels.includes(level)}
            disabled={recipe.levels.length === 1 && recipe.levels[0] === level}
            _pressed={{ bg: "irisWash", borderColor: "iris", fontWeight: "600", color: "ink" }}
            onClick={() => toggle(level)}
          >
            {named?.[level - 1] ?? level}
          </Press>
        ))}
      </Flex>
    </Row>
  );
  const inOrder = lists === "authorities" || lists === "terms";
  return (
    <>
      {lists === "captions" ? captions : levels}
      <Row label="Lists">
        <Section {...given} />
      </Row>
      {inOrder ? <InOrder {...given} categories={lists === "authorities"} /> : lists !== "captions" && <Feeds {...given} />}
      <Row label="Set in">
        <Choice
          name="Columns"
          value={String(recipe.columns)}
          choices={[["1", "one column"], ["2", "two columns"]]}
          set={(value) => void tables.change([[["columns"], Number(value)]])}
        />
        <OneOf {...given} setting="ruled" name="Rules" choices={[["none", "no rules"], ["lines", "a rule beneath each line"], ["sections", "a rule beneath main sections"]]} />
      </Row>
      <Row label="Lines">
        <Either {...given} setting="links" name="Links" on="are links" off="are no links" />
        {recipe.links && <Either {...given} setting="look_like_links" name="Look of links" on="look like links" off="look like text" />}
        <Either {...given} setting="formatting" name="Italics of headings" on="italics of headings kept" off="italics of headings left" />
      </Row>
      <Row label="Ways back">
        <Choice
          name="Ways back to the contents"
          value={String(given.report.page.back_level ?? "")}
          choices={[["", "none in the text"], ...LEVELS.map((level): [string, string] => [String(level), `end sections of level ${level}`])]}
          set={(level) => void tables.endInWaysBack(level === "" ? null : Number(level))}
        />
      </Row>
    </>
  );
}

const LANGUAGES: Choices<string> = [
  ["en-GB", "as in English"],
  ["cs", "as in Czech"],
  ["da", "as in Danish"],
  ["nl", "as in Dutch"],
  ["fi", "as in Finnish"],
  ["fr", "as in French"],
  ["de", "as in German"],
  ["hu", "as in Hungarian"],
  ["it", "as in Italian"],
  ["nb", "as in Norwegian"],
  ["pl", "as in Polish"],
  ["pt", "as in Portuguese"],
  ["es", "as in Spanish"],
  ["sv", "as in Swedish"],
];

/** Settings of tables whose lines stand in the order of an alphabet, each with all its pages. */
function InOrder({ categories, ...given }: Given & { categories: boolean }) {
  const { table, tables, report } = given;
  const { recipe } = table;
  const toggle = (id: string) => {
    const chosen = recipe.categories.length > 0 ? recipe.categories : report.categories.map(({ id }) => id);
    const now = chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id];
    if (now.length > 0) void tables.change([[["categories"], report.categories.every(({ id }) => now.includes(id)) ? [] : now]]);
  };
  const number = (setting: "passim" | "ranges", name: string, before: string, behind: string, never: string) => (
    <>
      <Choice
        name={name}
        value={recipe[setting] === 0 ? "never" : "from"}
        choices={[["from", before], ["never", never]]}
        set={(value) => void tables.change([[[setting], value === "never" ? 0 : setting === "passim" ? 5 : 3]])}
      />
      {recipe[setting] > 0 && (
        <Figure name={`${name} from`} value={recipe[setting]} least={2} most={RANGES.recipe[setting].most} step={1} before="" behind={behind} set={(value) => void tables.change([[[setting], value]])} />
      )}
    </>
  );
  return (
    <>
      {categories && (
        <Row label="Categories">
          <Flex gap="1" wrap="wrap" role="group" aria-label="Categories that are listed">
            {report.categories.map(({ id, name }) => (
              <Press
                key={id}
                type="button"
                px="1.5"
                aria-pressed={recipe.categories.length === 0 || recipe.categories.includes(id)}
                _pressed={{ bg: "irisWash", borderColor: "iris", color: "ink" }}
                onClick={() => toggle(id)}
              >
                {name}
              </Press>
            ))}
          </Flex>
        </Row>
      )}
      <Row label="Order">
        <OneOf {...given} setting="language" name="Language of the order" choices={LANGUAGES} />
        <Either {...given} setting="by_letter" name="How words are put in order" on="letter by letter" off="word by word" />
      </Row>
      {!categories && (
        <Row label="Beneath">
          <Choice
            name="Terms beneath others"
            value={recipe.run_in && recipe.page_numbers !== "edge" ? "run in" : "rows"}
            choices={[["rows", "on rows of their own"], ["run in", "run in behind these"]]}
            set={(value) => void tables.change(value === "rows" ? [[["run_in"], false]] : [[["run_in"], true], ...(recipe.page_numbers === "edge" ? [[["page_numbers"], "words"] as Setting] : [])])}
          />
        </Row>
      )}
      <Row label="Pages">
        {number("ranges", "Ranges of pages", "a range from", "pages in a row", "ranges only where one place goes over them")}
        {number("passim", "Passim", "“passim” from", "pages", "never “passim”")}
      </Row>
    </>
  );
}

/** What stands in the list of sections: deeper ones are too many. */
const DEEPEST = 2;

function Section({ table, tables, headings }: Given) {
  const { section } = table.recipe;
  const choices: [string, string][] = [
    ["", "the whole report"],
    ["here", "the section it stands in"],
    ...headings
      .filter((heading) => heading.id === section || (heading.level <= DEEPEST && heading.by_hand !== "put in"))
      .map((heading): [string, string] => [heading.id, `${heading.number} ${heading.text}`.trim().slice(0, 80)]),
  ];
  const gone = !choices.some(([id]) => id === section);
  return (
    <Choice
      name="What it lists"
      value={section}
      choices={gone ? [...choices, [section, "a section that is gone"]] : choices}
      set={(value) => void tables.change([[["section"], value]])}
    />
  );
}

const AT: Choices<string> = [...LEVELS.map((level): [string, string] => [String(level), `at level ${level}`]), ["0", "not at all"]];

/** Styles whose paragraphs are listed otherwise than by their outline level. */
function Feeds({ table, tables, report: { styles } }: Given) {
  const { feeds } = table.recipe;
  const change = (id: string, level: number | null) => {
    const others = Object.entries(feeds).filter(([one]) => one !== id);
    void tables.change([[["feeds"], Object.fromEntries(level === null ? others : [...others, [id, level]])]]);
  };
  const listed = Object.entries(feeds);
  return (
    <Row label="Styles">
      {listed.map(([id, level]) => {
        const name = styles.find((style) => style.id === id)?.name ?? "A deleted style";
        return (
          <Flex key={id} align="baseline" w="100%">
            <Text truncate flex="1">
              {name}
            </Text>
            <Choice name={`${name} is listed`} value={String(level)} choices={AT} set={(value) => change(id, Number(value))} />
            <Press type="button" aria-label={`${name} as its style has it`} title="As its style has it" px="1.5" onClick={() => change(id, null)}>
              ×
            </Press>
          </Flex>
        );
      })}
      <Choice
        name="List a style otherwise"
        value=""
        choices={[["", "list a style otherwise …"], ...offered(styles).filter(([id]) => !(id in feeds))]}
        set={(id) => id && change(id, styles.find((style) => style.id === id)?.outline_level ? 0 : (table.recipe.levels.at(-1) ?? 1))}
      />
    </Row>
  );
}

function OfTitle(given: Given) {
  const { table, tables } = given;
  const { styles } = given.report;
  return (
    <>
      <Row label="Title">
        <TitleField title={table.recipe.title} give={(title) => tables.change([[["title"], title]])} />
      </Row>
      <Row label="Set as">
        <Choice
          name="Style of the title"
          value={table.recipe.title_style}
          choices={[["", "Table title"], ...offered(styles, table.recipe.title_style).filter(([id]) => styles.find((style) => style.id === id)?.role !== "table-title")]}
          set={(value) => void tables.change([[["title_style"], value]])}
        />
        <Either {...given} setting="continued" name="On further pages" on="again on each further page" off="on the first page only" />
      </Row>
    </>
  );
}

function TitleField({ title, give }: { title: string; give: (title: string) => Promise<void> }) {
  const field = useTyped(title, (typed) => give(typed.trim()));
  return <Input size="xs" bg="raised" aria-label="Title of the table" placeholder="No title" maxLength={200} {...field} />;
}

const LEADERS: Choices<string> = [
  ["", "nothing"],
  [".", "dots"],
  ["-", "dashes"],
  ["_", "a line"],
];

function OfLeader({ table, tables }: Given) {
  const { leader, leader_step } = table.recipe;
  const own = !LEADERS.some(([one]) => one === leader);
  const [typing, setTyping] = useState(false);
  return (
    <Row label="Leader">
      <Choice
        name="Leader"
        value={own || typing ? "own" : leader}
        choices={[...LEADERS, ["own", "a character of your own"]]}
        set={(value) => {
          setTyping(value === "own");
          if (value !== "own") void tables.change([[["leader"], value]]);
        }}
      />
      {(own || typing) && (
        <Input
          size="xs"
          w="44px"
          bg="raised"
          aria-label="Character of the leader"
          defaultValue={own ? leader : ""}
          onChange={(event) => {
            const [character] = event.target.value.trim();
            if (character) void tables.change([[["leader"], character]]);
          }}
        />
      )}
      {leader && leader !== "_" && (
        <Word
          form={points("Distance from one to the next", "every", "pt", RANGES.recipe.leader_step, 0.5)}
          value={leader_step}
          set={(value) => void tables.change([[["leader_step"], value]])}
          live={(value) => tables.attempt([[["leader_step"], value]])}
        />
      )}
    </Row>
  );
}

const OfPages = (given: Given) => (
  <Row label="Pages">
    <OneOf {...given} setting="page_numbers" name="Page numbers" choices={[["edge", "at the right edge"], ["words", "behind the words"], ["none", "no page numbers"]]} />
    {given.table.recipe.page_numbers === "words" && (
      <Choice
        name="Between words and page number"
        value={given.table.recipe.separator}
        choices={[["\u2002", "after a space"], [", ", "after a comma"], [" – ", "after a dash"], [" / ", "after a stroke"]]}
        set={(separator) => void given.tables.change([[["separator"], separator]])}
      />
    )}
  </Row>
);

const OfNumbers = (given: Given) => (
  <Row label="Numbers">
    <OneOf
      {...given}
      setting="numbers"
      name="Heading numbers"
      choices={[["run in", "run in, before the words"], ["hung", "hung in a column of their level"], ["margin", "all at the left edge"], ["none", "no heading numbers"]]}
    />
  </Row>
);

/** The properties of a level's look, in the order in which they are said. */
const LOOK: readonly (readonly [keyof LevelLook, Form])[] = [
  ["font", FORMS.font],
  ["size", FORMS.size],
  ["bold", FORMS.bold],
  ["italic", FORMS.italic],
  ["page_number", { kind: "switch", name: "Page numbers of the level", on: "with page numbers", off: "without page numbers" }],
  ["capitals", { kind: "switch", name: "Capitals", on: "capitals", off: "as written" }],
  ["colour", FORMS.colour],
  ["indent", FORMS.indent],
  ["hang", points("Indent of further rows", "further rows", "pt more", RANGES.level_look.hang)],
  ["space_before", FORMS.space_before],
  ["space_after", FORMS.space_after],
  ["line_spacing", FORMS.line_spacing],
];

function OfLevel({ table, tables, level }: Given & { level: number }) {
  const look = table.recipe.looks[level - 1];
  if (!look) return null;
  const setting = (name: keyof LevelLook, value: unknown): Setting => [["looks", String(level), name] satisfies Path, value];
  return (
    <Flex wrap="wrap" align="baseline" role="group" aria-label={`Look of level ${level}`}>
      {LOOK.map(([name, form]) => (
        <Word
          key={name}
          form={form}
          value={look[name]}
          set={(value) => void tables.change([setting(name, value)])}
          live={(value) => tables.attempt([setting(name, value)])}
        />
      ))}
    </Flex>
  );
}
