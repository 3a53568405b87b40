/** The authorities of a report by category: how they are called, where they are cited, and what looks cited and is not marked. */
import { Box, Flex, Input, Text } from "@chakra-ui/react";
import type { Editor } from "@tiptap/core";
import { useMemo, useState } from "react";
import { LongList } from "../../../theme/LongList";
import { api, type Authority, type AuthorityValues, type ReportShown } from "../../../api/client";
import { authorityOf, type Category } from "../../view/authorities";
import { Choice } from "../../controls/Figure";
import type { Notify } from "../../controls/Notice";
import type { Room } from "../../room/room";
import { notifyError, withUndo } from "../../controls/withUndo";
import { NameForm, PanelTitle, Press, Tick } from "../../controls/parts";
import { useTyped } from "../../controls/useTyped";
import { CitationForm } from "../../text-leaf/CitationForm";
import { citeInstead } from "../../text-leaf/citing";
import { useRoom } from "../../room/useRoom";
import type { Panel, PanelProps } from "../panel";
import { PlacesPanel } from "./PlacesPanel";
import { Unmarked } from "./Unmarked";
import { useMarksShown } from "./useMarksShown";
import type { Cited, View } from "../../view";

interface Props {
  report: ReportShown;
  room: Room;
  view: View;
  /** For whoever may write. */
  writer: Editor | null;
  goTo: (id: string) => void;
  notify: Notify;
  scroller: HTMLElement | null;
}

/** Categories that every report begins with. */
const USUAL: ReadonlySet<string> = new Set(["cases", "statutes", "regulations", "standards", "other"]);

/** Page numbers of an authority that are shown at once. */
const FEW = 12;

const keyOf = (row: Authority | Category | undefined) => (row ? ("name" in row ? `category ${row.id}` : row.id) : "");

function Authorities(props: Props) {
  const { report, view, writer, notify, scroller } = props;
  const [words, setWords] = useState("");
  const [open, setOpen] = useState<string | null>(null);
  const [shown, show] = useMarksShown();
  const places = useMemo(() => Map.groupBy(view.cited, ({ of }) => of), [view.cited]);
  const known = new Set(report.authorities.map(({ id }) => id));
  const all = [...report.authorities, ...[...places.keys()].filter((id) => !known.has(id)).map((id) => authorityOf(report, id, view.cited))];
  const wanted = words.trim().toLowerCase();
  const listed = all.filter(({ long, short }) => `${long} ${short}`.toLowerCase().includes(wanted));
  const categoryOf = ({ category }: Authority) => (report.categories.some(({ id }) => id === category) ? category : "other");
  const rows = report.categories.flatMap((category) => {
    const here = listed.filter((one) => categoryOf(one) === category.id);
    return here.length > 0 ? [category, ...here] : [];
  });
  return (
    <Box>
      <PanelTitle>Authorities</PanelTitle>
      <Text color="quiet" mb="2">
        What the report cites. {writer && "Select a citation in the text and press “citation …” beneath it, or Alt+S and m."}
      </Text>
      <Tick ticked={shown} set={show}>
        Marks are shown in the text
      </Tick>
      {all.length > 0 && (
        <Input size="xs" bg="raised" type="search" aria-label="Search authorities" placeholder="Search authorities" my="2" value={words} onChange={(event) => setWords(event.target.value)} />
      )}
      <LongList
        count={rows.length}
        scroller={scroller}
        estimate={64}
        label="Authorities by category"
        keyOf={(index) => keyOf(rows[index])}
        row={(index) => {
          const one = rows[index];
          if (!one) return null;
          if ("name" in one) {
            return (
              <Text as="h3" fontWeight="600" pt="2">
                {one.name}
              </Text>
            );
          }
          return <One {...props} authority={one} all={all} cited={places.get(one.id) ?? []} open={open === one.id} setOpen={(now) => setOpen(now ? one.id : null)} />;
        }}
      />
      {listed.length === 0 && <Text color="quiet">{wanted ? "No authority is called so." : "Nothing is marked yet."}</Text>}
      {writer && <Unmarked {...props} writer={writer} />}
      {writer && report.categories.some(({ id }) => !USUAL.has(id)) && (
        <Box as="ul" listStyleType="none" aria-label="Categories of your own" mt="4">
          {report.categories
            .filter(({ id }) => !USUAL.has(id))
            .map(({ id, name }) => (
              <Flex as="li" key={id} gap="2" align="baseline" py="0.5">
                <Box flex="1" minW="0" overflowWrap="anywhere">
                  {name}
                </Box>
                <Press type="button" aria-label={`Take out the category “${name}”`} onClick={() => void takeOut(report, id, name, notify)}>
                  Take out
                </Press>
              </Flex>
            ))}
        </Box>
      )}
      {writer && (
        <NameForm
          label="Name of the new category"
          action="Make"
          give={async (name) => {
            await api.makeCategory(report.key, name).catch(notifyError(notify));
          }}
        >
          Categories of your own stand in the table of authorities as these do.
        </NameForm>
      )}
    </Box>
  );
}

/** Takes a category out, or puts it back with what was in it. */
function takeOut(report: ReportShown, category: string, name: string, notify: Notify): Promise<boolean> {
  const inIt = report.authorities.filter((one) => one.category === category);
  const back = async () => {
    const { id } = await api.makeCategory(report.key, name);
    for (const one of inIt) await api.changeAuthority(report.key, one.id, { category: id, was: { category: "other" } });
  };
  const went = inIt.length > 0 ? ` What was in it is among other authorities.` : "";
  return withUndo(notify, `The category “${name}” is out.${went}`, () => api.forgetCategory(report.key, category), back);
}

