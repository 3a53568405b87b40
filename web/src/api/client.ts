/** Calls of the HTTP API, typed from its OpenAPI description. */
import type { ElementOf, Plan } from "./plan";
export type { Plan } from "./plan";
import type { components } from "./schema";

export type Session = components["schemas"]["Session"];
export type Person = components["schemas"]["Person"];
export type Card = components["schemas"]["Card"];
export type ReportShown = components["schemas"]["ReportShown"];
export type StyleShown = components["schemas"]["StyleShown"];
export type PageShown = components["schemas"]["PageShown"];
export type Copied = components["schemas"]["Copied"];
export type Authority = components["schemas"]["AuthorityShown"];
export type AuthorityValues = Partial<Omit<Authority, "id">>;
export type CitationRule = components["schemas"]["CitationRule"];
export type See = components["schemas"]["SeeShown"];
export type ToFind = components["schemas"]["ToFind"];
export type FoundWords = components["schemas"]["FoundShown"];
export type Candidate = components["schemas"]["Candidate"];
export type ProofShown = components["schemas"]["Proof"];
export type PartShown = components["schemas"]["PartShown"];
export type PartChange = Partial<components["schemas"]["PartChange"]>;
export type LabelShown = components["schemas"]["LabelShown"];
export type LevelNumber = components["schemas"]["LevelNumberShown"];
export type HouseSheet = components["schemas"]["HouseSheetShown"];
export interface Departure {
  path: string[];
  /** Name of the style; empty for numbers and pages. */
  style: string;
  here: unknown;
  there: unknown;
  rule: string;
}
/** A ready-made scheme, or other settings for one level. */
export type NumberingChange =
  | { scheme: "none" | "decimal" | "outline" | "legal" | "chapters"; appendix: boolean }
  | { level: number; appendix: boolean; values: Partial<LevelNumber> };
export type ToMark = components["schemas"]["ToMark"];
export type MarkingPlan = Omit<components["schemas"]["MarkingPlan"], "plan"> & { plan: Plan };
export type RemedyPlan = Omit<components["schemas"]["RemedyPlan"], "plan"> & { plan: Plan };
export type LookRule = components["schemas"]["LookRule"];
export type Family = components["schemas"]["Family"];
export type Told = components["schemas"]["ToldShown"];
/** What of a report is taken away. */
export type Extent = "all" | "tables" | "section" | "part";
/** The formats in which it is, by the ending of their files. */
export type Format = "pdf" | "docx" | "html" | "md" | "txt";
export type Job = components["schemas"]["JobShown"];
export type Summary = components["schemas"]["Summary"];
export type StoredPicture = components["schemas"]["StoredPicture"];
export type Pasted = Omit<components["schemas"]["Pasted"], "blocks"> & { blocks: readonly ElementOf[] };
export type ReadToInsert = components["schemas"]["ReadToInsert"];
export type ToRearrange = Pick<components["schemas"]["ToRearrange"], "sections" | "do"> & Partial<components["schemas"]["ToRearrange"]>;
export type Landing = components["schemas"]["Landing"];
export type SectionsPlan = Omit<components["schemas"]["SectionsPlan"], "plan"> & { plan: Plan };
export type HappenedSince = components["schemas"]["HappenedSince"];
export type Happened = components["schemas"]["HappenedShown"];
export type BackPlan = Omit<components["schemas"]["BackPlan"], "plan"> & { plan: Plan };
export type News = components["schemas"]["News"];
export type ToSearch = components["schemas"]["ToSearch"];
export type FoundInText = components["schemas"]["Found"];
export type HitInText = components["schemas"]["HitShown"];
export type ReplacementPlan = Omit<components["schemas"]["ReplacementPlan"], "plan"> & { plan: Plan };
export type Scope = components["schemas"]["CatchUp"]["scope"];
export type TableDone = components["schemas"]["Done"];
export type TableResult = components["schemas"]["Result"];
export type TableForm = components["schemas"]["FormShown"];
export type TableChange = components["schemas"]["ChangeShown"];

/** A setting by its path, and the value that it is to have. */
type Setting = readonly [path: readonly string[], value: unknown];