interface OneProps extends Props {
  authority: Authority;
  all: readonly Authority[];
  cited: readonly Cited[];
  open: boolean;
  setOpen: (open: boolean) => void;
}

function One({ authority, cited, view, goTo, writer, open, setOpen, ...rest }: OneProps) {
  const [all, setAll] = useState(false);
  return (
    <Box py="1" borderTopWidth="1px" borderColor="edge">
      <Flex gap="2" align="baseline">
        <Box flex="1" minW="0" overflowWrap="anywhere">
          {authority.long}
          {authority.short && (
            <Box as="span" color="quiet">
              {" "}
              ({authority.short})
            </Box>
          )}
        </Box>
        {writer && (
          <Press type="button" aria-expanded={open} aria-label={`Change: ${authority.long}`} onClick={() => setOpen(!open)}>
            {open ? "Done" : "Change"}
          </Press>
        )}
      </Flex>
      <Flex gap="1" wrap="wrap" align="baseline" color="quiet">
        {cited.length === 0 ? "not cited" : cited.length === 1 ? "on page" : "on pages"}
        {cited.slice(0, all ? undefined : FEW).map(({ id, page }, index) => (
          <Press key={index} type="button" px="1.5" minH="24px" minW="26px" justifyContent="center" fontSize="12px" aria-label={`${authority.long}, page ${view.labels[page - 1] ?? ""}`} onClick={() => goTo(id)}>
            {view.labels[page - 1] ?? ""}
          </Press>
        ))}
        {cited.length > FEW && !all && (
          <Press type="button" px="1.5" minH="24px" minW="26px" justifyContent="center" fontSize="12px" onClick={() => setAll(true)}>
            {cited.length - FEW} more
          </Press>
        )}
      </Flex>
      {open && writer && <Changing {...rest} authority={authority} cited={cited} writer={writer} goTo={goTo} close={() => setOpen(false)} />}
    </Box>
  );
}

interface ChangingProps extends Omit<OneProps, "open" | "setOpen" | "view" | "writer"> {
  writer: Editor;
  close: () => void;
}

function Changing({ report, room, authority, all, cited, writer, goTo, notify, close }: ChangingProps) {
  const [finding, setFinding] = useState(false);
  const before = { long: authority.long, short: authority.short, category: authority.category };
  // One that no row knows yet is made by what it is called; of others only what changes is said, for the sake of who changes the rest.
  const known = report.authorities.some(({ id }) => id === authority.id);
  const change = (values: AuthorityValues) => {
    const old = Object.fromEntries(Object.keys(values).map((name) => [name, before[name as keyof typeof before]]));
    return withUndo(
      notify,
      `“${authority.long}” is changed.`,
      () => api.changeAuthority(report.key, authority.id, known ? values : { ...before, ...values }),
      () => api.changeAuthority(report.key, authority.id, { ...old, was: values }),
    );
  };
  const forget = () =>
    withUndo(
      notify,
      `“${authority.long}” is forgotten.`,
      () => api.forgetAuthority(report.key, authority.id),
      () => api.changeAuthority(report.key, authority.id, before),
    );
  const long = useTyped(authority.long, (long) => change({ long }));
  const short = useTyped(authority.short, (short) => change({ short }));
  const join = (other: string) => {
    const into = all.find(({ id }) => id === other);
    if (!into) return;
    citeInstead(writer, authority.id, other);
    notify(`What cited “${authority.long}” cites “${into.long}” now. Undo (Ctrl+Z) takes that back.`);
    close();
  };
  const takeOff = () => {
    citeInstead(writer, authority.id, null);
    notify(`“${authority.long}” is cited nowhere now; its words stay. Undo (Ctrl+Z) takes that back.`);
  };
  return (
    <Box mt="1" p="2" bg="leaf" borderWidth="1px" borderColor="edge" rounded="sm">
      <Input size="xs" bg="raised" maxLength={500} aria-label="Cited in full" {...long} />
      <Input size="xs" bg="raised" maxLength={500} aria-label="Cited in short" placeholder="In short, if so" mt="1" {...short} />
      <Flex gap="1" mt="1" wrap="wrap" align="center">
        <Choice name="Category" value={authority.category} choices={report.categories.map(({ id, name }) => [id, name] as const)} set={(category) => void change({ category })} />
        {cited.length > 0 && all.length > 1 && (
          <Choice
            name="The same as"
            value=""
            choices={[["", "the same as …"], ...all.filter(({ id }) => id !== authority.id).map(({ id, long }) => [id, long.slice(0, 60)] as const)]}
            set={join}
          />
        )}
        <Press type="button" aria-expanded={finding} onClick={() => setFinding(!finding)}>
          Find more places
        </Press>
        {cited.length > 0 ? (
          <Press type="button" color="gone" onClick={takeOff}>
            Take its marks off
          </Press>
        ) : (
          <Press type="button" color="gone" onClick={() => void forget()}>
            Forget it
          </Press>
        )}
      </Flex>
      {finding && <CitationForm editor={writer} report={report} room={room} given={authority} goTo={goTo} notify={notify} done={() => setFinding(false)} />}
    </Box>
  );
}

const Show = (given: PanelProps) => (
  <PlacesPanel>
    <Authorities {...given} view={useRoom(given.room, "view")} />
  </PlacesPanel>
);

export const authorities: Panel = { key: "authorities", group: "Tables", name: "Authorities", Show };