/** The server turned a request down; the message is a sentence for the person. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

const cookie = (name: string) =>
  document.cookie
    .split("; ")
    .find((part) => part.startsWith(`${name}=`))
    ?.slice(name.length + 1) ?? "";

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const form = body instanceof FormData;
  let response: Response;
  try {
    response = await fetch(`/api/${path}`, {
      method,
      headers: {
        "X-CSRFToken": cookie("csrftoken"),
        ...(body === undefined || form ? {} : { "Content-Type": "application/json" }),
      },
      body: body === undefined ? undefined : form ? body : JSON.stringify(body),
    });
  } catch {
    throw new Refused("The server cannot be reached; check the connection and try again.", 0);
  }
  if (response.status === 204) return undefined as T;
  const text = await response.text();
  let data: unknown = null;
  try {
    data = JSON.parse(text);
  } catch {
    // Not JSON: the status says enough.
  }
  if (!response.ok) {
    const message = (data as { message?: string } | null)?.message;
    throw new Refused(message ?? `The server could not do this (${response.status}); try again.`, response.status);
  }
  return data as T;
}

const part = encodeURIComponent;
const tablePath = (report: string, table: string) => `reports/${part(report)}/tables/${part(table)}`;

function withFile(file: File): FormData {
  const form = new FormData();
  form.append("file", file);
  return form;
}

export const api = {
  session: () => call<Session>("GET", "session"),
  signIn: (name: string, password: string) => call<Session>("POST", "session", { name, password }),
  signOut: () => call<Session>("DELETE", "session"),
  people: () => call<Person[]>("GET", "people"),
  addPerson: (name: string, full_name: string, password: string) =>
    call<Person>("POST", "people", { name, full_name, password }),
  shelf: () => call<Card[]>("GET", "reports"),
  startReport: (title: string) => call<{ key: string }>("POST", "reports", { title }),
  report: (key: string) => call<ReportShown>("GET", `reports/${part(key)}`),
  rename: (key: string, title: string) => call<{ title: string }>("PATCH", `reports/${part(key)}`, { title }),
  alike: (key: string, block: string) => call<{ ids: string[] }>("GET", `reports/${part(key)}/alike/${part(block)}`),
  planToMarkAlike: (key: string, block: string, style: string) =>
    call<Plan>("POST", `reports/${part(key)}/plans/mark-alike`, { block, style }),
  changeStyle: (key: string, id: string, values: Partial<StyleShown>, as_base: readonly string[]) =>
    call<undefined>("PATCH", `reports/${part(key)}/styles/${part(id)}`, { values, as_base }),
  makeStyle: (key: string, name: string, like: string) => call<{ id: string }>("POST", `reports/${part(key)}/styles`, { name, like }),
  /** With `ask` it is only asked whether the style can be deleted; fails with the reason if not. */
  deleteStyle: (key: string, id: string, instead: string, ask = false) =>
    call<undefined>("DELETE", `reports/${part(key)}/styles/${part(id)}?instead=${part(instead)}${ask ? "&ask=true" : ""}`),
  renumber: (key: string, change: NumberingChange) => call<undefined>("PATCH", `reports/${part(key)}/numbering`, change),
  changeLabel: (key: string, id: string, values: Partial<LabelShown>) =>
    call<undefined>("PATCH", `reports/${part(key)}/labels/${part(id)}`, values),
  likelyCategory: (report: string, words: string) => call<components["schemas"]["Likely"]>("POST", `reports/${report}/likely-category`, { words }),
  makeAuthorities: (key: string, values: readonly Omit<Authority, "id">[]) => call<{ id: string }[]>("POST", `reports/${part(key)}/authorities`, values),
  changeAuthority: (key: string, id: string, values: AuthorityValues & { was?: AuthorityValues }) =>
    call<undefined>("PATCH", `reports/${part(key)}/authorities/${part(id)}`, values),
  forgetAuthority: (key: string, id: string) => call<undefined>("DELETE", `reports/${part(key)}/authorities/${part(id)}`),
  makeCategory: (key: string, name: string) => call<{ id: string }>("POST", `reports/${part(key)}/categories`, { name }),
  forgetCategory: (key: string, id: string) => call<undefined>("DELETE", `reports/${part(key)}/categories/${part(id)}`),
  saveCitationRules: (key: string, rules: readonly CitationRule[]) => call<undefined>("PUT", `reports/${part(key)}/citation-rules`, rules),
  saveSee: (key: string, see: See) => call<undefined>("PUT", `reports/${part(key)}/sees`, see),
  forgetSee: (key: string, see: See) => call<undefined>("POST", `reports/${part(key)}/sees/forget`, see),
  findWords: (key: string, wanted: ToFind) => call<FoundWords[]>("POST", `reports/${part(key)}/find`, wanted),
  unmarkedCitations: (key: string) => call<Candidate[]>("GET", `reports/${part(key)}/unmarked`),
  makeLabel: (key: string, name: string) => call<{ id: string }>("POST", `reports/${part(key)}/labels`, { name }),
  changePage: (key: string, values: Partial<PageShown>) => call<undefined>("PATCH", `reports/${part(key)}/page`, values),
  proof: (key: string, first: number, last: number) => call<ProofShown>("GET", `reports/${part(key)}/proof?first=${first}&last=${last}`),
  changePart: (key: string, id: string, change: PartChange) => call<undefined>("PATCH", `reports/${part(key)}/parts/${part(id)}`, change),
  takeBack: (key: string) => call<{ what: string; left: number }>("POST", `reports/${part(key)}/sheet/take-back`),
  houseSheets: () => call<HouseSheet[]>("GET", "house-sheets"),
  saveHouseSheet: (key: string, name: string) => call<HouseSheet>("POST", `reports/${part(key)}/house-sheet`, { name }),
  forgetHouseSheet: (house: string) => call<undefined>("DELETE", `house-sheets/${part(house)}`),
  departures: (key: string, house: string) => call<Departure[]>("GET", `reports/${part(key)}/house-sheets/${part(house)}`),
  giveHouseSheet: (key: string, house: string, paths: readonly (readonly string[])[] | null) =>
    call<undefined>("POST", `reports/${part(key)}/house-sheets/${part(house)}`, { paths }),
  planSections: (key: string, wanted: ToRearrange) => call<SectionsPlan>("POST", `reports/${part(key)}/plans/sections`, wanted),
  planSplit: (key: string, block: string, offset: number) =>
    call<{ plan: Plan; first: string }>("POST", `reports/${part(key)}/plans/split`, { block, offset }),
  planDuplicate: (key: string, section: string) =>
    call<{ plan: Plan; first: string }>("POST", `reports/${part(key)}/plans/duplicate`, { section }),
  /** What happened since a time (ISO 8601); without one, since one was last here, and nothing if nobody else wrote. */
  happened: (key: string, since?: string) =>
    call<HappenedSince>("GET", `reports/${part(key)}/happened?${since === undefined ? "but_mine=true" : `since=${encodeURIComponent(since)}`}`),
  removedSection: (key: string, section: string) =>
    call<{ paragraphs: [level: number, words: string][] }>("GET", `reports/${part(key)}/removed/${part(section)}`),
  planBack: (key: string, section: string, after: string | null) => call<BackPlan>("POST", `reports/${part(key)}/plans/back`, { section, after }),
  planKept: (key: string, rows: readonly number[], after: string | null) => call<BackPlan>("POST", `reports/${part(key)}/plans/kept`, { rows, after }),
  settleKept: (key: string, rows: readonly number[], settled: boolean) =>
    call<undefined>("POST", `reports/${part(key)}/kept/settle`, { rows, settled }),
  planToMoveLevel: (key: string, level: number, to: number) =>
    call<Plan>("POST", `reports/${part(key)}/plans/move-level`, { level, to }),
  planToGiveStyle: (key: string, style: string, instead: string) =>
    call<Plan>("POST", `reports/${part(key)}/plans/give-style`, { style, instead }),
  restyle: (key: string, block: string, values: Partial<StyleShown>) =>
    call<Plan>("POST", `reports/${part(key)}/plans/restyle`, { block, values }),
  planBackToStyle: (key: string, what: { style: string } | { block: string }) =>
    call<Plan>("POST", `reports/${part(key)}/plans/back-to-style`, what),
  planToMarkLooks: (key: string, given: ToMark) => call<MarkingPlan>("POST", `reports/${part(key)}/plans/mark-looks`, given),
  lookRules: (key: string) => call<{ rules: LookRule[] }>("GET", `reports/${part(key)}/look-rules`),
  saveLookRules: (key: string, rules: readonly LookRule[]) =>
    call<undefined>("PUT", `reports/${part(key)}/look-rules`, { rules }),
  search: (key: string, wanted: ToSearch) => call<FoundInText>("POST", `reports/${part(key)}/search`, wanted),
  planReplacement: (key: string, wanted: ToSearch & { places: readonly (readonly [string, number])[] | null }) =>
    call<ReplacementPlan>("POST", `reports/${part(key)}/plans/replace`, wanted),
  planRemedy: (key: string, kind: string, places: readonly string[]) =>
    call<RemedyPlan>("POST", `reports/${part(key)}/plans/remedy`, { kind, places }),
  setAside: (key: string, findings: readonly string[], reason: string) =>
    call<undefined>("POST", `reports/${part(key)}/findings/aside`, { findings, reason }),
  takeUp: (key: string, findings: readonly string[]) =>
    call<undefined>("POST", `reports/${part(key)}/findings/take-up`, { findings }),
  catchUp: (key: string, table: string, scope: Scope, lines: readonly string[]) =>
    call<TableDone>("POST", `${tablePath(key, table)}/catch-up`, { scope, lines }),
  catchUpAll: (key: string) => call<{ changes: Record<string, number> }>("POST", `reports/${part(key)}/catch-up`),
  resultOfCatchingUp: (key: string, table: string, scope: Scope, lines: readonly string[]) =>
    call<TableResult>("POST", `${tablePath(key, table)}/result`, { scope, lines }),
  previewRecipe: (key: string, table: string, settings: readonly Setting[]) =>
    call<TableResult>("POST", `${tablePath(key, table)}/preview`, { settings }),
  changeRecipe: (key: string, table: string, settings: readonly Setting[]) =>
    call<TableDone>("POST", `${tablePath(key, table)}/recipe`, { settings }),
  tableForms: (key: string, table: string) => call<TableForm[]>("GET", `${tablePath(key, table)}/forms`),
  chooseForm: (key: string, table: string, form: string) => call<TableDone>("POST", `${tablePath(key, table)}/form`, { form }),
  saveForm: (key: string, table: string, name: string, everywhere: boolean) =>
    call<undefined>("POST", `${tablePath(key, table)}/forms`, { name, everywhere }),
  deleteForm: (key: string, form: string) => call<undefined>("DELETE", `reports/${part(key)}/forms/${part(form)}`),
  setOwnWords: (key: string, table: string, source: string, words: string | null) =>
    call<TableDone>("POST", `${tablePath(key, table)}/words`, { source, words }),
  useHeadingWords: (key: string, table: string, source: string) =>
    call<TableDone>("POST", `${tablePath(key, table)}/heading-words`, { source }),
  keepLevel: (key: string, table: string, keeps_level: boolean) =>
    call<undefined>("POST", `${tablePath(key, table)}/keeps-level`, { keeps_level }),
  tableHistory: (key: string, table: string) => call<TableChange[]>("GET", `${tablePath(key, table)}/history`),
  takeTableChangeBack: (key: string, table: string, change: number) =>
    call<undefined>("POST", `${tablePath(key, table)}/take-back`, { change }),
  bringIn: (file: File) => call<Job>("POST", "imports", withFile(file)),
  addPicture: (key: string, file: File) => call<StoredPicture>("POST", `reports/${part(key)}/pictures`, withFile(file)),
  readClipboard: (key: string, html: string, keep: "structure" | "looks") =>
    call<Pasted>("POST", `reports/${part(key)}/clipboard?keep=${keep}`, withFile(new File([html], "pasted.html"))),
  copy: (key: string, token: string, blocks: readonly ElementOf[]) =>
    call<Copied>("POST", `reports/${part(key)}/copies/${part(token)}`, withFile(new File([JSON.stringify(blocks)], "copied.json"))),
  copyLines: (key: string, table: string, lines: readonly string[]) => call<Copied>("POST", `${tablePath(key, table)}/copies`, { lines }),
  pasteCopy: (key: string, token: string, moves: boolean) => call<Pasted>("POST", `reports/${part(key)}/copies/${part(token)}/paste`, { moves }),
  readToInsert: (key: string, file: File) => call<Job>("POST", `reports/${part(key)}/insertions`, withFile(file)),
  lookAtInsertion: (key: string, job: string, after: string) =>
    call<ReadToInsert>("POST", `reports/${part(key)}/insertions/${part(job)}/look`, { after }),
  planInsertion: (key: string, job: string, after: string, level: number | null) =>
    call<{ plan: Plan; first: string }>("POST", `reports/${part(key)}/insertions/${part(job)}`, { after, level }),
  /** What of the report a file in a format will not have as it is. */
  toldOfFile: (key: string, ending: Format, what: Extent, of: string) =>
    call<Told[]>("GET", `reports/${part(key)}/files/${part(ending)}?what=${what}&of=${part(of)}`),
  beginFile: (key: string, ending: Format, what: Extent, of: string) =>
    call<Job>("POST", `reports/${part(key)}/files/${part(ending)}?what=${what}&of=${part(of)}`),
  job: (key: string) => call<Job>("GET", `jobs/${part(key)}`),
  cancel: (key: string) => call<Job>("DELETE", `jobs/${part(key)}`),
  fileOf: (job: string) => `/api/jobs/${part(job)}/file`,
  typefaces: (key: string) => call<Family[]>("GET", `reports/${part(key)}/typefaces`),
  bringInTypeface: (key: string, file: File) => call<Family[]>("POST", `reports/${part(key)}/typefaces`, withFile(file)),
  takeOutTypeface: (key: string, face: string) => call<Family[]>("DELETE", `reports/${part(key)}/typefaces/${part(face)}`),
  /** The address of the file of a face that the report has of its own. */
  typeface: (key: string, face: string) => `/api/reports/${part(key)}/typefaces/${part(face)}/file`,
  picture: (key: string, source: string) => `/api/reports/${part(key)}/pictures/${part(source)}`,
};
